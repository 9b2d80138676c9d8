// The beginning of a session: paused or resting, continued, or chosen again.

import { today } from "./day.js";
import { remember, remembered } from "./device_settings.js";
import { endSession } from "./ending.js";
import { showOverForToday, paused, resting } from "./no_practice.js";
import { confirmTakeover, claim } from "./one_session.js";
import { ask, button, lines, make, show } from "./screens.js";
import { askToday } from "./today_questions.js";
import { filled, gettext } from "../../ui/js/words.js";

const RESUMES_WITHIN_MS = 12 * 3600 * 1000;

/** A pause applies on this device until a newer page says that it was cleared. */
async function isPaused(practice) {
  const stopped = await practice.outbox.recall("stopped");
  if (practice.plan.paused) return stopped?.flag ?? "";
  if (!stopped) return null;
  // The clinic knows it by its key and has closed it: no clock is needed.
  const unsent = practice.outbox.list.some((each) => each.kind === "stop"); // Stored by the previous version.
  if (stopped.key ? practice.plan.stops[stopped.key] !== false : unsent) return stopped.flag;
  await practice.outbox.remember("stopped", null);
  return null;
}

/** Begins a session, or shows why none is possible; sets `practice.progress` if there is one. */
export async function begin(practice) {
  const pausedBy = await isPaused(practice);
  if (pausedBy !== null) return paused(practice, pausedBy);
  if (practice.plan.rest_until && today() <= practice.plan.rest_until)
    return resting(practice, practice.plan.rest_until);
  if (practice.day.over) return showOverForToday(practice, practice.day.over);
  await confirmTakeover(practice);
  if (await resumed(practice)) return;
  const { voice, sort, which, demands, hours } = await askToday(practice);
  const day = practice.plan.answers[voice];
  const order = which.orders[`${day}:${sort}`];
  practice.session = {
    key: crypto.randomUUID(),
    version: practice.plan.version,
    sort,
    day,
    voice,
    begun_at: new Date().toISOString(),
    planned: order.length,
    hours_since_medication: hours,
    device: navigator.userAgent.slice(0, 200),
    // The current helper, because another person may sign in before it is sent. Left out without a helper,
    // for servers of the previous version.
    helper: practice.plan.helper ?? undefined,
  };
  await claim(practice);
  if (demands) await practice.mark("demands", demands);
  if (!order.length) return rest(practice, day);
  if (practice.plan.helper) await practice.mark("answered_by", await whoAnswers(practice));
  await practice.saveProgress({
    order,
    place: 0,
    at: { turn: 0, try: 0 },
    asked: false,
    safe: false,
    done: 0,
    skipped: 0,
  });
}

/** Returns who answers the questions with this helper: asked once on a device, and stored with each session. */
async function whoAnswers(practice) {
  const name = `answers-${practice.plan.helper}`;
  const known = remembered(name);
  if (known) return known;
  const by = await ask(
    "who_answers",
    gettext("Does the helper answer the questions?"),
    [
      { value: "client", words: gettext("No, the person who practises") },
      { value: "helper", words: gettext("Yes, the helper") },
    ],
    {
      above: lines([gettext("For example how hard it was. This device asks only once.")]),
      interrupted: practice.interrupt.now,
    },
  );
  remember(name, by);
  return by;
}

function askWhetherToContinue(practice, kept) {
  return ask(
    "resume",
    gettext("Continue your session?"),
    [
      {
        value: "on",
        words: filled(gettext("Continue at task {place} of {count}"), {
          place: kept.place + 1,
          count: kept.order.length,
        }),
        first: true,
      },
      { value: "new", words: gettext("Start again") },
    ],
    { above: lines([gettext("Your results are saved either way.")]), interrupted: practice.interrupt.now },
  );
}

/** The position of the last session on this device, if it was today and with the same programme. */
async function resumed(practice) {
  const kept = await practice.outbox.recall("progress");
  const fresh =
    kept?.session?.version === practice.plan.version &&
    Math.abs(Date.now() - Date.parse(kept.session.begun_at)) < RESUMES_WITHIN_MS;
  const { goesOn } = practice;
  practice.goesOn = false;
  if (!fresh) return false;
  const choice = goesOn ? "on" : await askWhetherToContinue(practice, kept);
  practice.session = kept.session;
  practice.progress = kept;
  if (choice === "on") {
    await claim(practice); // On whichever device it was open.
    return true;
  }
  await endSession(practice, "left");
  practice.session = practice.progress = null;
  return false;
}

/** Continue after an end: the first question again. */
export const startAgain = (practice) =>
  button(gettext("Back to the start"), { on: () => practice.interrupt.with("restart") });

async function rest(practice, day) {
  const words = day === "rest" ? gettext("Today is a rest day") : gettext("No task is short enough");
  await endSession(practice, "done");
  show(
    "rest",
    words,
    ...lines([
      day === "rest"
        ? practice.plan.dry
          ? gettext("Rest your voice and come back when you feel better. Today does not count as missed.")
          : gettext(
              "Rest your voice, drink water and come back when you feel better. Today does not count as missed.",
            )
        : gettext("Come back for the full session when you can."),
    ]),
    make("div", {}, startAgain(practice)),
  );
}
