// The water level in the picture of a try shows today's target.

/** Hide a number of the scale if it is nearer to the mark than this share of the height. */
import { filled, gettext } from "../../ui/js/words.js";
const NEAR = 0.06;

/** Moves the surface, its mark and the spoken label to a number of seconds, in each drawing of a stage. */
export function aimAt(stage, seconds) {
  for (const svg of stage.querySelectorAll("[data-live-trace]")) {
    const { ground, pxPerS } = svg.dataset;
    const y = Number(ground) - seconds * Number(pxPerS);
    const put = (chosen, values) => {
      for (const [name, value] of Object.entries(values))
        svg.querySelector(chosen)?.setAttribute(name, value);
    };
    put(".surface", { y1: y, y2: y });
    put(".water", { y, height: Number(ground) - y });
    put("[data-aim]", { "data-at-s": seconds, transform: `translate(0 ${y})` });
    const tooNear = NEAR * (Number(ground) / Number(pxPerS));
    for (const tick of svg.querySelectorAll("[data-at-s]:not([data-aim])"))
      if (Math.abs(Number(/** @type {SVGElement} */ (tick).dataset.atS) - seconds) <= tooNear) tick.remove();
    const mark = svg.querySelector("[data-aim] text");
    const rest = mark.textContent.replace(/^[\d.]+ s/, "");
    mark.textContent = `${seconds} s${rest}`;
    const spoken = svg
      .getAttribute("aria-label")
      .replace(/^The target is [\d.]+/, filled(gettext("The target is {seconds}"), { seconds }));
    svg.setAttribute("aria-label", spoken);
  }
}
