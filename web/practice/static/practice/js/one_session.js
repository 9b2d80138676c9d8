// One session of a client at a time: two tabs or devices would measure one sound twice. Tabs of one browser
// share a lock. The clinic reports other devices: in the plan of this page, and in its answers during the
// session.

import { ask, button, lines, make, show } from "./screens.js";
import { filled, gettext } from "../../ui/js/words.js";

/** An older plan says nothing about other devices now. */
const PLAN_IS_NEW_MS = 10 * 60 * 1000;
const name = (practice) => `still-reed session ${practice.outbox.owner}`;

/** Whether another tab of this browser is in a session of this client. */
async function isInAnotherTab(practice) {
  const { held = [] } = (await navigator.locks?.query()) ?? {};
  return held.some((each) => each.name === name(practice));
}

/** The session on another device; null if there is none, or if it is on this one. */
async function onAnotherDevice(practice) {
  const found = practice.plan.open_session;
  if (!found || Date.now() - Date.parse(practice.plan.made_at) > PLAN_IS_NEW_MS) return null;
  return (await practice.outbox.recall("begun_here")) === found.key ? null : found;
}

/** Tells the clinic that the session was begun or continued on this device. */
export async function claim(practice) {
  await practice.outbox.remember("begun_here", practice.session.key);
  await practice.outbox.put(practice.entry("begun"));
}

/** Says where a session is open before one begins here; continuing here takes it over. */
export async function confirmTakeover(practice) {
  const device = await onAnotherDevice(practice);
  const isTab = await isInAnotherTab(practice);
  if (!device && !isTab) return;
  practice.plan.open_session = null; // Asked once.
  const where = isTab
    ? gettext("It is open in another tab or window on this device.")
    : filled(gettext("It was opened on another device at {time}."), {
        time: new Date(device.begun_at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" }),
      });
  await ask(
    "open_elsewhere",
    gettext("Your session is already open"),
    [{ value: "here", words: gettext("Go on here"), first: true }],
    {
      above: lines([where, gettext("Go on there, or here. It then ends at the other place.")]),
      interrupted: practice.interrupt.now,
    },
  );
}

/** Moves the session to this tab and returns its release. Another tab that takes it interrupts this one. */
export function takeSession(practice) {
  let releaseLock = () => {};
  const isOver = new Promise((resolve) => (releaseLock = () => resolve(undefined)));
  navigator.locks
    ?.request(name(practice), { steal: true }, () => isOver)
    .catch(() => practice.interrupt.with("elsewhere"));
  return releaseLock;
}

/** The screen after another tab or device took over the session. */
export function showElsewhere(practice) {
  show(
    "elsewhere",
    gettext("Your session goes on somewhere else"),
    ...lines([
      gettext("It was opened in another tab or on another device."),
      gettext("Everything you did here is saved."),
    ]),
    make(
      "div",
      {},
      button(gettext("Go on here"), {
        key: " ",
        "data-go-on": "",
        on: () => practice.interrupt.with("restart"),
      }),
    ),
  );
}
