// Entries wait here until the server has them, whatever happens to the network, the tab or the battery. Each
// one is sent, kept or rejected on its own. Texts do not wait for sounds, and no entry waits for another.
// Only this person's entries are sent. The page knows its own entries; what it leaves on the device is
// encrypted, and is sent as it is.

import { ClinicRequests } from "./clinic_requests.js";
import { Lanes } from "./lanes.js";

const TRIES = ["sound", "timed", "told"];
/** Fields that stay readable outside the encryption. */
const outside = ({ kind, key, at }, recording) => ({ kind, key, at, sounds: Boolean(recording) });

export class Outbox {
  /**
   * `on` has changed, arrived(entry, answer), refused(entry, sentence), closed, unkept(entry) and
   * elsewhere(session key): the session was opened on another device since.
   */
  constructor({ owner, url, openedUrl, page, store, seal, receipts, epoch, on }) {
    this.owner = owner;
    /** @type {import("./receipts.js").Receipts} */
    this.receipts = receipts;
    /** The last known epoch of the clinic's records. */
    this.epoch = epoch;
    this.requests = new ClinicRequests({ url, openedUrl, page });
    /** @type {import("./seal.js").Seal} */
    this.seal = seal;
    /** @type {import("./store.js").Store} */
    this.store = store;
    this.on = on;
    this.sent = 0;
    /** @type {any[]} */
    this.list = [];
    this.lanes = new Lanes({
      entries: () => this.list,
      post: (kept, patience) => this.requests.post(kept, patience),
      taken: async (kept, answer) => {
        await this.done(kept, answer);
        on.arrived(kept, answer);
      },
      refused: (kept, sentence, status) => this.refuse(kept, sentence, status),
      closed: on.closed,
      changed: () => this.on.changed(),
    });
  }

  /** The connection to the clinic: "open", "away", "signed_out" or "closed". */
  get line() {
    return this.lanes.line;
  }

  send() {
    this.lanes.send();
  }

  /** The connection may be back, or a user has signed in. */
  retryNow() {
    this.lanes.retryNow();
  }

  /** The content of a rejected entry; null if it cannot be decrypted now. */
  opened(kept) {
    return this.requests.opened(kept);
  }

  async open() {
    const all = await this.store.entries();
    this.list = all.filter((each) => each.owner === this.owner);
    for (const each of this.list) {
      Object.assign(each, { held: false, next: 0 }); // The page that held it is gone.
      if (each.entry) await this.shut(each); // Left by the previous version.
    }
    await this.resend();
    window.addEventListener("online", () => this.retryNow());
    document.addEventListener("visibilitychange", () => document.hidden || this.retryNow());
    this.on.changed();
    this.send();
    return this;
  }

  /** Number of entries being sent; an end that can still be withdrawn does not count. */
  get waiting() {
    return this.list.filter((each) => !each.refused && !(each.held && each.kind === "ended")).length;
  }

  get refused() {
    return this.list.filter((each) => each.refused);
  }

  /**
   * Stores an entry; `held` ones wait until `release` or `done`, because the live connection may send them.
   */
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
    this.list.push(kept); // First, because a slow or full store must not lose the result.
    this.on.changed(); // “All sent” must not show while this is being encrypted.
    const left = await this.left(kept);
    const seq = left && (await this.store.add(left));
    if (seq === undefined) this.on.unkept(kept);
    else if (this.list.includes(kept)) kept.seq = seq;
    else await this.store.remove(seq); // It arrived while it was being stored.
    this.on.changed();
    if (!held) this.send();
    return kept;
  }

  /** The part that stays on the device: time and kind, and the rest encrypted; null if it cannot be. */
  async left(/** @type {any} */ { entry, recording, sealed, ...readable }) {
    try {
      return { ...readable, sealed: sealed ?? (await this.seal.of(entry, recording)) };
    } catch {
      return undefined;
    }
  }

  /** Encrypts the readable entries in the store. */
  async shut(kept) {
    Object.assign(kept, outside(kept.entry, kept.recording));
    const left = await this.left(kept);
    if (left) await this.store.put(left);
  }

  /** The clinic has it, by whichever way; its answer includes the receipt. */
  async done(kept, answer) {
    this.list = this.list.filter((each) => each !== kept);
    if (answer) await this.receipts.add(kept, answer);
    if (kept.seq !== undefined) await this.store.remove(kept.seq);
    if (TRIES.includes(kept.kind) && !kept.again) this.sent += 1;
    this.on.changed();
    if (answer?.elsewhere) this.on.elsewhere(answer.elsewhere);
    if (answer?.epoch && answer.epoch !== this.epoch) {
      this.epoch = answer.epoch;
      await this.resend();
      this.send();
    }
  }

  /** The clinic restored its records: send acknowledged entries again, like waiting ones. */
  async resend() {
    for (const each of await this.receipts.fromOtherEpochs(this.epoch)) {
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

  /** The server will never accept it: it stays here, is shown, and can be saved to a file. */
  async refuse(kept, sentence, status = 422) {
    Object.assign(kept, { refused: sentence, status });
    const left = kept.seq === undefined ? undefined : await this.left(kept);
    if (left) await this.store.put(left);
    this.on.changed();
    this.on.refused(kept, sentence);
  }

  /** Removes a rejected entry once a user has saved it or does not want it. */
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
