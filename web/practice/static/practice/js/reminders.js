// Reminders through the browser's own push service; only on remembered devices.

import { say } from "./screens.js";
import { csrfToken } from "../../ui/js/token.js";
import { gettext } from "../../ui/js/words.js";

const SENDS_MS = 10000;

/** The site's key in the browser's format: bytes from base64url. */
export function bytesOf(text) {
  const plain = atob(text.replaceAll("-", "+").replaceAll("_", "/"));
  return Uint8Array.from(plain, (letter) => letter.charCodeAt(0));
}

async function send(url, body) {
  const answer = await fetch(url, {
    method: "POST",
    headers: { "Content-Type": "application/json", "X-CSRFToken": csrfToken() },
    body: JSON.stringify(body),
    signal: AbortSignal.timeout(SENDS_MS),
  });
  if (!answer.ok) throw new Error(String(answer.status));
}

/** Offers reminders if the site, the browser and the device support them. */
export async function offerReminders(root) {
  const control = root.querySelector("[data-reminders]");
  const { pushKey, pushUrl, remembered } = root.dataset;
  if (!control || !pushKey || remembered !== "1" || !navigator.serviceWorker || !("PushManager" in window))
    return;
  const { pushManager } = await navigator.serviceWorker.ready;
  let subscription = await pushManager.getSubscription();
  const shown = () => control.setAttribute("aria-pressed", String(!!subscription));
  shown();
  control.hidden = false;
  control.addEventListener("click", async () => {
    control.disabled = true;
    try {
      if (subscription) {
        await send(pushUrl, { off: true, endpoint: subscription.endpoint });
        await subscription.unsubscribe();
        subscription = null;
        say(gettext("Reminders are off on this device."));
      } else {
        subscription = await pushManager.subscribe({
          userVisibleOnly: true,
          applicationServerKey: bytesOf(pushKey),
        });
        await send(pushUrl, { subscription: subscription.toJSON() });
        say(gettext("Reminders are on. You get at most one a day, after a missed session."));
      }
    } catch {
      await subscription?.unsubscribe().catch(() => {});
      subscription = await pushManager.getSubscription().catch(() => null);
      say(gettext("The reminders are off. Allow them in the browser. Then try again."));
    } finally {
      control.disabled = false;
      shown();
    }
  });
}
