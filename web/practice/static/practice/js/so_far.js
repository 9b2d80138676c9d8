// The end of a session: today next to the last time and the first week, the days, and the clinic's message.

import { button, lines, make } from "./screens.js";
import { filled, gettext, ngettext } from "../../ui/js/words.js";

const READS_MS = 8000;
const SVG = "http://www.w3.org/2000/svg";
const WIDTH = 420;
const HEIGHT = 190;
const GROUND = 150;
const TOP = 26;

/** Practice so far, from the clinic; null without a network. */
export async function readSoFar() {
  try {
    const answer = await fetch("/practice/progress/", { signal: AbortSignal.timeout(READS_MS) });
    return answer.ok ? await answer.json() : null;
  } catch {
    return null;
  }
}

function drawn(name, attributes, words = "") {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, String(value));
  element.textContent = words;
  return element;
}

const middle = (values) => {
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 ? sorted[half] : (sorted[half - 1] + sorted[half]) / 2;
};

/** Stems for the first week, the last time and today, on one scale, over the water of the target. */
function stems(parts, target, spoken) {
  const tallest = Math.max(1, target ?? 0, ...parts.map(([, seconds]) => seconds));
  const y = (seconds) => GROUND - (seconds * (GROUND - TOP)) / (1.1 * tallest);
  const svg = drawn("svg", { class: "reeds so-far", viewBox: `0 0 ${WIDTH} ${HEIGHT}`, role: "img" });
  svg.setAttribute("aria-label", spoken);
  if (target) {
    const top = y(target);
    svg.append(drawn("rect", { class: "water", x: 0, y: top, width: WIDTH, height: GROUND - top }));
    svg.append(drawn("line", { class: "surface", x1: 0, x2: WIDTH, y1: top, y2: top }));
  }
  parts.forEach(([label, seconds], at) => {
    const x = (WIDTH * (at + 0.5)) / parts.length;
    svg.append(
      drawn("path", { class: "stem", d: `M${x} ${GROUND}V${y(seconds)}` }),
      drawn("text", { x, y: y(seconds) - 8, "text-anchor": "middle" }, seconds.toFixed(1)),
      drawn("text", { x, y: GROUND + 28, "text-anchor": "middle", class: "faint" }, label),
    );
  });
  svg.append(drawn("line", { class: "ground", x1: 0, x2: WIDTH, y1: GROUND, y2: GROUND }));
  return svg;
}

/** One picture and one sentence about the first task held today. */
export function endPicture(soFar, held) {
  const [task] = Object.keys(held).filter((key) => held[key].length);
  const before = soFar?.held[task];
  if (!before) return [];
  const today = Math.round(10 * middle(held[task])) / 10;
  const parts = [
    [gettext("first week"), before.first_week_s],
    [gettext("last time"), before.last_s],
    [gettext("today"), today],
  ].filter(([, seconds]) => seconds !== null);
  const sentence =
    before.last_s === null
      ? filled(gettext("Your usual hold today: {today} s."), { today: today.toFixed(1) })
      : filled(gettext("Your usual hold today: {today} s. Last time: {last} s. First week: {first} s."), {
          today: today.toFixed(1),
          last: before.last_s.toFixed(1),
          first: before.first_week_s.toFixed(1),
        });
  return [
    make("p", { class: "where" }, before.title),
    stems(parts, before.target_s, sentence),
    make("p", { class: "lead", "data-so-far": "" }, sentence),
  ];
}

/** Days with practice among the last ones; today counts if anything was done. */
export function practisedDays(soFar, done) {
  if (!soFar) return [];
  const today = soFar.days.at(-1) || done > 0;
  const days = soFar.days.slice(0, -1).filter(Boolean).length + Number(today);
  return lines([
    filled(
      ngettext("You practised on {days} of {all} days.", "You practised on {days} of {all} days.", days),
      { days, all: soFar.days.length },
    ),
  ]);
}

/** The clinician's message, and one answer to it. */
export function messageFromClinic(practice, soFar, session) {
  const message = soFar?.message;
  if (!message) return [];
  const paragraph = make(
    "section",
    { class: "clinic-message", "data-message": "" },
    make(
      "p",
      { class: "where" },
      filled(gettext("{name} wrote on {day}:"), { name: message.by, day: message.on }),
    ),
    make("p", { class: "lead" }, message.text),
  );
  if (message.is_answered) return [paragraph];
  const box = make("textarea", { class: "input w-full", rows: "2", maxlength: "500", id: "answer" });
  const send = button(gettext("Send answer"), {
    "data-answer": "",
    on: async () => {
      const words = box.value.trim();
      if (!words) return box.focus();
      send.disabled = true;
      const entry = { ...practice.entry("mark"), session, mark: "answer", task: null };
      await practice.put({ ...entry, value: { message: message.pk, words } });
      message.is_answered = true;
      paragraph.append(
        make("p", { role: "status" }, gettext("Your answer is saved. Your clinician will see it.")),
      );
      send.remove();
      box.disabled = true;
    },
  });
  paragraph.append(
    make("label", { class: "field", for: "answer" }, make("span", {}, gettext("Your answer")), box),
    make("div", {}, send),
  );
  return [paragraph];
}
