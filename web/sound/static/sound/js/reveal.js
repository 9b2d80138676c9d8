// Frames arrive in batches; they are drawn one by one in the rhythm of the sound, at the screen's rate.

const FRAME_MS = 10;
const MOST_BEHIND = 4; // frames: if more wait than this, show them at once
// 30 pictures a second look continuous; 60 took a third more of the processor (0.40 against 0.30 of a core).
const DRAW_MS = 24;

/** Calls `draw(shown)` at every other screen refresh while there are frames to draw. */
export class Reveal {
  constructor(draw) {
    this.draw = draw;
    this.reset();
  }

  reset() {
    this.shown = 0;
    this.have = 0;
  }

  /** Number of frames that have arrived. */
  setAvailable(have) {
    this.have = have;
    if (this.running) return;
    this.running = true;
    this.last = this.drawn = performance.now();
    requestAnimationFrame((now) => this.step(now));
  }

  step(now) {
    if (now - this.drawn < DRAW_MS) return requestAnimationFrame((next) => this.step(next));
    this.drawn = now;
    const flowed = this.shown + Math.max(0, now - this.last) / FRAME_MS;
    this.last = now;
    this.shown = Math.min(this.have, Math.max(flowed, this.have - MOST_BEHIND));
    this.draw(Math.floor(this.shown));
    if (this.shown >= this.have) this.running = false;
    else requestAnimationFrame((next) => this.step(next));
  }
}
