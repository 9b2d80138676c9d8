// Sends edits to the clinic: in order, kept until they arrive, each applied once.
import { filled, gettext, ngettext } from "../../ui/js/words.js";

const AGAIN_MS = 3000;
const LOOK_MS = 4000;

/**
 * @typedef {{ok: boolean, status: number, body: any} | null} Answer null where nothing answers
 * @typedef {object} Way how the page talks and shows
 * @property {(body: object) => Promise<Answer>} send
 * @property {(seen: number) => Promise<Answer>} look status 204 where there is nothing new
 * @property {(stage: string) => void} show
 * @property {(words: string) => void} tell
 * @property {(on: boolean) => void} busy edits are on their way, or none is
 * @property {(edit: object, why: any) => void} notMade
 *
 * @param {Way} way
 * @param {number} edition what the page shows
 */
export function drafting(way, edition) {
  const page = crypto.randomUUID();
  const waiting = [];
  let number = 0;
  let redraw = false;
  let sending = null;
  let again = 0;

  /** An edit: it is sent with the state on the screen. `sure` overrides other users' edits. */
  function make(edit, { sure = false } = {}) {
    number += 1;
    waiting.push({ number, seen: edition, edit, sure });
    return settle();
  }

  /** Requests a fresh drawing without an edit. */
  function drawn() {
    redraw = true;
    return settle();
  }

  /** Resolves when nothing is being sent, to whether all has arrived; the rest is sent later. */
  async function settle() {
    while (waiting.length || redraw) {
      sending ??= run();
      if (!(await sending)) return false;
    }
    return true;
  }

  async function run() {
    clearTimeout(again);
    way.busy(true);
    try {
      while (waiting.length || redraw) {
        const batch = waiting.slice();
        redraw = false;
        const answer = await way.send({ page, edits: batch });
        if (!answer?.ok) return put(answer, batch);
        waiting.splice(0, batch.length);
        way.tell("");
        took(answer.body, batch);
      }
      return true;
    } finally {
      sending = null; // In the same turn as the last check of the queue.
      way.busy(false);
    }
  }

  function took(body, batch) {
    edition = body.edition;
    if (!waiting.length) way.show(body.stage);
    for (const why of body.not_made) {
      way.notMade(batch.find((each) => each.number === why.number).edit, why);
    }
  }

  /** Edits that did not arrive wait; rejected edits would be rejected again. */
  function put(answer, batch) {
    if (answer?.status === 422) {
      waiting.splice(0, batch.length);
      way.tell(answer.body?.sentence ?? gettext("The edit was not saved. Try again."));
      return false;
    }
    const changes = filled(
      ngettext(
        "{count} change is waiting on this page",
        "{count} changes are waiting on this page",
        waiting.length,
      ),
      { count: waiting.length },
    );
    const cause = causeOf(answer);
    way.tell(
      filled(gettext("{cause}: {changes} and will be sent automatically. Keep the page open."), {
        cause,
        changes,
      }),
    );
    again = setTimeout(settle, AGAIN_MS);
    return false;
  }

  /** Shows other users' edits when none of this page's are being sent. */
  async function look() {
    if (!sending && !waiting.length) {
      const seen = edition;
      const answer = await way.look(seen);
      if (answer?.ok && answer.status !== 204 && seen === edition && !waiting.length) {
        edition = answer.body.edition;
        way.show(answer.body.stage);
      }
    }
    setTimeout(look, LOOK_MS);
  }
  setTimeout(look, LOOK_MS);

  return {
    make,
    drawn,
    settle,
    get edition() {
      return edition;
    },
    get waits() {
      return waiting.length;
    },
  };
}

function causeOf(answer) {
  if (!answer) return gettext("No connection");
  if (answer.status !== 401) return gettext("The server is not available");
  return gettext("You are signed out. Sign in again in another tab");
}
