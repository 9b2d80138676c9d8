// The pictures of a try.

import { LiveTrace } from "../../sound/js/live_trace.js";
import { Course } from "./course.js";
import { make } from "./screens.js";

/** The picture that a try draws live, if it has one. */
export const drawingOf = (stage) => {
  const course = stage.querySelector("[data-course]");
  if (course) return new Course(course);
  return stage.querySelector("[data-live-trace]") ? new LiveTrace(stage) : null;
};

/** The instructions and a small picture, for the duration of the try. */
export function visibleInstructions(block) {
  const parts = [];
  if (block.lines.length) parts.push(make("span", {}, block.lines.join(" ")));
  if (block.drawing) parts.push(make("img", { src: block.drawing, alt: "" }));
  const kept = block.picture
    ? [make("img", { class: "picture", src: block.picture.url, alt: block.picture.alt })]
    : [];
  return parts.length || kept.length
    ? [make("div", { class: "kept-in-view", "data-kept": "" }, ...parts), ...kept]
    : [];
}
