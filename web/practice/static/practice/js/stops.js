// That something is wrong goes by a way of its own: first, alone, in a tiny request that outlives the
// page, again and again until the clinic's server says that it has it. It needs neither the store nor a
// sign-in, and nothing that waits or fails beside it can hold it up: what is wrong lies readable on this
// device until it has been sealed, some milliseconds later, for one that was sealed first could be lost.

const FIRST_WAIT_MS = 1000;
const LONGEST_WAIT_MS = 10000;
const PATIENCE_MS = 8000;
const NAME = "still-reed:stops";
const ACKNOWLEDGED = "still-reed:stops-acknowledged";
const DAY_MS = 24 * 3600 * 1000;

/** What is left of one on the device. */
const left = ({ flags, comment, session, sealed, ...readable }) =>
  sealed ? { ...readable, sealed } : { ...readable, flags, comment, session };

/** Whether it was refused for what it says: a server of the version before knows no seal. */
const understood = async (each, response) =>
  Boolean(each.flags) ||
  response.status !== 422 ||
  (await response.json().catch(() => null))?.state === "refused";

export class Stops {
  /** `on` has changed() and closed(); `page` is the page's own token, which the server knows it by. */
  constructor({ owner, url, page, seal, days, epoch, on }) {
    this.owner = owner;
    this.url = url;
    this.page = page;
    this.on = on;
    /** @type {import("./seal.js").Seal} */
    this.seal = seal;
    this.days = days;
    this.epoch = epoch;
    this.list = this.read().filter((each) => each.owner === owner);
    this.offerAgain();
    this.list.forEach((each) => this.shut(each));
    this.sent = new Set();
    window.addEventListener("online", () => this.hurry());
    // what is on its way when the page goes is sent once more, and may arrive after it has gone
    window.addEventListener("pagehide", () => this.list.forEach((each) => this.post(each).catch(() => {})));
  }

  read(name = NAME) {
    try {
      return JSON.parse(localStorage.getItem(name)) ?? [];
    } catch {
      return [];
    }
  }

  /** Kept beside whatever another tab has kept; where this cannot be, the page itself remembers. */
  keep() {
    try {
      const others = this.read().filter((each) => each.owner !== this.owner);
      localStorage.setItem(NAME, JSON.stringify([...others, ...this.list.map(left)]));
    } catch {
      this.on.changed();
    }
  }

  /** Keeps what has arrived, sealed, for some days: a restore of the clinic's records may lose it. */
  async acknowledge(said, epoch) {
    if (said.flags && !said.sealed) await this.shut(said);
    const since = Date.now();
    const oldest = since - this.days * DAY_MS;
    const others = this.read(ACKNOWLEDGED).filter((each) => each.since > oldest);
    const one = said.sealed || said.taken_back ? [{ ...left(said), epoch, since }] : [];
    try {
      localStorage.setItem(ACKNOWLEDGED, JSON.stringify([...others, ...one]));
    } catch {
      // full: what has not arrived yet has the room
    }
  }

  /** What was acknowledged in another epoch goes once more, before anything else. */
  offerAgain() {
    const kept = this.read(ACKNOWLEDGED);
    const again = kept.filter((each) => each.owner === this.owner && each.epoch !== this.epoch);
    if (!again.length || !this.epoch) return;
    this.list.push(...again.map(({ epoch, since, ...said }) => said));
    try {
      localStorage.setItem(ACKNOWLEDGED, JSON.stringify(kept.filter((each) => !again.includes(each))));
    } catch {
      // sent twice is kept once
    }
    this.keep();
  }

  /** Sends a stop at once; gives its key. */
  say(stop) {
    const said = {
      owner: this.owner,
      page: this.page,
      key: crypto.randomUUID(),
      at: new Date().toISOString(),
      ...stop,
    };
    this.add(said);
    return said.key;
  }

  /** It was pressed by mistake: both go, in that order, and both stay on record. */
  takeBack(key) {
    this.add({ owner: this.owner, page: this.page, key, taken_back: true, at: new Date().toISOString() });
  }

  add(said) {
    this.list.push(said);
    this.keep();
    this.on.changed();
    this.hurry();
    this.shut(said);
  }

  /** Seals what is wrong; where that cannot be, it stays as it is: it has to arrive. */
  async shut(said) {
    const { flags, comment, session } = said;
    if (!flags) return;
    said.sealed = await this.seal.asText({ flags, comment, session }).catch(() => undefined);
    this.keep();
  }

  get waiting() {
    return this.list.filter((each) => !each.refused).length;
  }

  has(key) {
    return this.list.some((each) => each.key === key && !each.taken_back);
  }

  hurry() {
    clearTimeout(this.timer);
    this.wait = FIRST_WAIT_MS;
    this.run();
  }

  async run() {
    if (this.running) return;
    this.running = true;
    for (const each of [...this.list].filter((one) => !one.refused)) {
      if (each.taken_back && this.has(each.key)) continue; // after the stop that it takes back
      await this.once(each);
    }
    this.running = false;
    if (!this.waiting) return;
    this.timer = setTimeout(() => this.run(), this.wait);
    this.wait = Math.min(this.wait * 2, LONGEST_WAIT_MS);
  }

  async once(each) {
    let response;
    try {
      response = await this.post(each);
    } catch {
      return; // no network: again
    }
    if (response.ok) {
      const answer = await response.json().catch(() => ({}));
      this.list = this.list.filter((one) => one !== each);
      this.sent.add(each.key);
      if (answer.epoch) {
        await this.acknowledge(each, answer.epoch);
        if (answer.epoch !== this.epoch) {
          this.epoch = answer.epoch;
          this.offerAgain();
        }
      }
      if (answer.state === "closed") this.on.closed(undefined, answer.keeps);
      if (each.taken_back) this.on.tookBack?.(answer.goes_on === true, each.key);
      if (this.waiting) this.wait = FIRST_WAIT_MS;
    } else if (response.status < 500 && response.status !== 429 && (await understood(each, response))) {
      each.refused = response.status; // said on the screen: call the clinic
    }
    this.keep();
    this.on.changed();
  }

  post({ owner, refused, sealed, ...said }) {
    const words = said.flags || said.taken_back ? said : { ...said, sealed };
    return fetch(this.url, {
      method: "POST",
      keepalive: true,
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ ...words, sent_at: new Date().toISOString() }),
      signal: AbortSignal.timeout(PATIENCE_MS),
    });
  }
}
