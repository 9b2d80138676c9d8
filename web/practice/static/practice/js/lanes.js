// Sends waiting entries: texts and sounds each at their own pace, so that neither delays the other.
import { gettext } from "../../ui/js/words.js";

const FIRST_WAIT_MS = 800;
const LONGEST_WAIT_MS = 60000;
const AWAY_MS = 15000;
const SIGNED_OUT_MS = 30000;
const PATIENCE_MS = { words: 30000, sounds: 120000 };
const TOO_LARGE = gettext("It is too large to send.");

export class Lanes {
  /**
   * `entries` returns the waiting entries; `post` sends one; `taken`, `refused` and `closed` get the result.
   */
  constructor({ entries, post, taken, refused, closed, changed }) {
    this.entries = entries;
    this.post = post;
    this.taken = taken;
    this.refused = refused;
    this.closed = closed;
    this.changed = changed;
    this.line = "open"; // or "away", "signed_out", "closed"
    this.ways = { words: { until: 0 }, sounds: { until: 0 } };
  }

  /** The connection may be back, or a user has signed in. */
  retryNow() {
    if (this.line === "closed") return;
    this.line = "open";
    for (const lane of Object.values(this.ways)) lane.until = 0;
    for (const each of this.entries()) each.next = 0;
    this.send();
  }

  send() {
    for (const name of Object.keys(this.ways)) this.run(name);
  }

  /** Entries of a lane that can be sent now, oldest first; and when to look again if there are none. */
  async run(name) {
    const lane = this.ways[name];
    clearTimeout(lane.timer);
    if (lane.running || this.line === "closed") return;
    lane.running = true;
    const own = () =>
      this.entries().filter((each) => !each.refused && !each.held && each.sounds === (name === "sounds"));
    const ready = () => this.line !== "closed" && lane.until <= Date.now();
    for (let next; ready() && (next = own().find((each) => each.next <= Date.now()));) {
      await this.once(next, name, lane);
    }
    lane.running = false;
    const soonest = Math.min(...own().map((each) => Math.max(each.next, lane.until)));
    if (soonest < Infinity && this.line !== "closed")
      lane.timer = setTimeout(() => this.run(name), Math.max(50, soonest - Date.now()));
  }

  async once(kept, name, lane) {
    let response;
    try {
      response = await this.post(kept, PATIENCE_MS[name]);
    } catch {
      lane.wait = Math.min((lane.wait ?? FIRST_WAIT_MS / 2) * 2, AWAY_MS);
      lane.until = Date.now() + lane.wait;
      return this.state("away");
    }
    lane.wait = undefined;
    const answer = await response.json().catch(() => null);
    if (response.ok && answer) {
      this.state("open");
      return this.taken(kept, answer);
    }
    // A redirect, an expired form or another user's page: the entry itself is fine.
    if (response.type === "opaqueredirect" || [401, 403].includes(response.status)) {
      for (const each of Object.values(this.ways)) each.until = Date.now() + SIGNED_OUT_MS;
      return this.state("signed_out");
    }
    if (response.status === 410 && answer?.state === "closed") {
      this.state("closed");
      return this.closed(answer.sentence, answer.keeps);
    }
    // A server of the previous version cannot decrypt, so it cannot have judged the content.
    const unread = !kept.entry && response.status === 422 && answer?.state !== "refused";
    if (response.status >= 500 || response.status === 429 || response.ok || unread)
      return this.later(kept, response, lane);
    return this.refused(
      kept,
      response.status === 413 ? TOO_LARGE : (answer?.sentence ?? gettext("The clinic could not save it.")),
      response.status,
    );
  }

  /** Retry this entry after its own delay; the others continue unless the server asks for a pause. */
  later(kept, response, lane) {
    kept.tries += 1;
    kept.next = Date.now() + Math.min(FIRST_WAIT_MS * 2 ** kept.tries, LONGEST_WAIT_MS);
    const pause = Number(response.headers.get("Retry-After"));
    if (pause) lane.until = Date.now() + 1000 * Math.min(pause, 60);
    this.state("open");
  }

  state(line) {
    this.line = line;
    this.changed();
  }
}
