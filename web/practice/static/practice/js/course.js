// Draws the pitch of a glide or a pattern as it comes, over the notes that are to be followed.

import { Reveal } from "../../sound/js/reveal.js";

const FRAME_S = 0.01;
const POINT_FRAMES = 6;

/** The same door as the trace's: `clear` and `add`. */
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
    this.cents = [];
    this.hold = null;
    this.reveal.reset();
    this.live.removeAttribute("d");
  }

  add(cents, hold) {
    this.cents.push(...cents);
    this.hold = hold;
    this.reveal.upTo(this.cents.length);
  }

  draw(shown) {
    if (this.hold?.start_s != null) this.live.setAttribute("d", this.path(shown));
  }

  path(shown) {
    const { left, top, bottom, width, pxPerS, pxPerSt, topCents } = this.scale;
    const first = Math.round(this.hold.start_s / FRAME_S);
    let path = "";
    let down = false;
    for (let at = first; at + POINT_FRAMES <= shown; at += POINT_FRAMES) {
      const heard = this.cents.slice(at, at + POINT_FRAMES).filter((value) => value !== null);
      const x = left + (at + POINT_FRAMES / 2 - first) * FRAME_S * pxPerS;
      if (heard.length < POINT_FRAMES / 2 || x > width) {
        down = false;
        continue;
      }
      const middle = heard.sort((a, b) => a - b)[heard.length >> 1];
      const y = Math.max(top, Math.min(bottom, top + ((topCents - middle) / 100) * pxPerSt));
      path += `${down ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`;
      down = true;
    }
    return path;
  }
}
