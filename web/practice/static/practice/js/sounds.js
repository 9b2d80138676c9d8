// Sounds that the device plays: reference tones and beats, made from a description, and the model of a line.
// Nothing here waits longer than a sound can last: a sleeping output or an endless voice is skipped.

import { audioContext, withTimeout } from "../../sound/js/recorder.js";

const MS_A_WORD = 900;
const HARMONICS = 12; // Small loudspeakers hardly play the fundamental of a low note: the ear infers it from these.
const FADE_S = 0.05;
const PEAK = 0.45;
const SOON_S = 0.06;
const TICK_S = 0.05;
const waves = new Map();

function waveOf(context, hz) {
  const count = Math.min(HARMONICS, Math.floor((0.45 * context.sampleRate) / hz));
  if (!waves.has(count)) {
    const sines = Float32Array.from({ length: count + 1 }, (_, at) => (at ? 1 / at : 0));
    waves.set(count, context.createPeriodicWave(new Float32Array(count + 1), sines));
  }
  return waves.get(count);
}

function note(context, out, hz, at, seconds) {
  const gain = new GainNode(context, { gain: 0 });
  const sound = new OscillatorNode(context, { frequency: hz });
  sound.setPeriodicWave(waveOf(context, hz));
  sound.connect(gain).connect(out);
  const fade = Math.min(FADE_S, seconds / 3);
  gain.gain.setValueAtTime(0, at);
  gain.gain.linearRampToValueAtTime(PEAK, at + fade);
  gain.gain.setValueAtTime(PEAK, at + seconds - fade);
  gain.gain.linearRampToValueAtTime(0, at + seconds);
  sound.start(at);
  sound.stop(at + seconds);
}

/**
 * Plays tones, [Hz or null for a rest, seconds] each, to the end: "played" or "asleep". Rejects at once when
 * `stopped` does.
 */
export async function playTone(line, stopped) {
  const context = await Promise.race([audioContext().catch(() => null), stopped]);
  if (!context) return "asleep";
  const out = new GainNode(context, { gain: 1 });
  out.connect(context.destination);
  let at = context.currentTime + SOON_S;
  for (const [hz, seconds] of line) {
    if (hz) note(context, out, hz, at, seconds);
    at += seconds;
  }
  try {
    await until(at, context, stopped);
    return context.state === "running" ? "played" : "asleep";
  } finally {
    out.disconnect();
  }
}

/** Waits until the sound's clock reaches a time; rejects when `stopped` does. */
function until(at, context, stopped) {
  let timer;
  const over = new Promise((resolve) => {
    timer = setTimeout(resolve, Math.max(0, 1000 * (at - context.currentTime)));
  });
  return Promise.race([over, stopped]).finally(() => clearTimeout(timer));
}

function tick(context, out, at, first) {
  const beat = new OscillatorNode(context, { frequency: first ? 1600 : 1200 });
  const soft = new GainNode(context, { gain: 0 });
  beat.connect(soft).connect(out);
  soft.gain.setValueAtTime(0.15, at);
  soft.gain.exponentialRampToValueAtTime(0.001, at + TICK_S);
  beat.start(at);
  beat.stop(at + TICK_S + 0.01);
}

/**
 * Plays beats, each shown by `each` as it falls; `sounds` says which of them tick. `at` is the time of the
 * first one by the sound's clock, now by default. Without an output they are only shown.
 * @param {{count: number, beat_s: number, each: (number: number) => void, stopped: Promise<any>,
 * sounds?: (number: number) => boolean, at?: number}} how
 */
export async function beats({ count, beat_s, each, stopped, sounds = () => true, at = undefined }) {
  const context = await Promise.race([audioContext().catch(() => null), stopped]);
  const now = () => (context ? context.currentTime : performance.now() / 1000);
  const first = at ?? now() + SOON_S;
  const out = context && new GainNode(context, { gain: 1 });
  out?.connect(context.destination);
  const due = (number) => first + (number - 1) * beat_s;
  let number = 0;
  let over = false;
  stopped.catch(() => (over = true));
  try {
    while (number < count) {
      number += 1;
      // One ahead: closing the output cancels beats that are not due yet.
      if (out && sounds(number)) tick(context, out, Math.max(due(number), now()), number === 1);
      await until(due(number), { currentTime: now() }, stopped);
      if (over) return;
      each(number);
    }
    await until(due(count + 1), { currentTime: now() }, stopped);
  } finally {
    out?.disconnect();
  }
}

/** Speaks a line with the device's own voice; false if it has none. Rejects when `stopped` does. */
export async function sayModel(words, stopped) {
  const speech = window.speechSynthesis;
  if (!speech || !speech.getVoices().length) return false;
  const spoken = new Promise((resolve) => {
    const utterance = new SpeechSynthesisUtterance(words);
    utterance.lang = document.documentElement.lang;
    utterance.rate = 0.9;
    utterance.onend = () => resolve(true);
    utterance.onerror = () => resolve(false);
    speech.speak(utterance);
  });
  try {
    const longest = 4000 + MS_A_WORD * words.split(/\s+/).length;
    return await Promise.race([withTimeout(spoken, longest, "Late").catch(() => false), stopped]);
  } finally {
    speech.cancel();
  }
}
