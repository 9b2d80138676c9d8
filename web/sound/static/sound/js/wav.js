// 16-bit samples as a WAV file, for sound uploaded afterwards.

const HEADER = 44;

/** A Blob of one channel. */
export function wavOf(blocks, rate) {
  const samples = blocks.reduce((sum, { block }) => sum + block.length, 0);
  const bytes = new ArrayBuffer(HEADER + 2 * samples);
  const view = new DataView(bytes);
  const text = (at, words) =>
    [...words].forEach((letter, place) => view.setUint8(at + place, letter.charCodeAt(0)));
  text(0, "RIFF");
  view.setUint32(4, 36 + 2 * samples, true);
  text(8, "WAVEfmt ");
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true); // PCM
  view.setUint16(22, 1, true); // one channel
  view.setUint32(24, rate, true);
  view.setUint32(28, 2 * rate, true);
  view.setUint16(32, 2, true);
  view.setUint16(34, 16, true);
  text(36, "data");
  view.setUint32(40, 2 * samples, true);
  const data = new Int16Array(bytes, HEADER);
  for (const { from, block } of blocks) data.set(block, from);
  return new Blob([bytes], { type: "audio/wav" });
}
