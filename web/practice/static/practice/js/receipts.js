// Receipts of acknowledged entries stay here for some days, encrypted. If the clinic restored its records
// from a backup, it reports another epoch: then receipts of earlier epochs are sent again. They have a store
// of their own that older pages never open.

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
      this.db = null; // Only a restore depends on it.
    }
    return this;
  }

  /** Stores the receipt of an entry that has arrived. */
  async add({ kind, key, at }, { receipt, epoch }) {
    if (!this.db || !receipt || !epoch) return;
    try {
      const sealed = await this.seal.of({ receipt });
      const id = `${this.owner} ${kind} ${key}`;
      const kept = { id, owner: this.owner, kind, key, at, epoch, since: Date.now(), sealed };
      await soon(this.db.put("receipts", kept));
    } catch {
      // A full store keeps unsent entries first.
    }
  }

  /** Entries acknowledged in earlier epochs. */
  async fromOtherEpochs(epoch) {
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
