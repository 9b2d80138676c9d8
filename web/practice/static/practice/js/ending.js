// How a session ends: what is asked at its end, and that it is over.

import * as questions from "./questions.js";
import { button, lines, make, say, show } from "./screens.js";

/** Keeps that the session is over; `held`: not sent before it is released. Gives the entry. */
export async function endSession(practice, ending, { held = false } = {}) {
  if (!practice.session) return null;
  const kept = await practice.outbox.put(
    { ...practice.entry("ended"), ending, done: practice.progress?.done ?? 0 },
    { held },
  );
  if (!held) await practice.went(null);
  return kept;
}

/** The questions at the end, and the last screen. */
export async function finish(practice) {
  practice.interrupt.arm();
  const said = practice.isQuick ? [] : await questions.after(practice);
  if (said.length) practice.stops.say({ flags: said, session: practice.session.key });
  if (practice.plan.asks_bother && !practice.isQuick && !practice.plan.clinic)
    await questions.bother(practice);
  const { done = 0, skipped = 0 } = practice.progress;
  await endSession(practice, "done");
  const advice = said.map((flag) => practice.plan.flags[flag].advice)[0];
  const again = button("More practice", {
    on: () => {
      practice.session = null;
      practice.plan.asks_bother = false;
      practice.interrupt.with("anew");
    },
  });
  const told = [
    `${done} task${done === 1 ? "" : "s"} done.`,
    skipped ? `${skipped} skipped. That is fine.` : "",
    advice ?? "",
  ];
  const more = practice.day.isFull
    ? lines(["Your voice has done enough for today."])
    : [make("div", {}, again)];
  show("done", "You are done for now", ...lines(told.filter(Boolean)), ...more);
  say("The session is over.", { shown: false });
}
