// What is asked: the voice today, what is wrong, effort, strain, what was felt; and what follows.

import { after as confirmed } from "./flags.js";
import { ask, button, goOn, lines, make, show } from "./screens.js";

const SCALE = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10].map((value) => ({
  value,
  words: String(value),
  key: String(value % 10),
}));

const SESSION_KEYS = ["b", "g", "h", "j", "k"];
/** A session that stands beside the main one, and when it is done. */
const named = ({ name, when }) => (when ? `${name}: ${when}` : name);

/** Today's sessions in one line: what is due of each, and what is done. */
function dayList({ sessions, done_today: done }) {
  const parts = sessions.map(({ name, when, a_day: due, sort }) => {
    const times = (done[sort] ?? 0) + (sort === "full" ? (done.short ?? 0) : 0);
    if (due) return `${name}: ${Math.min(times, due)} of ${due} done`;
    return `${name}${when ? `, ${when}` : ""}${times ? `: ${times} done` : ""}`;
  });
  return `Today: ${parts.join(" · ")}.`;
}

/** How the voice is, which session, and what today asks of it; one press answers it all. */
export async function today(practice) {
  const { plan } = practice;
  let which = plan.sessions[0];
  let sort = which.sort;
  let demands = "";
  const choose = (session, instead = "") => {
    which = session;
    sort = instead || session.sort;
  };
  const toggle = (group, words, key, set) => {
    const made = button(words, {
      key,
      "aria-pressed": "false",
      on: () => {
        const on = made.getAttribute("aria-pressed") !== "true";
        for (const each of group) each.setAttribute("aria-pressed", "false");
        made.setAttribute("aria-pressed", String(on));
        set(on);
      },
    });
    group.push(made);
    return made;
  };
  const sorts = [];
  const asks = [];
  const row = (label, ...buttons) =>
    make("div", { class: "also", role: "group", "aria-label": label }, make("span", {}, label), ...buttons);
  const medication =
    plan.asks_medication &&
    make(
      "label",
      { class: "field" },
      make("span", {}, "Hours since your medication"),
      make("input", { class: "input", inputmode: "decimal", "data-medication": "" }),
    );
  const rest = plan.rest_today
    ? lines(["Today is a rest day in your programme. Nothing is missed; 30 seconds extra does no harm."])
    : [];
  const full = practice.day.isFull
    ? lines(["Your voice has sounded for long enough today. A rest until tomorrow does it good."])
    : [];
  const list =
    plan.sessions.length > 1 ? [make("p", { class: "where", "data-list": "" }, dayList(plan))] : [];
  const answer = ask(
    "today",
    "How is your voice today?",
    Object.entries(plan.voices).map(([value, words], at) => ({ value, words, first: at === 0 })),
    {
      above: [...list, ...rest, ...full],
      below: [
        medication || null,
        row(
          "Instead",
          toggle(sorts, "a short day", "d", (on) => choose(plan.sessions[0], on && "short")),
          ...(practice.day.isFull
            ? []
            : [toggle(sorts, "30 seconds extra", "e", (on) => choose(plan.sessions[0], on && "extra"))]),
          ...plan.sessions
            .slice(1)
            .map((each, at) =>
              toggle(sorts, named(each), SESSION_KEYS[at], (on) => choose(on ? each : plan.sessions[0])),
            ),
        ),
        row(
          "Today asks of it",
          ...[
            ["little", "little", "l"],
            ["usual", "the usual", "u"],
            ["much", "much", "m"],
          ].map(([value, words, key]) => toggle(asks, words, key, (on) => (demands = on ? value : ""))),
        ),
      ].filter(Boolean),
      interrupted: practice.interrupt.now,
    },
  );
  const voice = await answer;
  const hours = Number((document.querySelector("[data-medication]")?.value ?? "").replace(",", ".") || NaN);
  return { voice, sort, which, demands, hours: hours >= 0 && hours <= 72 ? hours : null };
}

/** Bodily effort after a block, apart from hard thinking. */
export async function effort(practice, block) {
  let thinking = false;
  const also = button("It was the thinking that was hard", {
    key: "t",
    "aria-pressed": "false",
    on: () => {
      thinking = !thinking;
      also.setAttribute("aria-pressed", String(thinking));
    },
  });
  const value = await ask("effort", "How hard was that for your body?", SCALE, {
    above: lines(["1 is nothing at all, 10 is as hard as can be."]),
    below: [make("div", { class: "also" }, also)],
    interrupted: practice.interrupt.now,
  });
  await practice.mark("effort", value, block);
  if (!thinking) return;
  const hard = await ask("concentration", "And how hard was the thinking?", SCALE, {
    interrupted: practice.interrupt.now,
  });
  await practice.mark("concentration", hard, block);
}

/** After loud work; a yes ends it for the day. Gives whether strain was said. */
export async function strain(practice, block) {
  const said = await ask(
    "strain",
    "Scratchy, tight or sore?",
    [
      { value: false, words: "No", key: "n", first: true },
      { value: true, words: "Yes", key: "y" },
    ],
    { interrupted: practice.interrupt.now },
  );
  let where = "";
  if (said) {
    where = await ask(
      "where",
      "Where?",
      [
        ...["throat", "jaw", "chest", "belly", "shoulders"].map((value) => ({ value, words: value })),
        { value: "", words: "I can’t say", key: "0" },
      ],
      { above: lines(["No more loud work today."]), interrupted: practice.interrupt.now },
    );
  }
  await practice.mark("strain", { said, where }, block);
  return said;
}

/** The felt check, and what to try when it was not felt. */
export async function felt(practice, block) {
  const answer = await ask(
    "felt",
    block.felt.ask,
    [
      { value: "yes", words: "Yes", key: "y", first: true },
      { value: "not_sure", words: "Not sure", key: "u" },
      { value: "no", words: "No", key: "n" },
    ],
    { interrupted: practice.interrupt.now },
  );
  await practice.mark("felt", answer, block);
  if (answer === "yes") return;
  show("try_next", "Try this next time", ...lines([block.felt.if_not]));
  await goOn("Go on", { interrupted: practice.interrupt.now });
}

/** The rest of what should be known, in plain words, at the end. Gives the flags that were confirmed. */
export function after(practice) {
  const { flags, after: asked } = practice.plan;
  return confirmed(practice, async () => {
    const boxes = asked.map((flag) => make("input", { type: "checkbox", value: flag }));
    show(
      "after",
      "Before you go: is any of this new, or clearly worse?",
      make(
        "div",
        { class: "ticks" },
        ...boxes.map((box) => make("label", {}, box, make("span", {}, flags[box.value].words))),
      ),
    );
    await goOn("None, or those I ticked", { interrupted: practice.interrupt.now });
    return boxes.filter((box) => box.checked).map((box) => box.value);
  });
}

export async function bother(practice) {
  const value = await ask(
    "bother",
    "This week, how much did your voice get in the way?",
    [
      { value: 0, words: "0", key: "0" },
      ...SCALE.map((each) => (each.value === 10 ? { ...each, key: "x" } : each)),
    ],
    {
      above: lines(["0 is not at all, 10 is all the time."]),
      interrupted: practice.interrupt.now,
    },
  );
  await practice.mark("bother", value);
}

export function skipReason(practice) {
  return ask(
    "skip",
    "Skip this one, because",
    Object.entries(practice.plan.skips).map(([value, words]) => ({ value, words })),
    { interrupted: practice.interrupt.now },
  );
}
