// Frames arrive in batches; the picture shows them in the rhythm of the sound, a few at a time.

const FRAME_MS = 10;
const MOST_BEHIND = 4; // frames: if more wait than this, show them at once
// The pictures have a point every 60 ms, so drawing more often shows nothing new and drains an old phone.
const DRAW_MS = 40;

/** Calls `draw(shown)` about 20 times a second while there are frames to draw. */
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
    this.last = performance.now();
    this.drawNext();
  }

  drawNext() {
    setTimeout(() => requestAnimationFrame((now) => this.step(now)), DRAW_MS);
  }

  step(now) {
    const flowed = this.shown + Math.max(0, now - this.last) / FRAME_MS;
    this.last = now;
    this.shown = Math.min(this.have, Math.max(flowed, this.have - MOST_BEHIND));
    this.draw(Math.floor(this.shown));
    if (this.shown >= this.have) this.running = false;
    else this.drawNext();
  }
}
