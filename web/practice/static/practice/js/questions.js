// Questions during and after a session: effort, strain, the felt check; and their consequences.

import { after as confirmed } from "./flags.js";
import { face, stones } from "./child_pictures.js";
import { ask, button, goOn, lines, make, show } from "./screens.js";
import { gettext } from "../../ui/js/words.js";

const SCALE = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10].map((value) => ({
  value,
  words: String(value),
  key: String(value % 10),
}));

/** Effort in a child's words and pictures, on the same scale. */
const childScale = () =>
  [
    [1, gettext("Very easy")],
    [3, gettext("Easy")],
    [5, gettext("A bit hard")],
    [8, gettext("Hard")],
    [10, gettext("Very hard")],
  ].map(([value, words], at) => ({ value, words, key: String(at + 1), picture: stones(at + 1) }));

/** Hands free, an optional question continues after this long. */
export const ANSWERS_WITHIN_S = 8;

/** Physical effort after a block, or after several similar ones; not mental effort. */
export async function effort(practice, blocks, title = gettext("How hard was that for your body?")) {
  let thinking = false;
  const also = button(gettext("The thinking was hard"), {
    key: "t",
    "aria-pressed": "false",
    on: () => {
      thinking = !thinking;
      also.setAttribute("aria-pressed", String(thinking));
    },
  });
  const { is_child: isChild } = practice.plan;
  const scale = isChild ? childScale() : SCALE;
  const ends = isChild ? [] : lines([gettext("1 is no effort, 10 is the most effort.")]);
  const words = isChild ? gettext("How hard was that?") : title;
  const value = await ask("effort", words, scale, {
    above: ends,
    below: isChild ? [] : [make("div", { class: "also" }, also)],
    interrupted: practice.interrupt.now,
  });
  for (const block of blocks) await practice.mark("effort", value, block);
  if (!thinking) return;
  const hard = await ask("concentration", gettext("And how hard was the thinking?"), SCALE, {
    interrupted: practice.interrupt.now,
  });
  for (const block of blocks) await practice.mark("concentration", hard, block);
}

/** Hands free, the effort of the whole session, asked once; for soft and loud tasks separately. */
export async function askSessionEffort(practice) {
  const ids = practice.progress.unrated ?? [];
  const blocks = practice.plan.blocks.flatMap((block) => [block, block.or]).filter((each) => each);
  const done = ids.map(({ id, name }) => blocks.find((each) => each.id === id && each.name === name));
  const soft = done.filter((block) => block && !block.loud);
  const loud = done.filter((block) => block?.loud);
  if (soft.length) {
    const title = loud.length
      ? gettext("How hard were the quiet tasks for your body?")
      : gettext("How hard was today for your body?");
    await effort(practice, soft, title);
  }
  if (loud.length) {
    const title = soft.length
      ? gettext("How hard were the loud tasks for your body?")
      : gettext("How hard was today for your body?");
    await effort(practice, loud, title);
  }
}

/** After loud work; a yes ends loud work for the day. Returns whether strain was reported. */
export async function strain(practice, block) {
  const hasStrain = await ask(
    "strain",
    gettext("Scratchy, tight or sore?"),
    [
      { value: false, words: gettext("No"), key: "n", first: true },
      { value: true, words: gettext("Yes"), key: "y" },
    ],
    { interrupted: practice.interrupt.now },
  );
  let where = "";
  if (hasStrain) {
    where = await ask(
      "where",
      gettext("Where?"),
      [
        { value: "throat", words: gettext("throat") },
        { value: "jaw", words: gettext("jaw") },
        { value: "chest", words: gettext("chest") },
        { value: "belly", words: gettext("belly") },
        { value: "shoulders", words: gettext("shoulders") },
        { value: "", words: gettext("I can’t say"), key: "0" },
      ],
      { above: lines([gettext("No more loud tasks today.")]), interrupted: practice.interrupt.now },
    );
  }
  await practice.mark("strain", { said: hasStrain, where }, block);
  return hasStrain;
}

/** The felt check, and what to try if it was not felt. */
export async function felt(practice, block) {
  const drawn = (mood) => (practice.plan.is_child ? face(mood) : null);
  const answer = await ask(
    "felt",
    block.felt.ask,
    [
      { value: "yes", words: gettext("Yes"), key: "y", first: true, picture: drawn("happy") },
      { value: "not_sure", words: gettext("Not sure"), key: "u", picture: drawn("unsure") },
      { value: "no", words: gettext("No"), key: "n", picture: drawn("sad") },
    ],
    // Hands free it can stay without an answer.
    {
      seconds: practice.handsFree ? ANSWERS_WITHIN_S * practice.pace : 0,
      interrupted: practice.interrupt.now,
    },
  );
  if (answer === null) return;
  await practice.mark("felt", answer, block);
  if (answer === "yes") return;
  show("try_next", gettext("Try this next time"), ...lines([block.felt.if_not]));
  await goOn(gettext("Continue"), {
    seconds: practice.readingTime(block.felt.if_not),
    counts: true,
    interrupted: practice.interrupt.now,
  });
}

/** Further questions at the end, in plain words. Returns the confirmed flags. */
export function after(practice) {
  const { flags, after: codes } = practice.plan;
  return confirmed(practice, async () => {
    const boxes = codes.map((flag) => make("input", { type: "checkbox", value: flag }));
    show(
      "after",
      gettext("Before you go: is any of this new or clearly worse?"),
      make(
        "div",
        { class: "ticks" },
        ...boxes.map((box) => make("label", {}, box, make("span", {}, flags[box.value].words))),
      ),
    );
    await goOn(gettext("None, or only those I ticked"), { interrupted: practice.interrupt.now });
    return boxes.filter((box) => box.checked).map((box) => box.value);
  });
}

export async function bother(practice) {
  const value = await ask(
    "bother",
    gettext("How much did your voice bother you this week?"),
    [
      { value: 0, words: "0", key: "0" },
      ...SCALE.map((each) => (each.value === 10 ? { ...each, key: "x" } : each)),
    ],
    {
      above: lines([gettext("0 is not at all, 10 is all the time.")]),
      interrupted: practice.interrupt.now,
    },
  );
  await practice.mark("bother", value);
}

export function skipReason(practice) {
  return ask(
    "skip",
    gettext("Skip this task because"),
    Object.entries(practice.plan.skips).map(([value, words]) => ({ value, words })),
    { interrupted: practice.interrupt.now },
  );
}
