// Reasons for no practice now: a pause, voice rest, or a session that ended for today.

import { callFor, WATCHED } from "./flags.js";
import { lines, make, show } from "./screens.js";
import { filled, gettext, LOCALE } from "../../ui/js/words.js";

/** The client reported a problem that no clinician has cleared yet. */
export function paused(practice, flag) {
  show(
    "paused",
    gettext("Your practice is paused"),
    make("p", {}, callFor(practice)),
    ...lines([
      flag ? practice.plan.flags[flag].advice : gettext("You told us that something was wrong."),
      gettext("You can continue when your clinician allows it. Short sessions and resets are paused too."),
      filled(gettext("Call for trouble breathing, chest pain or fainting. {value}"), { value: WATCHED }),
    ]),
  );
}

/** The clinic has set voice rest: no practice until it ends, by this device's date. */
export function resting(practice, until) {
  const day = new Date(`${until}T12:00`).toLocaleDateString(LOCALE, { day: "numeric", month: "long" });
  show(
    "paused",
    gettext("Your voice is resting"),
    make("p", {}, callFor(practice)),
    ...lines([
      filled(gettext("Do not practise until after {day}. Short sessions and resets are paused too."), {
        day,
      }),
      gettext("Your clinician has set this. Ask if anything is unclear."),
      filled(gettext("Call for trouble breathing, chest pain or fainting. {value}"), { value: WATCHED }),
    ]),
  );
}

/** A session today ended with light-headedness or strain: no more practice today. */
export function showOverForToday(practice, flag) {
  show(
    "over_today",
    gettext("That is enough for today"),
    ...lines([
      practice.plan.flags[flag].advice,
      gettext("Come back tomorrow. Today does not count as missed."),
      WATCHED,
    ]),
  );
}
