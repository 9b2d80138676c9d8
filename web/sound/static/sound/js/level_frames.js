// Levels of an incoming sound, frame by frame.

export const decibels = (power) => 10 * Math.log10(Math.max(power, 1e-12));

export class LevelFrames {
  /** @param {number} rate samples a second @param {number} seconds length of a frame */
  constructor(rate, seconds) {
    this.size = Math.round(seconds * rate);
    this.power = this.count = 0;
  }

  /**
   * The levels, dBFS, of the frames that a block completes.
   * @param {Int16Array} block
   */
  add(block) {
    const levels = [];
    for (const sample of block) {
      this.power += (sample / 32768) ** 2;
      this.count += 1;
      if (this.count < this.size) continue;
      levels.push(decibels(this.power / this.size));
      this.power = this.count = 0;
    }
    return levels;
  }
}
