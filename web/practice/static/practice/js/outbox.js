// What was done waits here until the server says that it has it, whatever happens to the network, the
// tab or the battery. Each entry has a fate of its own: sent, kept here, or refused; words do not wait for
// sounds, and none waits for another. Only what is this person's own is ever sent. The page knows what
// it was told; what it leaves behind on the device is sealed, and goes as it lies there.

import { ClinicRequests } from "./clinic_requests.js";
import { Lanes } from "./lanes.js";

const TRIES = ["sound", "timed", "told"];
/** What stands readable outside of a seal. */
const outside = ({ kind, key, at }, recording) => ({ kind, key, at, sounds: Boolean(recording) });

export class Outbox {
  /** `on` has changed, arrived(kept, answer), refused(kept, sentence), closed, unkept(kept) and
   * elsewhere(session key): the session was opened on another device since. */
  constructor({ owner, url, openedUrl, page, store, seal, receipts, epoch, on }) {
    this.owner = owner;
    /** @type {import("./receipts.js").Receipts} */
    this.receipts = receipts;
    /** Of the clinic's records, as it was told last. */
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

  /** How the way to the clinic is: "open", "away", "signed_out" or "closed". */
  get line() {
    return this.lanes.line;
  }

  send() {
    this.lanes.send();
  }

  /** The line may be there again, or somebody has signed in. */
  hurry() {
    this.lanes.hurry();
  }

  /** What was refused, to be read; gives nothing where it cannot be opened now. */
  opened(kept) {
    return this.requests.opened(kept);
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
    this.list.push(kept); // First: a slow or full store must not lose the result.
    this.on.changed(); // “All sent” must not stand while this is being sealed.
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
    if (answer?.elsewhere) this.on.elsewhere(answer.elsewhere);
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

  /** The server will never take it: it stays here, is said, and can be saved to a file. */
  async refuse(kept, sentence, status = 422) {
    Object.assign(kept, { refused: sentence, status });
    const left = kept.seq === undefined ? undefined : await this.left(kept);
    if (left) await this.store.put(left);
    this.on.changed();
    this.on.refused(kept, sentence);
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
