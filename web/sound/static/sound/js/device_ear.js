// The device's own measurement of a sound as it comes: that there is sound, since when, and a rough pitch. It
// draws the picture until the clinic's measurement arrives, and ends a try without a network. It judges
// nothing: results come from the clinic alone.

import { decibels } from "./level_frames.js";

const FRAME_S = 0.01;
const HOP_FRAMES = 2; // A new level and pitch every 20 ms.
const WINDOW_S = 0.046; // Three periods of the lowest voice.
const LOWEST_HZ = 65;
const HIGHEST_HZ = 1100;
const WORKING_HZ = 12000;
// Minimum autocorrelation of a periodic sound at its period; noise is lower (Boersma, 1993, Proc. Inst.
// Phonetic Sciences 17, 97-110, takes 0.45 for voicing; drawing noise is worse than drawing nothing).
const PERIODIC = 0.6;
// The first peak nearly as high as the highest is the period, not a multiple of it.
const FIRST_PEAK = 0.9;
// A comfortable voice at 30 cm reaches -30 to -20 dBFS; softer sound is ignored.
const LEAST_DBFS = -50;
const ABOVE_ROOM_DB = 10;
// A held sound stays within this of its loudest part.
const BELOW_LOUDEST_DB = 20;
const BEGINS_FRAMES = 8;
const ENDS_FRAMES = 20;

const cents = (hz) => 1200 * Math.log2(hz / 440);

export class DeviceEar {
  /** @param {number} rate samples a second @param {{pitched?: boolean}} of whether the sound has a pitch */
  constructor(rate, { pitched = true } = {}) {
    this.pitched = pitched;
    this.hop = Math.round(FRAME_S * HOP_FRAMES * rate);
    this.step = Math.max(1, Math.floor(rate / WORKING_HZ));
    this.workingHz = rate / this.step;
    this.window = new Float32Array(Math.round((WINDOW_S + 1 / LOWEST_HZ) * this.workingHz));
    /** @type {(number | null)[]} rough pitch, cents above 440 Hz, one a frame of 10 ms */
    this.cents = [];
    this.power = this.count = this.sum = this.parts = 0;
    this.room = Infinity;
    /** Level of the loudest part of the current sound. */
    this.loudest = -Infinity;
    this.active = this.quiet = 0;
    /** @type {number | null} frame at which the sound began */
    this.startFrame = null;
    /** Frames of sound since then, and of silence since the last of them. */
    this.soundFrames = this.silentFrames = 0;
  }

  /** Seconds into the recording at which the sound began; null before it. */
  get start_s() {
    return this.startFrame === null ? null : this.startFrame * FRAME_S;
  }

  /** Seconds from its beginning to its last sounding frame. */
  get seconds() {
    return this.startFrame === null ? 0 : (this.cents.length - this.silentFrames - this.startFrame) * FRAME_S;
  }

  /** Seconds of sound, without its pauses. */
  get sounding_s() {
    return this.soundFrames * FRAME_S;
  }

  get silent_s() {
    return this.startFrame === null ? 0 : this.silentFrames * FRAME_S;
  }

  /** @param {Int16Array} block */
  add(block) {
    for (const sample of block) {
      const value = sample / 32768;
      this.power += value * value;
      this.sum += value;
      this.parts += 1;
      if (this.parts === this.step) {
        this.window.copyWithin(0, 1);
        this.window[this.window.length - 1] = this.sum / this.step;
        this.sum = this.parts = 0;
      }
      this.count += 1;
      if (this.count === this.hop) {
        this.frame(decibels(this.power / this.hop));
        this.power = this.count = 0;
      }
    }
  }

  /** One level and pitch, for each frame of a hop. */
  frame(level) {
    const hz = this.pitched && level > LEAST_DBFS ? this.roughPitch() : null;
    const sounds = this.isSound(level) && (!this.pitched || hz !== null || this.startFrame !== null);
    for (let each = 0; each < HOP_FRAMES; each++) {
      this.cents.push(hz === null ? null : cents(hz));
      this.follow(sounds);
    }
    if (this.startFrame === null && !sounds) this.room = Math.min(this.room, level);
    if (this.startFrame !== null) this.loudest = Math.max(this.loudest, level);
  }

  isSound(level) {
    if (this.startFrame !== null && level < this.loudest - BELOW_LOUDEST_DB) return false;
    return level > LEAST_DBFS && level > (this.room === Infinity ? LEAST_DBFS : this.room) + ABOVE_ROOM_DB;
  }

  follow(sounds) {
    if (this.startFrame === null) {
      this.active = sounds ? this.active + 1 : 0;
      if (this.active < BEGINS_FRAMES) return;
      this.startFrame = this.cents.length - this.active;
      this.soundFrames = this.active;
      return;
    }
    if (sounds) {
      this.soundFrames += 1;
      this.silentFrames = 0;
    } else this.silentFrames += 1;
  }

  /** Whether the sound has ended: silent for longer than a stop consonant lasts. */
  get isSilent() {
    return this.startFrame !== null && this.silentFrames >= ENDS_FRAMES;
  }

  /** A pitch by autocorrelation; null if nothing is periodic. */
  roughPitch() {
    const { window, workingHz } = this;
    const longest = Math.floor(workingHz / LOWEST_HZ);
    const shortest = Math.floor(workingHz / HIGHEST_HZ);
    const size = window.length - longest;
    let own = 0;
    for (let i = 0; i < size; i++) own += window[i] ** 2;
    if (own === 0) return null;
    const scores = new Float32Array(longest + 1);
    let other = 0;
    for (let i = 0; i < size; i++) other += window[i + shortest] ** 2;
    let highest = 0;
    for (let lag = shortest; lag <= longest; lag++) {
      let both = 0;
      for (let i = 0; i < size; i++) both += window[i] * window[i + lag];
      scores[lag] = other > 0 ? both / Math.sqrt(own * other) : 0;
      highest = Math.max(highest, scores[lag]);
      if (lag < longest) other += window[lag + size] ** 2 - window[lag] ** 2;
    }
    if (highest < PERIODIC) return null;
    for (let lag = shortest + 1; lag < longest; lag++) {
      const [before, at, after] = [scores[lag - 1], scores[lag], scores[lag + 1]];
      if (at < FIRST_PEAK * highest || at < before || at < after) continue;
      const bend = before - 2 * at + after;
      return workingHz / (lag + (bend ? (0.5 * (before - after)) / bend : 0));
    }
    return null;
  }
}
