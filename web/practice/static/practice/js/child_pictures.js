// Pictures for a child: effort as stones to carry, and the felt check as a face.

const SVG = "http://www.w3.org/2000/svg";
const SIZE = 64;
const MOUTHS = { happy: "M20 38Q32 52 44 38", unsure: "M20 44H44", sad: "M20 48Q32 36 44 48" };
/** Position of each stone: the pile grows upwards. */
const HEAP = [
  [32, 54],
  [12, 54],
  [52, 54],
  [22, 38],
  [42, 38],
];

function picture(...shapes) {
  const svg = document.createElementNS(SVG, "svg");
  svg.setAttribute("viewBox", `0 0 ${SIZE} ${SIZE}`);
  svg.setAttribute("class", "child-picture");
  svg.setAttribute("aria-hidden", "true"); // The label next to it says the same.
  for (const [name, attributes] of shapes) {
    const shape = document.createElementNS(SVG, name);
    for (const [key, value] of Object.entries(attributes)) shape.setAttribute(key, String(value));
    svg.append(shape);
  }
  return svg;
}

/** One to five stones. */
export const stones = (count) =>
  picture(...HEAP.slice(0, count).map(([cx, cy]) => ["ellipse", { cx, cy, rx: 10, ry: 8, class: "stone" }]));

/** @param {"happy" | "unsure" | "sad"} mood */
export const face = (mood) =>
  picture(
    ["circle", { cx: 32, cy: 32, r: 28, class: "face" }],
    ["circle", { cx: 23, cy: 26, r: 3, class: "stone" }],
    ["circle", { cx: 41, cy: 26, r: 3, class: "stone" }],
    ["path", { d: MOUTHS[mood], class: "face" }],
  );
