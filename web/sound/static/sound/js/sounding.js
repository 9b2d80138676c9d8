// Sounding time of a recording, measured by the device alone: no pitch, no voice, only loudness. Lead-in,
// silence and the room after it do not count.

import { LevelFrames } from "./level_frames.js";

const FRAME_S = 0.05;
// A held sound stays within this of its loudest part; a usable room is softer.
const BELOW_LOUDEST_DB = 20;
// Softer recordings contain nothing that differs from the room.
const LEAST_DBFS = -50;

/** Seconds of sound; null if nothing stands out. `blocks` are 16-bit samples in order. */
export function soundingSeconds(blocks, rate) {
  const frames = new LevelFrames(rate, FRAME_S);
  const levels = blocks.flatMap(({ block }) => frames.add(block));
  const loudest = levels.reduce((most, level) => Math.max(most, level), -Infinity);
  if (loudest < LEAST_DBFS) return null;
  const least = Math.max(loudest - BELOW_LOUDEST_DB, LEAST_DBFS);
  return levels.filter((level) => level >= least).length * FRAME_S;
}
