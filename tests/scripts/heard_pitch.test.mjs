// The pitch in a picture: measured by the server, and beyond that by the device.

import assert from "node:assert/strict";
import { test } from "node:test";

import { HeardPitch } from "../../web/sound/static/sound/js/heard_pitch.js";

const frames = (count, value) => Array(count).fill(value);
const HOLD = { start_s: 0.5, seconds: 3, ended: false, centre_cents: -400 };
/** A device ear with these frames, starting at one frame. */
const ear = (cents, startFrame) => ({
  cents,
  startFrame,
  isSilent: false,
  start_s: startFrame / 100,
  seconds: (cents.length - startFrame) / 100,
});

function measured(cents, hold = HOLD) {
  const pitch = new HeardPitch();
  pitch.add(cents, hold);
  return pitch;
}

test("until the server says, the hold is the device's", () => {
  const pitch = new HeardPitch();
  assert.equal(pitch.currentHold(), null);
  pitch.ear = ear([...frames(50, null), ...frames(30, -390)], 50);
  assert.deepEqual(pitch.currentHold(), { start_s: 0.5, seconds: 0.3, ended: false, centre_cents: -390 });
  pitch.add(frames(60, null), { start_s: null, seconds: 0, ended: false });
  assert.equal(pitch.currentHold().start_s, 0.5);
});

test("what the server has heard and found no voice in is not drawn any more", () => {
  const pitch = measured(frames(180, null), { start_s: null, seconds: 0, ended: false });
  pitch.ear = ear([...frames(50, null), ...frames(140, -390)], 50);
  assert.equal(pitch.currentHold(), null);
});

test("the device's pitch is moved by as much as the two differ, and only beyond what is measured", () => {
  const pitch = measured([...frames(50, null), ...frames(50, -400)]);
  pitch.ear = ear([...frames(50, null), ...frames(80, 800)], 50);
  assert.deepEqual(pitch.points(98, 4), [-400, -400, -400, -400]);
  assert.equal(pitch.length, 130);
});

test("a point of the device gives way to the server's, which stays", () => {
  const pitch = measured(frames(100, -400));
  pitch.ear = ear(frames(112, -380), 50);
  assert.equal(pitch.point(100, 6), -400);
  pitch.add([...frames(2, -300), ...frames(4, -250)], HOLD);
  assert.equal(pitch.point(100, 6), -250);
  pitch.ear = ear(frames(112, 0), 50);
  assert.equal(pitch.point(100, 6), -250);
});

test("a point with fewer than half of its frames is none, and is not one later", () => {
  const pitch = measured([...frames(2, -400), ...frames(4, null), ...frames(3, -400), ...frames(3, null)]);
  assert.equal(pitch.point(0, 6), null);
  assert.equal(pitch.point(0, 6), null);
  assert.equal(pitch.point(6, 6), -400);
});

test("a stem ends where the hold has ended, or where the device hears nothing more", () => {
  const pitch = measured(frames(100, -400));
  pitch.ear = ear(frames(140, -400), 50);
  assert.equal(pitch.lastFrame(HOLD, 1000), 140);
  assert.equal(pitch.lastFrame({ ...HOLD, ended: true, seconds: 0.4 }, 1000), 90);
  assert.equal(pitch.lastFrame(HOLD, 110), 110);
});

test("another voice that comes and goes is told; an even, a wavering and a cracking voice are not", () => {
  const other = [...frames(60, -400), ...frames(30, 300), ...frames(30, -400), ...frames(30, 300)];
  assert.ok(measured([...frames(50, null), ...other]).hasAnother);
  assert.ok(!measured([...frames(50, null), ...frames(150, -400)]).hasAnother);
  const vibrato = Array.from({ length: 150 }, (_, at) => -400 + 120 * Math.sin(at / 3));
  assert.ok(!measured([...frames(50, null), ...vibrato]).hasAnother);
  const crack = [...frames(130, -400), ...frames(20, 800)];
  assert.ok(!measured([...frames(50, null), ...crack]).hasAnother);
});
