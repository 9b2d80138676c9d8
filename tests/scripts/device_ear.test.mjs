// The device's own measurement: when a sound begins and ends, and a rough pitch.

import assert from "node:assert/strict";
import { test } from "node:test";

import { DeviceEar } from "../../web/sound/static/sound/js/device_ear.js";

const RATE = 48000;
const BLOCK = 1024;
let phase = 0;

/** A buzz of six harmonics, or noise if no pitch is given, over a faint room. */
function sound(seconds, hz, amplitude) {
  return Int16Array.from({ length: Math.round(seconds * RATE) }, () => {
    phase += (hz ?? 0) / RATE;
    let value = 0.001 * (2 * Math.random() - 1);
    if (hz) for (let n = 1; n <= 6; n++) value += (amplitude / n) * 0.5 * Math.sin(2 * Math.PI * n * phase);
    else value += amplitude * (2 * Math.random() - 1);
    return Math.round(32767 * value);
  });
}

/** Processes the parts block by block, and calls `each` after every block. */
function heard(parts, how = {}, each = () => {}) {
  const ear = new DeviceEar(RATE, how);
  for (const [seconds, hz, amplitude] of parts) {
    const samples = sound(seconds, hz, amplitude);
    for (let at = 0; at < samples.length; at += BLOCK) {
      ear.add(samples.subarray(at, at + BLOCK));
      each(ear);
    }
  }
  return ear;
}

test("a voice is known of within 0.2 s, and its beginning and length are right", () => {
  let known = null;
  const ear = heard(
    [
      [1, 0, 0],
      [5, 174.6, 0.2],
      [1, 0, 0],
    ],
    {},
    (each) => {
      if (each.start_s !== null) known ??= each.cents.length * 0.01;
    },
  );
  assert.ok(known <= 1.2, `known at ${known}`);
  assert.ok(Math.abs(ear.start_s - 1) <= 0.05);
  assert.ok(Math.abs(ear.seconds - 5) <= 0.1);
  assert.ok(ear.isSilent && ear.silent_s > 0.8);
});

for (const hz of [82, 110, 174.6, 349.2, 698.5, 987.8])
  test(`the pitch of ${hz} Hz is found within 30 cents`, () => {
    const ear = heard([
      [0.3, 0, 0],
      [1, hz, 0.2],
    ]);
    const found = ear.cents.slice(50, 110);
    const wanted = 1200 * Math.log2(hz / 440);
    const right = found.filter((value) => value !== null && Math.abs(value - wanted) <= 30).length;
    assert.ok(right >= 0.95 * found.length, `${right} of ${found.length}`);
  });

test("noise is no voice, and is a hiss where one is wanted", () => {
  const parts = [
    [0.5, 0, 0],
    [3, null, 0.1],
    [0.5, 0, 0],
  ];
  assert.equal(heard(parts).start_s, null);
  const hiss = heard(parts, { pitched: false });
  assert.ok(Math.abs(hiss.seconds - 3) <= 0.1);
});

test("pauses are not counted as sound", () => {
  const ear = heard([
    [0.5, 0, 0],
    [2, 200, 0.2],
    [1, 0, 0],
    [2, 200, 0.2],
    [0.5, 0, 0],
  ]);
  assert.ok(Math.abs(ear.seconds - 5) <= 0.1);
  assert.ok(Math.abs(ear.sounding_s - 4) <= 0.15);
});

test("a quiet room is nothing", () => assert.equal(heard([[3, 0, 0]]).start_s, null));
