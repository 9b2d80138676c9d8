// What was done waits here until the server says that it has it, whatever happens to the network, the
// tab or the battery. Each entry has a fate of its own: sent, kept here, or refused; words do not wait for
// sounds, and none waits for another. Only what is this person's own is ever sent. The page knows what
// it was told; what it leaves behind on the device is sealed, and goes as it lies there.

import { csrfToken } from "../../ui/js/token.js";

const FIRST_WAIT_MS = 800;
const LONGEST_WAIT_MS = 60000;
const AWAY_MS = 15000;
const SIGNED_OUT_MS = 30000;
const PATIENCE_MS = { words: 30000, sounds: 120000 };
const TRIES = ["sound", "timed", "told"];
const WAV = "data:audio/wav;base64,";
const TOO_LARGE = "It is too large to be sent.";

/** What stands readable outside of a seal. */
const outside = ({ kind, key, at }, recording) => ({ kind, key, at, sounds: Boolean(recording) });

/** A recording as a data address: base64 of its WAV file. */
const asText = (recording) =>
  new Promise((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result);
    reader.readAsDataURL(recording);
  });

export class Outbox {
  /** `on` has changed, arrived(kept, answer), refused(kept, sentence), closed and unkept(kept). */
  constructor({ owner, url, openedUrl, page, store, seal, receipts, epoch, on }) {
    this.owner = owner;
    /** @type {import("./receipts.js").Receipts} */
    this.receipts = receipts;
    /** Of the clinic's records, as it was told last. */
    this.epoch = epoch;
    this.url = url;
    this.openedUrl = openedUrl;
    /** @type {import("./seal.js").Seal} */
    this.seal = seal;
    this.page = page;
    /** @type {import("./store.js").Store} */
    this.store = store;
    this.on = on;
    this.sent = 0;
    /** @type {any[]} */
    this.list = [];
    this.line = "open"; // or "away", "signed_out", "closed"
    this.lanes = { words: { until: 0 }, sounds: { until: 0 } };
  }

  async open() {
    const all = await this.store.entries();
    this.list = all.filter((each) => each.owner === this.owner);
    for (const each of this.list) {
      Object.assign(each, { held: false, next: 0 }); // whoever held it is gone
      if (each.entry) await this.shut(each); // as the version before left it
    }
    await this.offerAgain();
    window.addEventListener("online", () => this.hurry());
    document.addEventListener("visibilitychange", () => document.hidden || this.hurry());
    this.on.changed();
    this.send();
    return this;
  }

  /** How much is on its way; the end of a session that may yet be taken back is not. */
  get waiting() {
    return this.list.filter((each) => !each.refused && !(each.held && each.kind === "ended")).length;
  }

  get refused() {
    return this.list.filter((each) => each.refused);
  }

  /** Keeps an entry; `held` ones wait until `release` or `done`, for the live line may bring them. */
  async put(entry, { recording = null, held = false } = {}) {
    /** @type {any} */
    const kept = {
      owner: this.owner,
      ...outside(entry, recording),
      entry,
      recording,
      held,
      tries: 0,
      next: 0,
    };
    this.list.push(kept); // first of all: a store that is slow or full costs nobody the result
    const left = await this.left(kept);
    const seq = left && (await this.store.add(left));
    if (seq === undefined) this.on.unkept(kept);
    else if (this.list.includes(kept)) kept.seq = seq;
    else await this.store.remove(seq); // it came while it was being kept
    this.on.changed();
    if (!held) this.send();
    return kept;
  }

  /** What of it is left on the device: when, of what kind, and the rest sealed; nothing if it cannot be. */
  async left(/** @type {any} */ { entry, recording, sealed, ...readable }) {
    try {
      return { ...readable, sealed: sealed ?? (await this.seal.of(entry, recording)) };
    } catch {
      return undefined;
    }
  }

  /** Seals what lies open in the store. */
  async shut(kept) {
    Object.assign(kept, outside(kept.entry, kept.recording));
    const left = await this.left(kept);
    if (left) await this.store.put(left);
  }

  /** The clinic has it, by whatever way; what it answered has the receipt. */
  async done(kept, answer) {
    this.list = this.list.filter((each) => each !== kept);
    if (answer) await this.receipts.add(kept, answer);
    if (kept.seq !== undefined) await this.store.remove(kept.seq);
    if (TRIES.includes(kept.kind) && !kept.again) this.sent += 1;
    this.on.changed();
    if (answer?.epoch && answer.epoch !== this.epoch) {
      this.epoch = answer.epoch;
      await this.offerAgain();
      this.send();
    }
  }

