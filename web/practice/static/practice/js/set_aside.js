// A try measured wrongly: another voice, or a wrong time. The client reports it, it counts nowhere, and the
// clinician sees the measurement and the reason.

import { ask, button, lines, make } from "./screens.js";
import { gettext } from "../../ui/js/words.js";

/** The two buttons under a result, and a promise of the reason if one is pressed. */
export function objections() {
  /** @type {(why: "not_my_voice" | "time") => void} */
  let press;
  const pressed = new Promise((resolve) => (press = resolve));
  const element = make(
    "div",
    { class: "objections", "data-objections": "" },
    button(gettext("That was not my voice"), {
      key: "v",
      class: "button",
      "data-not-mine": "",
      on: () => press("not_my_voice"),
    }),
    button(gettext("The time is wrong"), {
      key: "w",
      class: "button",
      "data-wrong-time": "",
      on: () => press("time"),
    }),
  );
  return { element, pressed };
}

/**
 * Sets a try aside by its key, and asks what is next.
 * @returns {Promise<"again" | "without" | "on">} made again, left out, or counted after all
 */
export async function setAside(practice, block, key, objection) {
  const interrupted = practice.interrupt.now;
  let why = objection;
  if (objection === "time") {
    why = await ask(
      "wrong_time",
      gettext("What was wrong with the time?"),
      [
        { value: "stopped_early", words: gettext("It stopped too early") },
        { value: "counted_long", words: gettext("It counted too long") },
        { value: "counts", words: gettext("Back. The time is right") },
      ],
      { interrupted },
    );
    if (why === "counts") return "on";
  }
  await practice.mark("set_aside", { trial: key, why }, block);
  const next = await ask(
    "set_aside",
    gettext("This try does not count"),
    [
      { value: "again", words: gettext("Try again"), first: true },
      { value: "on", words: gettext("Go on without it") },
      { value: "counts", words: gettext("Undo. Let it count") },
    ],
    { above: lines([gettext("It stays on record. Your clinician can see it.")]), interrupted },
  );
  if (next === "counts") await practice.mark("set_aside", { trial: key, why: "counts" }, block);
  return next === "again" ? "again" : next === "on" ? "without" : "on";
}
