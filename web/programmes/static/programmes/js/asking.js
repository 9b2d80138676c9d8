// The composer's requests, and what came of them.

import { csrfToken } from "../../ui/js/token.js";

const KEPT_ALIVE = 15000; // a browser keeps no more than 64 kB alive, and a letter may take four bytes

/** What the site answered; null where no answer came. */
async function ask(url, how) {
  const response = await fetch(url, how).catch(() => null);
  if (!response) return null;
  if (response.redirected || response.status === 403) return { ok: false, status: 401, body: null };
  const body = response.status === 204 ? null : await response.json().catch(() => null);
  return { ok: response.ok && (response.status === 204 || body !== null), status: response.status, body };
}

/** Sends edits, and looks what others made; `chosen` gives the task whose panel is open. */
export function requestsOf(url, chosen) {
  return {
    send: (edits) => {
      const body = JSON.stringify({ ...edits, chosen: chosen() });
      return ask(url, {
        method: "POST",
        headers: { "Content-Type": "application/json", "X-CSRFToken": csrfToken() },
        body,
        keepalive: body.length < KEPT_ALIVE, // it arrives though the page be left meanwhile
      });
    },
    // a page that nobody looks at asks nothing
    look: async (seen) =>
      document.hidden ? null : ask(`${url}?seen=${seen}&chosen=${encodeURIComponent(chosen())}`),
  };
}
