// A room too loud for a voice is reported within three seconds; talk, breaths and quiet are not.

import assert from "node:assert/strict";
import { test } from "node:test";

import { RoomNoise } from "../../web/sound/static/sound/js/room_noise.js";

const RATE = 16000;
const noise = (seconds, amplitude) =>
  Int16Array.from({ length: Math.round(seconds * RATE) }, () =>
    Math.round(32767 * amplitude * (2 * Math.random() - 1)),
  );

function heard(...parts) {
  const room = new RoomNoise(RATE);
  let toldAt = null;
  let at = 0;
  for (const [seconds, amplitude] of parts)
    for (let done = 0; done < seconds; done += 0.1) {
      room.add(noise(0.1, amplitude));
      at += 0.1;
      if (room.isTooLoud) toldAt ??= at;
    }
  return toldAt;
}

test("a fan nearly as loud as a voice is told within three seconds", () => {
  const told = heard([6, 0.04]);
  assert.ok(told !== null && told <= 3);
});

test("a quiet room is not", () => assert.equal(heard([10, 0.002]), null));

test("words with pauses between them are not", () => {
  const talk = Array.from({ length: 8 }, () => [
    [0.9, 0.2],
    [0.4, 0.002],
  ]).flat();
  assert.equal(heard(...talk), null);
});

test("a fan that is turned off is no longer told", () => {
  const room = new RoomNoise(RATE);
  room.add(noise(4, 0.04));
  assert.ok(room.isTooLoud);
  room.add(noise(1, 0.002));
  assert.ok(!room.isTooLoud);
});
