// Sends a form until an answer arrives. Its key makes a second arrival harmless.
import { gettext } from "../../ui/js/words.js";

const FIRST_WAIT_MS = 500;
const LONGEST_WAIT_MS = 8000;

const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** The answer's JSON, with `ok`; calls `onWaiting` when the network or the server is away. */
export async function postUntilHeard(url, fields, onWaiting) {
  const form = new FormData();
  for (const [name, value] of Object.entries(fields)) form.append(name, value);
  const token = document.querySelector("[name=csrfmiddlewaretoken]").value;
  for (let wait = FIRST_WAIT_MS; ; wait = Math.min(wait * 2, LONGEST_WAIT_MS)) {
    try {
      const response = await fetch(url, { method: "POST", body: form, headers: { "X-CSRFToken": token } });
      if (response.ok || response.status === 422) return { ok: response.ok, ...(await response.json()) };
      if (response.status < 500 && response.status !== 429) {
        return { ok: false, sentence: gettext("You are signed out. Reload the page and try again.") };
      }
    } catch {
      // No network: wait and try again.
    }
    onWaiting();
    await pause(wait);
  }
}
