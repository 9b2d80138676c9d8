// What the clinic has acknowledged stays here for some days as its receipt, sealed. Where the clinic's
// records were restored from a backup, the epoch that it tells is another one: then the receipts of the
// epochs before are offered again. The store is one of its own, which a page of an older version never
// opens.

import { openDB } from "../../ui/vendor/idb.js";
import { soon } from "./patience.js";

export const RECEIPTS = "still-reed-practice-acknowledged";
const DAY_MS = 24 * 3600 * 1000;

export class Receipts {
  /**
   * @param {{owner: string, days: number, seal: import("./seal.js").Seal}} how `days` is how long they stay
   */
  constructor({ owner, days, seal }) {
    this.owner = owner;
    this.days = days;
    this.seal = seal;
  }

  async open() {
    try {
      this.db = await soon(
        openDB(RECEIPTS, 1, {
          upgrade: (db) => db.createObjectStore("receipts", { keyPath: "id" }),
          blocking: (_, __, event) => event.target.close(),
        }),
      );
      const oldest = Date.now() - this.days * DAY_MS;
      for (const each of await soon(this.db.getAll("receipts")))
        if (each.since < oldest) await soon(this.db.delete("receipts", each.id));
    } catch {
      this.db = null; // nothing depends on it but a restore
    }
    return this;
  }

  /** Keeps the receipt for what has arrived. */
  async add({ kind, key, at }, { receipt, epoch }) {
    if (!this.db || !receipt || !epoch) return;
    try {
      const sealed = await this.seal.of({ receipt });
      const id = `${this.owner} ${kind} ${key}`;
      const kept = { id, owner: this.owner, kind, key, at, epoch, since: Date.now(), sealed };
      await soon(this.db.put("receipts", kept));
    } catch {
      // a full store keeps what is unsent first
    }
  }

  /** What was acknowledged in other epochs than this one. */
  async ofOtherEpochs(epoch) {
    if (!this.db || !epoch) return [];
    try {
      const all = await soon(this.db.getAll("receipts"));
      return all.filter((each) => each.owner === this.owner && each.epoch !== epoch);
    } catch {
      return [];
    }
  }

  async remove(id) {
    if (this.db) await soon(this.db.delete("receipts", id)).catch(() => {});
  }
}
