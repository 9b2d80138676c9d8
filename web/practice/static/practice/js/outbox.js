// What was done waits here until the server says that it has it: each entry once, in order, whatever
// happens to the network, the tab or the battery. Only what is this person's own is ever sent.

import { openDB } from "../../ui/vendor/idb.js";

const FIRST_WAIT_MS = 800;
const LONGEST_WAIT_MS = 15000;
const TRIES = ["sound", "timed", "told"];
const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** The browser's store; where it has none, a list that lives as long as the page. */
async function openStore() {
  try {
    return await openDB("still-reed-practice", 1, {
      upgrade(db) {
        db.createObjectStore("entries", { keyPath: "seq", autoIncrement: true });
        db.createObjectStore("state");
      },
    });
  } catch {
    return null;
  }
}

export class Outbox {
  /** `on` has changed, arrived(entry, answer), refused(entry, sentence) and signedOut. */
  constructor({ owner, url, on }) {
    Object.assign(this, { owner, url, on });
    this.sent = 0;
    this.list = [];
    this.running = false;
    this.signedOut = false;
  }

  async open() {
    this.store = await openStore();
    if (this.store) {
      const all = await this.store.getAll("entries");
      this.list = all.filter((each) => each.owner === this.owner);
    }
    for (const each of this.list) each.held = false; // whoever held it is gone
    window.addEventListener("online", () => this.send());
    this.on.changed();
    this.send();
    return this;
  }

  get keeps() {
    return Boolean(this.store);
  }

  get waiting() {
    return this.list.filter((each) => !each.refused).length;
  }

  get refused() {
    return this.list.filter((each) => each.refused).length;
  }

  has(kind) {
    return this.list.some((each) => each.entry.kind === kind && !each.refused);
  }

  /** Keeps an entry; `held` ones wait until `release` or `done`, for the live line may bring them. */
  async put(entry, { recording = null, held = false } = {}) {
    const kept = { owner: this.owner, entry, recording, held };
    if (this.store) kept.seq = await this.store.add("entries", kept);
    this.list.push(kept);
    this.on.changed();
    if (!held) this.send();
    return kept;
  }

  /** It came another way. */
  async done(kept) {
    this.list = this.list.filter((each) => each !== kept);
    if (this.store) await this.store.delete("entries", kept.seq);
    if (TRIES.includes(kept.entry.kind)) this.sent += 1;
    this.on.changed();
    this.send(); // what was behind it may go now
  }

  release(kept) {
    kept.held = false;
    this.send();
  }

  /** Sends what may go, one after another; tries again while there is no network. */
  async send() {
    if (this.running || this.signedOut) return;
    this.running = true;
    let wait = FIRST_WAIT_MS;
    for (let next; (next = this.list.find((each) => !each.refused)) && !next.held; ) {
      const outcome = await this.post(next);
      if (outcome === "later") {
        this.on.changed();
        await pause(wait);
        wait = Math.min(wait * 2, LONGEST_WAIT_MS);
      } else if (outcome === "signed out") {
        this.signedOut = true;
        this.on.signedOut();
        break;
      } else {
        wait = FIRST_WAIT_MS;
      }
    }
    this.running = false;
  }

  async post(kept) {
    const form = new FormData();
    form.append("entry", JSON.stringify(kept.entry));
    form.append("sent_at", new Date().toISOString());
    if (kept.recording) form.append("recording", kept.recording, "try.wav");
    const token = document.querySelector("[name=csrfmiddlewaretoken]").value;
    try {
      const response = await fetch(this.url, { method: "POST", body: form, headers: { "X-CSRFToken": token }, redirect: "manual" });
      if (response.type === "opaqueredirect" || response.status === 403 || response.status === 404) return "signed out";
      if (response.status === 422) return await this.refuse(kept, (await response.json()).sentence);
      if (!response.ok) return "later";
      const answer = await response.json();
      await this.done(kept);
      this.on.arrived(kept.entry, answer);
      return "sent";
    } catch {
      return "later";
    }
  }

  /** The server will never take it: it stays here, and is said. */
  async refuse(kept, sentence) {
    kept.refused = sentence;
    if (this.store) await this.store.put("entries", kept);
    this.on.changed();
    this.on.refused(kept.entry, sentence);
    return "refused";
  }

  async remember(name, value) {
    if (this.store) await this.store.put("state", value, `${this.owner}:${name}`);
  }

  async recall(name) {
    return this.store ? this.store.get("state", `${this.owner}:${name}`) : undefined;
  }
}