  /** The clinic's records were restored: what it had before goes once more, as what waits does. */
  async offerAgain() {
    for (const each of await this.receipts.ofOtherEpochs(this.epoch)) {
      const { kind, key, at, sealed, id } = each;
      /** @type {any} */
      const again = { owner: this.owner, kind, key, at, sounds: false, sealed, held: false, again: true };
      Object.assign(again, { tries: 0, next: 0 });
      const seq = await this.store.add({ ...again });
      if (seq !== undefined) again.seq = seq;
      this.list.push(again);
      await this.receipts.remove(id);
    }
    this.on.changed();
  }

  release(kept) {
    kept.held = false;
    this.send();
  }

  /** The line may be there again, or somebody has signed in. */
  hurry() {
    if (this.line === "closed") return;
    this.line = "open";
    for (const lane of Object.values(this.lanes)) lane.until = 0;
    for (const each of this.list) each.next = 0;
    this.send();
  }

  send() {
    for (const name of Object.keys(this.lanes)) this.run(name);
  }

  /** What of a lane may go now, the oldest first; and when to come by again where nothing may. */
  async run(name) {
    const lane = this.lanes[name];
    clearTimeout(lane.timer);
    if (lane.running || this.line === "closed") return;
    lane.running = true;
    const own = () =>
      this.list.filter((each) => !each.refused && !each.held && each.sounds === (name === "sounds"));
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
      await this.done(kept, answer);
      return this.on.arrived(kept, answer);
    }
    // a way to another page, a form that has expired or a page of nobody's: nothing is wrong with the entry
    if (response.type === "opaqueredirect" || [401, 403].includes(response.status)) {
      for (const each of Object.values(this.lanes)) each.until = Date.now() + SIGNED_OUT_MS;
      return this.state("signed_out");
    }
    if (response.status === 410 && answer?.state === "closed") {
      this.state("closed");
      return this.on.closed(answer.sentence, answer.keeps);
    }
    // a server of the version before knows no seal, and cannot have refused what is in it
    const unread = !kept.entry && response.status === 422 && answer?.state !== "refused";
    if (response.status >= 500 || response.status === 429 || response.ok || unread)
      return this.later(kept, response, lane);
    return this.refuse(
      kept,
      response.status === 413 ? TOO_LARGE : (answer?.sentence ?? "The clinic could not take it."),
      response.status,
    );
  }

  /** This one again, after a while of its own; the others go on unless the server asks for a pause. */
  later(kept, response, lane) {
    kept.tries += 1;
    kept.next = Date.now() + Math.min(FIRST_WAIT_MS * 2 ** kept.tries, LONGEST_WAIT_MS);
    const pause = Number(response.headers.get("Retry-After"));
    if (pause) lane.until = Date.now() + 1000 * Math.min(pause, 60);
    this.state("open");
  }

  state(line) {
    this.line = line;
    this.on.changed();
  }

  post(kept, patience) {
    const form = new FormData();
    if (kept.entry) form.append("entry", JSON.stringify(kept.entry));
    else form.append("sealed", kept.sealed);
    form.append("sent_at", new Date().toISOString());
    if (kept.recording) form.append("recording", kept.recording, "try.wav");
    return this.ask(this.url, form, patience);
  }

  ask(url, form, patience) {
    const headers = { "X-CSRFToken": csrfToken(), "X-Practice-Page": this.page, Accept: "application/json" };
    return fetch(url, {
      method: "POST",
      body: form,
      headers,
      redirect: "manual",
      signal: AbortSignal.timeout(patience),
    });
  }

  /** The server will never take it: it stays here, is said, and can be saved to a file. */
  async refuse(kept, sentence, status = 422) {
    Object.assign(kept, { refused: sentence, status });
    const left = kept.seq === undefined ? undefined : await this.left(kept);
    if (left) await this.store.put(left);
    this.on.changed();
    this.on.refused(kept, sentence);
  }

  /** What was refused, to be read: as this page knows it, or as the clinic opens it; gives nothing where
   * it cannot be opened now. */
  async opened({ entry, recording, sealed }) {
    if (entry) return { entry, recording: recording && (await asText(recording)) };
    const form = new FormData();
    form.append("sealed", sealed);
    try {
      const found = await (await this.ask(this.openedUrl, form, PATIENCE_MS.sounds)).json();
      return { entry: JSON.parse(found.entry), recording: found.recording && WAV + found.recording };
    } catch {
      return undefined;
    }
  }

  /** Takes what was refused off this device, once somebody has saved it or does not want it. */
  async dropRefused() {
    const gone = this.refused;
    this.list = this.list.filter((each) => !each.refused);
    for (const each of gone) if (each.seq !== undefined) await this.store.remove(each.seq);
    this.on.changed();
  }

  remember(name, value) {
    return this.store.remember(`${this.owner}:${name}`, value);
  }

  recall(name) {
    return this.store.recall(`${this.owner}:${name}`);
  }
}
