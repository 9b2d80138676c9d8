// Tasks that the device leads without measuring: counted breaths, repetitions, minutes, a count, a list.

import { ANSWERS_WITHIN_S } from "./questions.js";
import { ask, button, goOn, lines, make, say, show } from "./screens.js";
import { beats } from "./sounds.js";
import { filled, gettext, ngettext } from "../../ui/js/words.js";

/** Leads one set and returns its figures; `seconds` if its sets rise. */
export function lead(practice, block, words, seconds) {
  return LEADERS[block.told.leads](practice, block, words, seconds);
}

/** The top of a screen; `display` stands above the instruction, so that it is in sight on a small screen. */
const head = (block, words, { display = /** @type {HTMLElement[]} */ ([]) } = {}) => [
  make("p", { class: "where", "data-progress": "" }, words),
  ...display,
  ...lines(block.lines),
];
const pictures = (block) => [
  ...(block.picture
    ? [make("img", { class: "picture", src: block.picture.url, alt: block.picture.alt })]
    : []),
  ...(block.drawing ? [make("img", { class: "drawing drawing-small", src: block.drawing, alt: "" })] : []),
];
const WAYS = {
  in: gettext("In"),
  hold: gettext("Stay"),
  out: gettext("Out"),
  puff: gettext("One last puff"),
};
/** Height of the water in the middle of each direction. */
const LEVELS = { in: (share) => share, hold: () => 1, out: (share) => 1 - share, puff: () => 0 };

async function counted(practice, block, words) {
  const { told } = block;
  const number = make("span", { class: "count", "aria-hidden": "true" }, "");
  const tide = make("div", { class: "tide" }, make("div", { class: "level" }));
  show(
    "counted",
    block.name,
    ...head(block, words, { display: [make("div", { class: "breathing" }, tide, make("p", {}, number))] }),
    ...pictures(block),
  );
  let enough = false;
  let breaths = 0;
  goOn(gettext("That is enough"), { interrupted: practice.interrupt.now, first: false }).then(
    () => (enough = true),
    () => {},
  );
  const stopped = practice.interrupt.now;
  for (; breaths < told.breaths.length && !enough; breaths++) {
    for (const [way, counts] of told.breaths[breaths]) {
      if (enough) break;
      const which = filled(gettext("Breath {breaths} of {count}"), {
        breaths: breaths + 1,
        count: told.breaths.length,
      });
      say(way === "puff" ? WAYS.puff : `${WAYS[way]}, ${counts}. ${which}`);
      await beats({
        count: counts,
        beat_s: told.beat_s, // A slower pace gives longer pauses, never a longer breath.
        stopped,
        sounds: () => !enough,
        each: (at) => {
          number.textContent = `${WAYS[way]} ${at}`;
          /** @type {HTMLElement} */ (tide.firstChild).style.height = `${100 * LEVELS[way](at / counts)}%`;
        },
      });
    }
  }
  const felt = await ask(
    "air",
    gettext("After the last breath"),
    [
      { value: "left", words: gettext("Air was left") },
      { value: "just", words: gettext("Just used up") },
      { value: "ran_out", words: gettext("Ran out early") },
    ],
    {
      seconds: practice.handsFree ? ANSWERS_WITHIN_S * practice.pace : 0,
      interrupted: practice.interrupt.now,
    },
  );
  if (felt !== null) await practice.mark("breath", felt, block);
  return { breaths };
}

async function reps(practice, block, words) {
  let done = block.told?.reps ?? 1;
  const number = make("output", { class: "count", "data-count": "" }, String(done));
  const change = (by) => (number.textContent = String((done = Math.max(0, done + by))));
  show(
    "reps",
    block.name,
    ...head(block, words),
    make(
      "div",
      { class: "stepper" },
      button("−", { key: "arrowdown", "aria-label": gettext("one fewer"), on: () => change(-1) }),
      number,
      button("+", { key: "arrowup", "aria-label": gettext("one more"), on: () => change(1) }),
      make("span", {}, gettext("times")),
    ),
    ...pictures(block),
  );
  const planned = ngettext(
    "{done} time, at your own pace. Press Done when you finish.",
    "{done} times, at your own pace. Press Done when you finish.",
    done,
  );
  say(filled(planned, { done }));
  await goOn(gettext("Done"), { interrupted: practice.interrupt.now });
  return { reps: done };
}

async function timed(practice, block, words, seconds) {
  const planned = seconds ?? block.told.seconds;
  const whole = planned * (practice.extra ? Math.min(1, 30 / planned) : 1);
  const left = make("span", { class: "count", "data-left": "" }, clock(whole));
  const text = (block.read ?? []).map((line) =>
    make(
      "p",
      { class: "say" },
      ...line.map((piece) => make(piece.strong ? "strong" : "span", {}, piece.words)),
    ),
  );
  show(
    "timed",
    block.name,
    ...head(block, words, { display: [make("p", {}, left)] }),
    ...text,
    ...pictures(block),
  );
  say(filled(gettext("{clock}, counting down"), { clock: clock(whole) }));
  const begun = performance.now();
  const gone = () => (performance.now() - begun) / 1000;
  const ticking = setInterval(() => (left.textContent = clock(Math.max(0, whole - gone()))), 250);
  try {
    await goOn(gettext("Done"), { seconds: whole, interrupted: practice.interrupt.now, first: false });
  } finally {
    clearInterval(ticking);
  }
  return { minutes: Math.round((Math.min(whole, gone()) / 60) * 100) / 100 };
}

const clock = (seconds) => `${Math.floor(seconds / 60)}:${String(Math.round(seconds % 60)).padStart(2, "0")}`;

async function count(practice, block, words) {
  const field = make("input", {
    class: "input",
    inputmode: "numeric",
    id: "count",
    "aria-describedby": "count-trouble",
  });
  const trouble = make("p", { class: "error", id: "count-trouble", role: "alert", hidden: true });
  show(
    "count",
    block.name,
    ...head(block, words),
    make(
      "label",
      { class: "field", for: "count" },
      make(
        "span",
        {},
        block.told.lower ? gettext("How many did you need? Fewer is better.") : gettext("How many?"),
      ),
      field,
    ),
    trouble,
    ...pictures(block),
  );
  for (;;) {
    await goOn(gettext("Save"), { interrupted: practice.interrupt.now });
    const value = Number(field.value.replace(",", "."));
    if (field.value.trim() && value >= 0 && value <= 100000) return { count: value };
    trouble.hidden = false;
    trouble.textContent = gettext("Type a number, such as 6.");
    field.focus();
  }
}

async function checklist(practice, block, words) {
  const boxes = block.told.items.map((item) => make("input", { type: "checkbox", value: item }));
  show(
    "checklist",
    block.name,
    ...head(block, words),
    make(
      "div",
      { class: "ticks" },
      ...boxes.map((box) => make("label", {}, box, make("span", {}, box.value))),
    ),
    ...pictures(block),
  );
  await goOn(gettext("Done"), { interrupted: practice.interrupt.now });
  return { ticks: boxes.filter((box) => box.checked).map((box) => box.value) };
}

/** By the unit that is counted, as the programme's plan names it. */
const LEADERS = { breaths: counted, repetitions: reps, number: count, items: checklist, nothing: timed };
