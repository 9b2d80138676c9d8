// What stays on a device and what goes: a closed link, signing out, and a session without a network.

import { lines, show } from "./screens.js";
import { forget } from "./store.js";

/**
 * The link was closed: nothing of the person stays on this device. Where a new link took its place, what
 * waits here stays, sealed, and is sent when that one is opened on this device.
 */
export async function linkIsClosed(practice, words = "This practice link has been closed.", keeps = false) {
  if (practice.isClosed) return;
  practice.isClosed = true;
  if (!keeps) await forget().catch(() => {});
  show(
    "closed",
    words,
    ...lines([
      keeps
        ? "What waits here is sent when you open the new link on this device. Your clinic has it."
        : "What was waiting here can no longer be sent. Call your clinic: they give you a new link.",
      `If something is wrong: call ${practice.emergency}.`,
    ]),
  );
}

/** Signing out leaves nothing behind; so it asks where something has not been sent. */
export function leaving(practice, root, find) {
  const form = root.querySelector("[data-sign-out]");
  const sure = find("sure");
  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    const unsent = practice.outbox.waiting + practice.outbox.refused.length + practice.stops.waiting;
    if (unsent && sure.hidden) {
      sure.hidden = false;
      const [what, them] = unsent === 1 ? ["1 thing has", "it"] : [`${unsent} things have`, "them"];
      sure.textContent =
        `${what} not reached the clinic, and signing out takes ${them} off this device for good. ` +
        "Press Sign out once more to do that.";
      return;
    }
    await forget().catch(() => {});
    form.submit();
  });
}

/** On a device that is to remember, the session opens without a network too; on others nothing stays. */
export async function remembered(practice, root) {
  if (!navigator.serviceWorker) return;
  if (root.dataset.remembered === "1") {
    await navigator.serviceWorker.register("/practice/worker.js");
    (await navigator.serviceWorker.ready).active.postMessage("ready");
    return;
  }
  for (const each of await navigator.serviceWorker.getRegistrations()) await each.unregister();
  for (const name of await caches.keys()) await caches.delete(name);
}
