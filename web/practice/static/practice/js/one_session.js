// One session of a client at a time: two tabs or two devices would measure one sound twice.
// Tabs of one browser share a lock. Of another device the clinic tells: in the plan of this page, and in
// its answers once the session is opened there.

import { ask, button, lines, make, show } from "./screens.js";
import { filled, gettext } from "../../ui/js/words.js";

/** A plan older than this says nothing about what another device does now. */
const PLAN_IS_NEW_MS = 10 * 60 * 1000;
const name = (practice) => `still-reed session ${practice.outbox.owner}`;

/** Whether another tab of this browser is in a session of this client. */
async function isInAnotherTab(practice) {
  const { held = [] } = (await navigator.locks?.query()) ?? {};
  return held.some((each) => each.name === name(practice));
}

/** The session that another device is in; nothing where there is none, or where it is this device's. */
async function onAnotherDevice(practice) {
  const found = practice.plan.open_session;
  if (!found || Date.now() - Date.parse(practice.plan.made_at) > PLAN_IS_NEW_MS) return null;
  return (await practice.outbox.recall("begun_here")) === found.key ? null : found;
}

/** Tells the clinic that the session is on this device now, begun or gone on with. */
export async function claim(practice) {
  await practice.outbox.remember("begun_here", practice.session.key);
  await practice.outbox.put(practice.entry("begun"));
}

/** Says where a session is open, before one begins here; going on here takes it over. */
export async function askWhereOpen(practice) {
  const device = await onAnotherDevice(practice);
  const isTab = await isInAnotherTab(practice);
  if (!device && !isTab) return;
  practice.plan.open_session = null; // asked once
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

/** Takes the session to this tab; gives what lets it go. Another tab that takes it interrupts this one. */
export function takeSession(practice) {
  let letGo = () => {};
  const isOver = new Promise((resolve) => (letGo = () => resolve(undefined)));
  navigator.locks
    ?.request(name(practice), { steal: true }, () => isOver)
    .catch(() => practice.interrupt.with("elsewhere"));
  return letGo;
}

/** What stands here after the session was taken to another tab or device. */
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
