// That something is wrong goes by a way of its own: first, alone, in a tiny request that outlives the
// page, again and again until the clinic's server says that it has it. It needs neither the store nor a
// sign-in, and nothing that waits or fails beside it can hold it up.

const FIRST_WAIT_MS = 1000;
const LONGEST_WAIT_MS = 10000;
const PATIENCE_MS = 8000;
const NAME = "still-reed:stops";

export class Stops {
  /** `on` has changed() and closed(); `page` is the page's own token, which the server knows it by. */
  constructor({ owner, url, page, on }) {
    this.owner = owner;
    this.url = url;
    this.page = page;
    this.on = on;
    this.list = this.read().filter((each) => each.owner === owner);
    this.sent = new Set();
    window.addEventListener("online", () => this.hurry());
    // what is on its way when the page goes is sent once more, and may arrive after it has gone
    window.addEventListener("pagehide", () => this.list.forEach((each) => this.post(each).catch(() => {})));
  }

  read() {
    try {
      return JSON.parse(localStorage.getItem(NAME)) ?? [];
    } catch {
      return [];
    }
  }

  /** Kept beside whatever another tab has kept; where this cannot be, the page itself remembers. */
  keep() {
    try {
      const others = this.read().filter((each) => each.owner !== this.owner);
      localStorage.setItem(NAME, JSON.stringify([...others, ...this.list]));
    } catch {
      this.on.changed();
    }
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
      if (answer.state === "closed") this.on.closed();
      if (each.taken_back) this.on.tookBack?.(answer.goes_on === true, each.key);
      if (this.waiting) this.wait = FIRST_WAIT_MS;
    } else if (response.status < 500 && response.status !== 429) {
      each.refused = response.status; // said on the screen: call the clinic
    }
    this.keep();
    this.on.changed();
  }

  post({ owner, refused, ...said }) {
    return fetch(this.url, {
      method: "POST",
      keepalive: true,
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ ...said, sent_at: new Date().toISOString() }),
      signal: AbortSignal.timeout(PATIENCE_MS),
    });
  }
}
