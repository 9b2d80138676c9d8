// Findings of a microphone check: room, voice, clipping; and the advice for each, in words.

import { LevelFrames } from "./level_frames.js";
import { gettext } from "../../ui/js/words.js";

const FRAME_S = 0.05;
const LEAST_S = 3; // Duration after which the room is known.
// Levels need 15 dB between voice and room, pitch and edges 10 (the engine's limits); the rest is margin.
const CLEAR_DB = 20;
// A comfortable voice at 30 cm reaches -30 to -20 dBFS.
const FAR_DBFS = -40;
const CLIPS = 0.99;
const CLIPPED_SHARE = 0.001;

const share = (values, part) => [...values].sort((a, b) => a - b)[Math.floor(part * (values.length - 1))];

/** Levels of the input. */
export class InputLevels {
  /** @param {number} rate samples a second */
  constructor(rate) {
    this.frames = new LevelFrames(rate, FRAME_S);
    this.levels = [];
    this.clipped = this.samples = 0;
  }

  /** @param {Int16Array} block */
  add(block) {
    this.levels.push(...this.frames.add(block));
    this.samples += block.length;
    this.clipped += block.filter((sample) => Math.abs(sample) >= 32768 * CLIPS).length;
  }

  /** The room, the voice and the share of clipped samples; null while too little was heard. */
  get found() {
    if (this.levels.length * FRAME_S < LEAST_S) return null;
    return {
      room_dbfs: Math.round(share(this.levels, 0.1)),
      voice_dbfs: Math.round(share(this.levels, 0.95)),
      clipped: this.clipped / this.samples > CLIPPED_SHARE,
    };
  }
}

/** The findings in words, each with advice. */
export function wordsFor({ room_dbfs: room, voice_dbfs: voice, clipped }, processed) {
  const words = [];
  if (voice - room < CLEAR_DB && voice > FAR_DBFS)
    words.push(gettext("The room is loud. Turn off fans, music or television, or close the window."));
  else if (voice <= FAR_DBFS)
    words.push(gettext("It hears you only faintly. Come closer, about two hands away."));
  else words.push(gettext("It hears you well."));
  if (clipped) words.push(gettext("The sound is too strong. Move a little farther away."));
  if (processed)
    words.push(gettext("This device changes the sound. Turn off noise removal in its settings, if you can."));
  return words;
}
