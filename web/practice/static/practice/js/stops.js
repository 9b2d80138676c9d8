// Stop reports are sent separately: first, alone, in a tiny request that outlives the page, again and again
// until the clinic's server has it. They need neither the store nor a sign-in, and nothing else can delay
// them. A report is readable on this device until it has been encrypted, some milliseconds later, because one
// encrypted first could be lost.

const FIRST_WAIT_MS = 1000;
const LONGEST_WAIT_MS = 10000;
const PATIENCE_MS = 8000;
const NAME = "still-reed:stops";
const ACKNOWLEDGED = "still-reed:stops-acknowledged";
const DAY_MS = 24 * 3600 * 1000;

/** The part of a report that stays on the device. */
const left = ({ flags, comment, session, sealed, ...readable }) =>
  sealed ? { ...readable, sealed } : { ...readable, flags, comment, session };

/** Whether its content was rejected: a server of the previous version cannot decrypt. */
const isReadable = async (each, response) =>
  Boolean(each.flags) ||
  response.status !== 422 ||
  (await response.json().catch(() => null))?.state === "refused";

export class Stops {
  /** `on` has changed() and closed(); `page` is the page's own token, which identifies it to the server. */
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
    this.resend();
    this.list.forEach((each) => this.shut(each));
    this.sent = new Set();
    window.addEventListener("online", () => this.retryNow());
    // A report being sent when the page closes is sent once more, and may arrive after it has closed.
    window.addEventListener("pagehide", () => this.list.forEach((each) => this.post(each).catch(() => {})));
  }

  read(name = NAME) {
    try {
      return JSON.parse(localStorage.getItem(name)) ?? [];
    } catch {
      return [];
    }
  }

  /** Stored next to other tabs' reports; if that is impossible, the page itself remembers them. */
  keep() {
    try {
      const others = this.read().filter((each) => each.owner !== this.owner);
      localStorage.setItem(NAME, JSON.stringify([...others, ...this.list.map(left)]));
    } catch {
      this.on.changed();
    }
  }

  /** Keeps arrived reports, encrypted, for some days: a restore of the clinic's records may lose them. */
  async acknowledge(report, epoch) {
    if (report.flags && !report.sealed) await this.shut(report);
    const since = Date.now();
    const oldest = since - this.days * DAY_MS;
    const others = this.read(ACKNOWLEDGED).filter((each) => each.since > oldest);
    const one = report.sealed || report.taken_back ? [{ ...left(report), epoch, since }] : [];
    try {
      localStorage.setItem(ACKNOWLEDGED, JSON.stringify([...others, ...one]));
    } catch {
      // Full: reports that have not arrived yet get the space.
    }
  }

  /** Reports acknowledged in another epoch are sent again, before anything else. */
  resend() {
    const kept = this.read(ACKNOWLEDGED);
    const again = kept.filter((each) => each.owner === this.owner && each.epoch !== this.epoch);
    if (!again.length || !this.epoch) return;
    this.list.push(...again.map(({ epoch, since, ...report }) => report));
    try {
      localStorage.setItem(ACKNOWLEDGED, JSON.stringify(kept.filter((each) => !again.includes(each))));
    } catch {
      // A report sent twice is stored once.
    }
    this.keep();
  }

  /** Sends a stop at once; returns its key. */
  say(stop) {
    const report = {
      owner: this.owner,
      page: this.page,
      key: crypto.randomUUID(),
      at: new Date().toISOString(),
      ...stop,
    };
    this.add(report);
    return report.key;
  }

  /** It was pressed by mistake: both are sent in order, and both stay on record. */
  withdrawStop(key) {
    this.add({ owner: this.owner, page: this.page, key, taken_back: true, at: new Date().toISOString() });
  }

  add(report) {
    this.list.push(report);
    this.keep();
    this.on.changed();
    this.retryNow();
    this.shut(report);
  }

  /** Encrypts a report; if that is impossible it stays as it is, because it must arrive. */
  async shut(report) {
    const { flags, comment, session } = report;
    if (!flags) return;
    report.sealed = await this.seal.asText({ flags, comment, session }).catch(() => undefined);
    this.keep();
  }

  get waiting() {
    return this.list.filter((each) => !each.refused).length;
  }

  has(key) {
    return this.list.some((each) => each.key === key && !each.taken_back);
  }

  retryNow() {
    clearTimeout(this.timer);
    this.wait = FIRST_WAIT_MS;
    this.run();
  }

  async run() {
    if (this.running) return;
    this.running = true;
    for (const each of [...this.list].filter((one) => !one.refused)) {
      if (each.taken_back && this.has(each.key)) continue; // After the stop that it withdraws.
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
      return; // No network: try again.
    }
    if (response.ok) {
      const answer = await response.json().catch(() => ({}));
      this.list = this.list.filter((one) => one !== each);
      this.sent.add(each.key);
      if (answer.epoch) {
        await this.acknowledge(each, answer.epoch);
        if (answer.epoch !== this.epoch) {
          this.epoch = answer.epoch;
          this.resend();
        }
      }
      if (answer.state === "closed") this.on.closed(undefined, answer.keeps);
      if (each.taken_back) this.on.tookBack?.(answer.goes_on === true, each.key);
      if (this.waiting) this.wait = FIRST_WAIT_MS;
    } else if (response.status < 500 && response.status !== 429 && (await isReadable(each, response))) {
      each.refused = response.status; // Shown on the screen: call the clinic.
    }
    this.keep();
    this.on.changed();
  }

  post({ owner, refused, sealed, ...report }) {
    const words = report.flags || report.taken_back ? report : { ...report, sealed };
    return fetch(this.url, {
      method: "POST",
      keepalive: true,
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ ...words, sent_at: new Date().toISOString() }),
      signal: AbortSignal.timeout(PATIENCE_MS),
    });
  }
}
