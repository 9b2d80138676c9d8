// What the device plays: reference tones, fetched once and kept, and the model of a line.

import { audioContext } from "../../sound/js/recorder.js";

const fetched = new Map();

/** Fetches what the session will play, so that it needs no network later. */
export function fetchTones(blocks) {
  for (const { turns } of blocks) {
    for (const { tone } of turns) if (tone) bytesOf(tone).catch(() => fetched.delete(tone));
  }
}

function bytesOf(url) {
  if (!fetched.has(url)) {
    fetched.set(url, fetch(url).then((response) => (response.ok ? response.arrayBuffer() : Promise.reject(new Error("no tone")))));
  }
  return fetched.get(url);
}

/** Plays a tone to its end; false where it cannot be had. `stopped` may cut it short. */
export async function playTone(url, stopped) {
  const context = await audioContext();
  let node;
  try {
    const bytes = await bytesOf(url);
    node = context.createBufferSource();
    node.buffer = await context.decodeAudioData(bytes.slice(0));
  } catch {
    fetched.delete(url);
    return false;
  }
  node.connect(context.destination);
  node.start();
  const over = new Promise((resolve) => node.addEventListener("ended", resolve, { once: true }));
  stopped.catch(() => node.stop());
  await over;
  return true;
}

/** One beat of the metronome. */
export async function tick() {
  const context = await audioContext();
  const beat = new OscillatorNode(context, { frequency: 1200 });
  const soft = new GainNode(context, { gain: 0.15 });
  beat.connect(soft).connect(context.destination);
  soft.gain.exponentialRampToValueAtTime(0.001, context.currentTime + 0.05);
  beat.start();
  beat.stop(context.currentTime + 0.06);
}

/** Says a line with the device's own voice; false where it has none. */
export function sayModel(words, stopped) {
  const speech = window.speechSynthesis;
  if (!speech || !speech.getVoices().length) return Promise.resolve(false);
  return new Promise((resolve) => {
    const said = new SpeechSynthesisUtterance(words);
    said.lang = document.documentElement.lang;
    said.rate = 0.9;
    said.onend = () => resolve(true);
    said.onerror = () => resolve(false);
    stopped.catch(() => {
      speech.cancel();
      resolve(false);
    });
    speech.speak(said);
  });
}
