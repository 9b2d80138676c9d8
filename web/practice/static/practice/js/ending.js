// The end of a session: its last questions, and the entry that it is over.

import * as questions from "./questions.js";
import { endPicture, messageFromClinic, practisedDays } from "./so_far.js";
import { button, lines, make, say, show } from "./screens.js";
import { filled, gettext, ngettext } from "../../ui/js/words.js";

/** Stores the end of the session; a `held` entry is sent only once released. Returns the entry. */
export async function endSession(practice, ending, { held = false } = {}) {
  if (!practice.session) return null;
  const kept = await practice.outbox.put(
    { ...practice.entry("ended"), ending, done: practice.progress?.done ?? 0 },
    { held },
  );
  if (!held) await practice.saveProgress(null);
  return kept;
}

/** The questions at the end, and the last screen. */
export async function finish(practice) {
  practice.interrupt.arm();
  if (practice.progress.unrated?.length) {
    await questions.askSessionEffort(practice);
    await practice.saveProgress({ ...practice.progress, unrated: [] });
  }
  const reported = practice.isQuick ? [] : await questions.after(practice);
  if (reported.length) practice.stops.say({ flags: reported, session: practice.session.key });
  if (practice.plan.asks_bother && !practice.isQuick && !practice.plan.clinic)
    await questions.bother(practice);
  const { done = 0, skipped = 0, held = {} } = practice.progress;
  const { session } = practice;
  await endSession(practice, "done");
  const advice = reported.map((flag) => practice.plan.flags[flag].advice)[0];
  const again = button(gettext("More practice"), {
    on: () => {
      practice.session = null;
      practice.plan.asks_bother = false;
      practice.interrupt.with("restart");
    },
  });
  const sentences = [
    filled(ngettext("{done} task done.", "{done} tasks done.", done), { done }),
    skipped ? filled(gettext("{skipped} skipped. That is fine."), { skipped }) : "",
    advice ?? "",
  ];
  const more = practice.day.isFull
    ? lines([gettext("Your voice has done enough for today.")])
    : [make("div", {}, again)];
  const soFar = practice.plan.clinic ? null : await practice.soFar;
  const mine = practice.plan.clinic
    ? []
    : [make("p", {}, make("a", { href: "/practice/my-practice/" }, gettext("My practice over the weeks")))];
  show(
    "done",
    gettext("You are done for now"),
    ...endPicture(soFar, held),
    ...lines(sentences.filter(Boolean)),
    ...practisedDays(soFar, done),
    ...messageFromClinic(practice, soFar, session),
    ...mine,
    ...more,
  );
  say(gettext("The session is over."), { shown: false });
}
