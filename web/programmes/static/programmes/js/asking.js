// The composer's requests and their results.

import { csrfToken } from "../../ui/js/token.js";

// A browser keeps at most 64 kB alive after the page closes, and a character may take four bytes.
const KEPT_ALIVE = 15000;

/** The site's answer; null if none arrived. */
async function ask(url, how) {
  const response = await fetch(url, how).catch(() => null);
  if (!response) return null;
  if (response.redirected || response.status === 403) return { ok: false, status: 401, body: null };
  const body = response.status === 204 ? null : await response.json().catch(() => null);
  return { ok: response.ok && (response.status === 204 || body !== null), status: response.status, body };
}

/** Sends edits, and fetches others' edits; `chosen` is the task whose panel is open. */
export function requestsOf(url, chosen) {
  return {
    send: (edits) => {
      const body = JSON.stringify({ ...edits, chosen: chosen() });
      return ask(url, {
        method: "POST",
        headers: { "Content-Type": "application/json", "X-CSRFToken": csrfToken() },
        body,
        keepalive: body.length < KEPT_ALIVE, // It arrives even if the page is closed meanwhile.
      });
    },
    // A hidden page sends no requests.
    look: async (seen) =>
      document.hidden ? null : ask(`${url}?seen=${seen}&chosen=${encodeURIComponent(chosen())}`),
  };
}
