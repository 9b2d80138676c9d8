// The tasks of a session in order; pause, again and skip are handled here, stop is passed on.

import { runBlock } from "./block.js";
import * as flags from "./flags.js";
import { Interrupted } from "./interrupt.js";
import * as questions from "./questions.js";
import { checkOnce } from "./mic_check.js";
import { reference } from "./reference.js";
import { ask, goOn, lines, show } from "./screens.js";
import { filled, gettext } from "../../ui/js/words.js";

const root = document.querySelector("[data-player]");

/** Shows the advice for this client's cautions before a long session. */
async function showAdvice(practice) {
  const { advice = [] } = practice.plan;
  if (!advice.length || practice.isQuick) return;
  show("before", gettext("Before you begin"), ...lines(advice));
  await goOn(gettext("Ready"), {
    seconds: practice.readingTime(advice.join(" ")),
    counts: true,
    interrupted: practice.interrupt.now,
  });
}

/** The quick question before the first sound, asked until answered, also after a reload. */
async function askSafety(practice) {
  if (practice.progress.safe) return;
  await showAdvice(practice);
  const flag = await flags.safety(practice);
  await practice.saveProgress({ ...practice.progress, safe: true });
  if (!flag) return;
  if (practice.plan.flags[flag].ends) throw new Interrupted("stop", { flag });
  practice.stops.say({ flags: [flag], session: practice.session.key });
  show("thanks", practice.plan.flags[flag].advice);
  await goOn(gettext("Continue"), { interrupted: practice.interrupt.now });
}

/** Runs the remaining tasks of the session. */
export async function runTasks(practice) {
  const blocks = new Map(practice.plan.blocks.map((block) => [block.id, block]));
  practice.extra = practice.session.sort === "extra";
  practice.interrupt.arm();
  await askSafety(practice);
  if (!practice.progress.asked) await withKeys(practice, (mine) => checkOnce(mine));
  if (
    practice.plan.needs_reference &&
    !practice.progress.asked &&
    !practice.plan.clinic &&
    practice.source.kind !== "stopwatch"
  ) {
    await withKeys(practice, (mine) => reference(mine));
    await practice.saveProgress({ ...practice.progress, asked: true });
  }
  while (practice.progress.place < practice.progress.order.length) {
    const [id, again] = practice.progress.order[practice.progress.place];
    const block = blocks.get(id);
    const { place: before, order } = practice.progress;
    const here = filled(
      again ? gettext("task {number} of {count}, once more") : gettext("task {number} of {count}"),
      { number: before + 1, count: order.length },
    );
    let outcome = "left_out"; // No more loud work today.
    if (!(block.loud && practice.day.loudOver))
      outcome = await withKeys(
        practice,
        (mine, midway) => runBlock(mine, block, here, practice.progress.at, midway),
        block,
      );
    const { done = 0, skipped = 0, place } = practice.progress;
    await practice.saveProgress({
      ...practice.progress,
      place: place + 1,
      at: { turn: 0, try: 0 },
      done: done + Number(outcome === "done"),
      skipped: skipped + Number(outcome === "skipped"),
    });
    if (await offerEnd(practice)) break;
  }
}

/** Once the day's maximum of voicing is reached, the session offers its end, once. */
async function offerEnd(practice) {
  const { place, order, offered } = practice.progress;
  if (!practice.day.isFull || offered || practice.plan.clinic || place >= order.length) return false;
  await practice.saveProgress({ ...practice.progress, offered: true });
  practice.interrupt.arm();
  const choice = await ask(
    "enough",
    gettext("That is enough voice for today"),
    [
      { value: "end", words: gettext("End session"), first: true },
      { value: "on", words: gettext("Continue the session") },
    ],
    {
      above: lines([
        filled(
          gettext(
            "You have used your voice for {value} minutes today. If you end now, the session counts as done.",
          ),
          { value: Math.round(practice.plan.voiced.cap_s / 60) },
        ),
      ]),
      interrupted: practice.interrupt.now,
    },
  );
  return choice === "end";
}

/** Runs a part of the session; pause, again and skip are handled here, stop is passed on. */
async function withKeys(practice, part, block = null) {
  for (let midway = false; ; midway = true) {
    try {
      practice.interrupt.arm();
      root.dataset.inTask = "";
      await Promise.race([part(practice.forPart(), midway), practice.interrupt.now]);
      return "done";
    } catch (reason) {
      practice.closing?.();
      if (!(reason instanceof Interrupted) || ["stop", "elsewhere"].includes(reason.what)) throw reason;
      if (await handleTurn(practice, reason.what, block)) return "skipped";
    } finally {
      delete root.dataset.inTask;
      delete document.body.dataset.state;
    }
  }
}

/** The action of Pause, Again or Skip, whichever was pressed; true if the part is skipped. */
async function handleTurn(practice, what, block) {
  for (let next = what; ;) {
    practice.interrupt.arm();
    root.dataset.inTask = "";
    try {
      if (next === "pause") {
        show(
          "pause",
          gettext("Paused"),
          ...lines([gettext("Take your time. The try you paused is not saved.")]),
        );
        await goOn(gettext("Continue"), { interrupted: practice.interrupt.now });
      } else if (next === "again" && practice.progress.at.try > 0) {
        await practice.reached({ ...practice.progress.at, try: practice.progress.at.try - 1 });
      } else if (next === "skip" && block) {
        await practice.mark("skipped", await questions.skipReason(practice), block);
        return true;
      }
      return false;
    } catch (reason) {
      if (!(reason instanceof Interrupted) || reason.what === "stop") throw reason;
      if (reason.what === next) return false; // Pressed again: back to the part.
      next = reason.what;
    }
  }
}
