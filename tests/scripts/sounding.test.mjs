// The sounding time of a recording on the device: without lead-in, gaps and silence at the end.

import assert from "node:assert/strict";
import { test } from "node:test";

import { soundingSeconds } from "../../web/sound/static/sound/js/sounding.js";

const RATE = 16000;
const tone = (seconds, amplitude) =>
  Int16Array.from({ length: Math.round(seconds * RATE) }, (_, at) =>
    Math.round(32767 * amplitude * Math.sin((2 * Math.PI * 200 * at) / RATE)),
  );
const recorded = (...parts) => parts.map(([seconds, amplitude]) => ({ block: tone(seconds, amplitude) }));

test("lead-in, silence and the room do not count", () => {
  const blocks = recorded([1.5, 0.005], [5, 0.3], [0.6, 0.005], [2, 0.2], [3, 0.005]);
  assert.ok(Math.abs(soundingSeconds(blocks, RATE) - 7) <= 0.1);
});

test("a hold that softens counts to its end", () => {
  const blocks = recorded([1, 0], [2, 0.3], [2, 0.15], [2, 0.06], [1, 0]);
  assert.ok(Math.abs(soundingSeconds(blocks, RATE) - 6) <= 0.1);
});

test("where nothing stands out there is no figure", () => {
  assert.equal(soundingSeconds(recorded([4, 0.001]), RATE), null);
  assert.equal(soundingSeconds([], RATE), null);
});
