// Data that stays on a device or is removed: a disabled link, sign-out, and an offline session.

import { lines, show } from "./screens.js";
import { forget } from "./store.js";
import { filled, gettext, ngettext } from "../../ui/js/words.js";

/**
 * The link was disabled: remove the person's data from this device. If a new link replaced it, waiting
 * entries stay encrypted, and are sent when that link is opened on this device.
 */
export async function linkIsClosed(
  practice,
  words = gettext("This practice link is disabled."),
  keeps = false,
) {
  if (practice.isClosed) return;
  practice.isClosed = true;
  if (!keeps) await forget().catch(() => {});
  show(
    "closed",
    words,
    ...lines([
      keeps
        ? gettext("Open the new link on this device to send your saved practice. Your clinic has the link.")
        : gettext("The practice saved here can no longer be sent. Call your clinic and ask for a new link."),
      filled(gettext("If something is wrong: call {emergency}."), { emergency: practice.emergency }),
    ]),
  );
}

/** Signing out removes all data, so ask if anything has not been sent. */
export function leaving(practice, root, find) {
  const form = root.querySelector("[data-sign-out]");
  const sure = find("sure");
  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    const unsent = practice.outbox.waiting + practice.outbox.refused.length + practice.stops.waiting;
    if (unsent && sure.hidden) {
      sure.hidden = false;
      const sentence = ngettext(
        "{count} entry has not reached the clinic. Signing out deletes it from this device. Press Sign out again to delete.",
        "{count} entries have not reached the clinic. Signing out deletes them from this device. Press Sign out again to delete.",
        unsent,
      );
      sure.textContent = filled(sentence, { count: unsent });
      return;
    }
    await forget().catch(() => {});
    form.submit();
  });
}

/** A remembered device can also open the session offline; others store nothing. */
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
