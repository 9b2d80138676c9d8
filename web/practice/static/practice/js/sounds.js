// What the device plays: reference tones, fetched once and kept, and the model of a line. Nothing here is
// waited for longer than it can last: an output that is asleep, or a voice that never ends, is passed over.

import { audioContext, within } from "../../sound/js/recorder.js";

const FETCHES_MS = 8000;
const BEYOND_ITS_END_MS = 1500;
const MS_A_WORD = 900;
const fetched = new Map();

/** Fetches what the session will play, so that it needs no network later. */
export function fetchTones(blocks) {
  for (const { turns } of blocks) {
    for (const { tone } of turns) if (tone) bytesOf(tone).catch(() => fetched.delete(tone));
  }
}

function bytesOf(url) {
  if (!fetched.has(url)) {
    fetched.set(
      url,
      fetch(url, { signal: AbortSignal.timeout(FETCHES_MS) }).then((response) =>
        response.ok ? response.arrayBuffer() : Promise.reject(new Error("no tone")),
      ),
    );
  }
  return fetched.get(url);
}

/** Plays a tone to its end: "played", "missing" or "asleep". Rejects at once when `stopped` does. */
export async function playTone(url, stopped) {
  let node;
  const playing = (async () => {
    let context;
    try {
      context = await audioContext();
    } catch {
      return "asleep";
    }
    try {
      const bytes = await bytesOf(url);
      node = context.createBufferSource();
      node.buffer = await context.decodeAudioData(bytes.slice(0));
    } catch {
      fetched.delete(url);
      return "missing";
    }
    node.connect(context.destination);
    const over = new Promise((resolve) => node.addEventListener("ended", resolve, { once: true }));
    node.start();
    await within(over, 1000 * node.buffer.duration + BEYOND_ITS_END_MS, "Late").catch(() => {});
    return context.state === "running" ? "played" : "asleep";
  })();
  try {
    return await Promise.race([playing, stopped]);
  } catch (reason) {
    playing.then(
      () => {},
      () => {},
    );
    node?.disconnect();
    throw reason;
  }
}

/** One beat of the metronome; none where the device does not let it sound. */
export async function tick() {
  const context = await audioContext().catch(() => null);
  if (!context) return;
  const beat = new OscillatorNode(context, { frequency: 1200 });
  const soft = new GainNode(context, { gain: 0.15 });
  beat.connect(soft).connect(context.destination);
  soft.gain.exponentialRampToValueAtTime(0.001, context.currentTime + 0.05);
  beat.start();
  beat.stop(context.currentTime + 0.06);
}

/** Says a line with the device's own voice; false where it has none. Rejects when `stopped` does. */
export async function sayModel(words, stopped) {
  const speech = window.speechSynthesis;
  if (!speech || !speech.getVoices().length) return false;
  const spoken = new Promise((resolve) => {
    const said = new SpeechSynthesisUtterance(words);
    said.lang = document.documentElement.lang;
    said.rate = 0.9;
    said.onend = () => resolve(true);
    said.onerror = () => resolve(false);
    speech.speak(said);
  });
  try {
    const longest = 4000 + MS_A_WORD * words.split(/\s+/).length;
    return await Promise.race([within(spoken, longest, "Late").catch(() => false), stopped]);
  } finally {
    speech.cancel();
  }
}
