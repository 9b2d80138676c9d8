// A stand-in for the page that the scripts use: events, a token, and a clinic that answers.

const quiet = { addEventListener() {}, removeEventListener() {} };
globalThis.window ??= globalThis;
globalThis.addEventListener ??= () => {};
globalThis.document ??= { ...quiet, cookie: "csrftoken=token", hidden: false };

/** A clinic that gives its answers in order; its requests are in `asked`. */
export class Clinic {
  constructor(...answers) {
    this.answers = answers;
    this.asked = [];
    globalThis.fetch = (url, how) => this.answer(url, how);
  }

  async answer(url, how) {
    this.asked.push({ url, how, entry: JSON.parse(how.body.get("entry") ?? "null") });
    const given = this.answers.length > 1 ? this.answers.shift() : this.answers[0];
    if (given === "gone") throw new TypeError("no network");
    const { status = 200, body = {}, headers = {}, type = "basic" } = given;
    return { ok: status < 300, status, type, headers: new Headers(headers), json: async () => body };
  }
}

/** A store that keeps its values, or keeps nothing if it is full. */
export class Kept {
  constructor({ full = false, entries = [] } = {}) {
    this.full = full;
    this.rows = new Map(entries.map((each, at) => [at + 1, { ...each, seq: at + 1 }]));
    this.state = new Map();
  }

  async entries() {
    return [...this.rows.values()];
  }

  async add(row) {
    if (this.full) return undefined;
    const seq = this.rows.size + 1;
    this.rows.set(seq, row);
    return seq;
  }

  async put(row) {
    this.rows.set(row.seq, row);
  }

  async remove(seq) {
    this.rows.delete(seq);
  }

  async remember(name, value) {
    this.state.set(name, value);
  }

  async recall(name) {
    return this.state.get(name);
  }
}

/** Waits until only timers are left to wait for. */
export async function settled() {
  for (let turn = 0; turn < 30; turn++) await new Promise((next) => setImmediate(next));
}

const REAL = { setTimeout, clearTimeout, setInterval, clearInterval, now: Date.now };

/** A clock that the test advances: timers, and the device's time. */
export class Clock {
  constructor(now = 1_000_000) {
    this.now = now;
    this.due = new Map();
    this.last = 0;
    const after = (act, ms, every) => (
      this.due.set(++this.last, { act, at: this.now + ms, every }),
      this.last
    );
    globalThis.setTimeout = (act, ms = 0) => after(act, ms, 0);
    globalThis.setInterval = (act, ms) => after(act, ms, ms);
    globalThis.clearTimeout = globalThis.clearInterval = (id) => this.due.delete(id);
    Date.now = () => this.now;
  }

  tick(ms) {
    const until = this.now + ms;
    for (;;) {
      const next = [...this.due].filter(([, { at }]) => at <= until).sort(([, a], [, b]) => a.at - b.at)[0];
      if (!next) break;
      const [id, timer] = next;
      this.now = Math.max(this.now, timer.at);
      if (timer.every) timer.at += timer.every;
      else this.due.delete(id);
      timer.act();
    }
    this.now = until;
  }

  stop() {
    const { now, ...timers } = REAL;
    Object.assign(globalThis, timers);
    Date.now = now;
  }
}
