// What the device leads but does not hear: counted breaths, repetitions, minutes, a count, a list.

import { ask, button, goOn, lines, make, say, show, wait } from "./screens.js";
import { tick } from "./sounds.js";

/** Leads one set and gives its figures. */
export function lead(practice, block, words) {
  const how = { counted, reps, timed, count, checklist }[block.measure] ?? reps;
  return how(practice, block, words);
}

const head = (block, words) => [
  make("p", { class: "where", "data-progress": "" }, words),
  ...lines(block.lines),
];

async function counted(practice, block, words) {
  const { told } = block;
  const number = make("span", { class: "count", "aria-hidden": "true" }, "");
  const tide = make("div", { class: "tide" }, make("div", { class: "level" }));
  show(
    "counted",
    block.name,
    ...head(block, words),
    make("div", { class: "breathing" }, tide, make("p", {}, number)),
  );
  let enough = false;
  let breaths = 0;
  goOn("That is enough", { interrupted: practice.interrupt.now, first: false }).then(
    () => (enough = true),
    () => {},
  );
  const beat = told.beat_s * practice.pace;
  for (; breaths < told.cycles && !enough; breaths++) {
    for (const [way, counts] of [
      ["In", told.in],
      ["Out", told.out],
    ]) {
      say(`${way}, ${counts}. Breath ${breaths + 1} of ${told.cycles}`);
      for (let at = 1; at <= counts && !enough; at++) {
        if (told.ticks) tick();
        number.textContent = `${way} ${at}`;
        tide.firstChild.style.height = `${100 * (way === "In" ? at / counts : 1 - at / counts)}%`;
        await wait(beat, practice.interrupt.now);
      }
    }
  }
  const felt = await ask(
    "air",
    "After the last breath",
    [
      { value: "left", words: "Air was left" },
      { value: "just", words: "Just used up" },
      { value: "ran_out", words: "Ran out early" },
    ],
    { interrupted: practice.interrupt.now },
  );
  await practice.mark("breath", felt, block);
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
      button("−", { key: "arrowdown", "aria-label": "one fewer", on: () => change(-1) }),
      number,
      button("+", { key: "arrowup", "aria-label": "one more", on: () => change(1) }),
      make("span", {}, "times"),
    ),
  );
  say(`${done} times, at your own pace. Press when you are done.`);
  await goOn("Done", { interrupted: practice.interrupt.now });
  return { reps: done };
}

async function timed(practice, block, words) {
  const whole = block.told.seconds * (practice.extra ? Math.min(1, 30 / block.told.seconds) : 1);
  const left = make("span", { class: "count", "data-left": "" }, clock(whole));
  show("timed", block.name, ...head(block, words), make("p", {}, left));
  say(`${clock(whole)}, counting down`);
  const begun = performance.now();
  const gone = () => (performance.now() - begun) / 1000;
  const ticking = setInterval(() => (left.textContent = clock(Math.max(0, whole - gone()))), 250);
  try {
    await goOn("Done", { seconds: whole, interrupted: practice.interrupt.now, first: false });
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
      make("span", {}, block.told.lower ? "How many did it take? Fewer is better." : "How many?"),
      field,
    ),
    trouble,
  );
  for (;;) {
    await goOn("Keep it", { interrupted: practice.interrupt.now });
    const value = Number(field.value.replace(",", "."));
    if (field.value.trim() && value >= 0 && value <= 100000) return { count: value };
    trouble.hidden = false;
    trouble.textContent = "Type a number, such as 6.";
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
  );
  await goOn("Done", { interrupted: practice.interrupt.now });
  return { ticks: boxes.filter((box) => box.checked).map((box) => box.value) };
}
