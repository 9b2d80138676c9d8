// Whether a room is too loud to find a voice: sound without a pause, nearly as loud as a voice.

import { LevelFrames } from "./level_frames.js";

const FRAME_S = 0.05;
// Longer than any breath or word without a pause; a message appears within three seconds.
const WINDOW_S = 2.5;
// A comfortable voice at 30 cm reaches −30 to −20 dBFS. If the room is closer than 15 dB, neither pitch nor
// edges can be measured (the engine's own limit for levels is 15 dB).
const LOUD_DBFS = -40;
// Fans, traffic and television vary: a tenth of the window can be softer.
const SOFTER_SHARE = 0.1;

export class RoomNoise {
  /** @param {number} rate samples a second */
  constructor(rate) {
    this.frames = new LevelFrames(rate, FRAME_S);
    this.levels = [];
  }

  /** @param {Int16Array} block */
  add(block) {
    this.levels.push(...this.frames.add(block));
    const most = Math.round(WINDOW_S / FRAME_S);
    if (this.levels.length > most) this.levels.splice(0, this.levels.length - most);
  }

  /** Whether the whole window was loud; false while it is not full. */
  get isTooLoud() {
    if (this.levels.length < Math.round(WINDOW_S / FRAME_S)) return false;
    const softer = this.levels.filter((level) => level < LOUD_DBFS).length;
    return softer <= SOFTER_SHARE * this.levels.length;
  }
}
