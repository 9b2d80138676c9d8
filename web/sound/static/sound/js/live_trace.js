// Draws the growing reed: the stem is the server's pitch trace, and its tip, which the server has not
// measured yet, is the device's own.

import { HeardPitch } from "./heard_pitch.js";
import { Reveal } from "./reveal.js";

const FRAME_S = 0.01;
const CLIP_CENTS = 120;
const POINT_FRAMES = 6; // A point is the median of 60 ms: smoothing hides no more than the width of the line.

/** The traces of the stage (a wide and a narrow one), drawn together. */
export class LiveTrace {
  constructor(stage) {
    this.stage = stage;
    this.reveal = new Reveal((shown) => this.draw(shown));
    this.drawings = [...stage.querySelectorAll("[data-live-trace]")].map((svg) => ({
      svg,
      ground: Number(svg.dataset.ground),
      pxPerS: Number(svg.dataset.pxPerS),
      centre: Number(svg.dataset.centre),
      pxPerCent: Number(svg.dataset.pxPerCent),
      plain: "plain" in svg.dataset, // A hiss has no pitch to lean by.
    }));
    this.clear();
  }

  clear() {
    this.pitch = new HeardPitch();
    this.level = null;
    this.reveal.reset();
    this.draw(0);
  }

  add(cents, hold, level = null) {
    this.pitch.add(cents, hold);
    if (cents.length) this.level = level; // A chunk without a complete frame contains no level.
    this.reveal.setAvailable(this.pitch.length);
  }

  /** The device's own measurement, ahead of the server's. */
  hears(ear) {
    this.pitch.ear = ear;
    this.reveal.setAvailable(this.pitch.length);
  }

  draw(shown) {
    for (const drawing of this.drawings) {
      if (shown && !drawing.svg.getClientRects().length) continue; // The other shape is visible.
      const live = drawing.svg.querySelector("[data-live]");
      const hold = this.pitch.currentHold();
      if (!hold) live.removeAttribute("d");
      else live.setAttribute("d", this.stem(drawing, shown, hold));
      this.crown(drawing.svg.querySelector("[data-live-head]"), live.getAttribute("d"));
    }
    if (shown) this.stage.dispatchEvent(new CustomEvent("drawn", { detail: shown }));
  }

  /** The head: full for a level inside its band, half below, open above; none if not judged. */
  crown(head, path) {
    if (!head) return;
    const tip = path?.match(/([\d.]+) ([\d.]+)$/);
    head.toggleAttribute("hidden", !tip || !this.level);
    if (!tip || !this.level) return;
    head.setAttribute(
      "class",
      `head head-${{ within: "full", under: "half", over: "open" }[this.level.head]}`,
    );
    head.setAttribute("transform", `translate(${tip[1]} ${tip[2]})`);
  }

  stem(drawing, shown, hold) {
    const first = Math.round(hold.start_s / FRAME_S);
    const last = this.pitch.lastFrame(hold, shown);
    const pxPerS = this.scaled(drawing, (last - first) * FRAME_S);
    if (drawing.plain) {
      const top = (drawing.ground - (last - first) * FRAME_S * pxPerS).toFixed(1);
      return `M${drawing.centre} ${drawing.ground}L${drawing.centre} ${top}`;
    }
    let path = "";
    let down = false;
    for (let at = first; at + POINT_FRAMES <= last; at += POINT_FRAMES) {
      const middle = this.pitch.point(at, POINT_FRAMES);
      if (middle === null) {
        down = false;
        continue;
      }
      const cents = Math.max(-CLIP_CENTS, Math.min(CLIP_CENTS, middle - hold.centre_cents));
      const x = drawing.centre + cents * drawing.pxPerCent;
      const y = drawing.ground - (at + POINT_FRAMES / 2 - first) * FRAME_S * pxPerS;
      path += `${down ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`;
      down = true;
    }
    return path;
  }

  /** A hold taller than the picture scales everything down and never leaves it. */
  scaled(drawing, seconds) {
    const room = drawing.ground - 14;
    const pxPerS = Math.min(drawing.pxPerS, room / Math.max(seconds, 0.1));
    if (drawing.scaledTo === pxPerS) return pxPerS;
    drawing.scaledTo = pxPerS;
    const shrunk = pxPerS / drawing.pxPerS;
    for (const scene of drawing.svg.querySelectorAll("[data-scene]")) {
      const down = drawing.ground * (1 - shrunk);
      scene.setAttribute("transform", `translate(0 ${down}) scale(1 ${shrunk})`);
    }
    for (const mark of drawing.svg.querySelectorAll("[data-at-s]")) {
      const y = drawing.ground - Number(mark.dataset.atS) * pxPerS;
      mark.setAttribute("transform", `translate(0 ${y})`);
    }
    return pxPerS;
  }
}
