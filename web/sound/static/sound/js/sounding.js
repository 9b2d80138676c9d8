// How long something sounds in a recording, as far as a device can say without the clinic: no pitch, no
// voice, only loudness. Lead-in, silence and the room behind it do not count.

const FRAME_S = 0.05;
// A held sound stays within this of its loudest part; a usable room lies further below it.
const BELOW_LOUDEST_DB = 20;
// Quieter recordings hold nothing that could be told from the room.
const LEAST_DBFS = -50;

const decibels = (power) => 10 * Math.log10(Math.max(power, 1e-12));

/** Seconds of sound; null if nothing stands out. `blocks` are 16-bit samples, in their order. */
export function soundingSeconds(blocks, rate) {
  const size = Math.round(FRAME_S * rate);
  const levels = [];
  let power = 0;
  let count = 0;
  for (const { block } of blocks)
    for (const sample of block) {
      power += (sample / 32768) ** 2;
      count += 1;
      if (count < size) continue;
      levels.push(decibels(power / size));
      power = count = 0;
    }
  const loudest = levels.reduce((most, level) => Math.max(most, level), -Infinity);
  if (loudest < LEAST_DBFS) return null;
  const least = Math.max(loudest - BELOW_LOUDEST_DB, LEAST_DBFS);
  return levels.filter((level) => level >= least).length * FRAME_S;
}
