// The findings of the microphone check about the room and the voice, and the advice for each.

import assert from "node:assert/strict";
import { test } from "node:test";

import { InputLevels, wordsFor } from "../../web/sound/static/sound/js/input_levels.js";

const RATE = 16000;
const noise = (seconds, amplitude) =>
  Int16Array.from({ length: Math.round(seconds * RATE) }, () =>
    Math.round(32767 * Math.max(-1, Math.min(1, amplitude * (2 * Math.random() - 1)))),
  );

function heard(...parts) {
  const levels = new InputLevels(RATE);
  for (const [seconds, amplitude] of parts) levels.add(noise(seconds, amplitude));
  return levels.found;
}

test("too little sound says nothing", () => assert.equal(heard([1, 0.1]), null));

test("a clear voice in a quiet room is heard well", () => {
  const found = heard([2, 0.001], [2, 0.1]);
  assert.ok(found.voice_dbfs - found.room_dbfs > 30);
  assert.deepEqual(wordsFor(found, false), ["It hears you well."]);
});

test("a loud room, a far voice, a clipped sound and a changed one are each named with what mends it", () => {
  assert.match(wordsFor(heard([3, 0.05], [2, 0.1]), false)[0], /^The room is loud\. Turn off/);
  assert.match(wordsFor(heard([2, 0.0005], [2, 0.008]), false)[0], /Come closer/);
  assert.match(wordsFor(heard([2, 0.001], [2, 4]), false)[1], /too strong\. Move/);
  assert.match(wordsFor(heard([2, 0.001], [2, 0.1]), true)[1], /changes the sound\. Turn off/);
});
