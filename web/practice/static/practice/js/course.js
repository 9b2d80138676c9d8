// Draws the pitch of a glide or a pattern live, over the notes to follow.

import { HeardPitch } from "../../sound/js/heard_pitch.js";
import { Reveal } from "../../sound/js/reveal.js";

const FRAME_S = 0.01;
const POINT_FRAMES = 6;

/** Has the same interface as the trace: `clear`, `add` and `hears`. */
export class Course {
  constructor(svg) {
    this.svg = svg;
    this.reveal = new Reveal((shown) => this.draw(shown));
    this.live = svg.querySelector("[data-live]");
    const number = (name) => Number(svg.dataset[name]);
    this.scale = {
      left: number("left"),
      top: number("top"),
      bottom: number("bottom"),
      width: number("width"),
      pxPerS: number("pxPerS"),
      pxPerSt: number("pxPerSt"),
      topCents: number("topCents"),
    };
    this.clear();
  }

  clear() {
    this.pitch = new HeardPitch();
    this.reveal.reset();
    this.live.removeAttribute("d");
  }

  add(cents, hold) {
    this.pitch.add(cents, hold);
    this.reveal.setAvailable(this.pitch.length);
  }

  /** The device's own measurement, ahead of the server's. */
  hears(ear) {
    this.pitch.ear = ear;
    this.reveal.setAvailable(this.pitch.length);
  }

  draw(shown) {
    const hold = this.pitch.currentHold();
    if (hold) this.live.setAttribute("d", this.path(shown, hold));
    else this.live.removeAttribute("d");
  }

  path(shown, hold) {
    const { left, top, bottom, width, pxPerS, pxPerSt, topCents } = this.scale;
    const first = Math.round(hold.start_s / FRAME_S);
    let path = "";
    let down = false;
    for (let at = first; at + POINT_FRAMES <= shown; at += POINT_FRAMES) {
      const middle = this.pitch.point(at, POINT_FRAMES);
      const x = left + (at + POINT_FRAMES / 2 - first) * FRAME_S * pxPerS;
      if (middle === null || x > width) {
        down = false;
        continue;
      }
      const y = Math.max(top, Math.min(bottom, top + ((topCents - middle) / 100) * pxPerSt));
      path += `${down ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`;
      down = true;
    }
    return path;
  }
}
