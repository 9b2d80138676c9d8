// Frames come in rounds; they are drawn one after another as they sounded, at the screen's own pace.

const FRAME_MS = 10;
const MOST_BEHIND = 4; // frames: what waits longer than this is shown at once

/** Calls `draw(shown)` at each picture of the screen while there are frames that have not been drawn. */
export class Reveal {
  constructor(draw) {
    this.draw = draw;
    this.reset();
  }

  reset() {
    this.shown = 0;
    this.have = 0;
  }

  /** So many frames are here by now. */
  upTo(have) {
    this.have = have;
    if (this.running) return;
    this.running = true;
    this.last = performance.now();
    requestAnimationFrame((now) => this.step(now));
  }

  step(now) {
    const flowed = this.shown + Math.max(0, now - this.last) / FRAME_MS;
    this.last = now;
    this.shown = Math.min(this.have, Math.max(flowed, this.have - MOST_BEHIND));
    this.draw(Math.floor(this.shown));
    if (this.shown >= this.have) this.running = false;
    else requestAnimationFrame((next) => this.step(next));
  }
}
