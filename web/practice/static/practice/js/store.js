// The device's own store of entries: one list and a few states. A full, blocked or missing store is reported
// by name, and never delays anything.

import { openDB } from "../../ui/vendor/idb.js";
import { soon } from "./patience.js";
import { RECEIPTS } from "./receipts.js";

const NAME = "still-reed-practice";

/** Problems of a store, as states of the page. */
const problemOf = (error) =>
  error?.name === "QuotaExceededError" ? "full" : error?.name === "TimeoutError" ? "blocked" : "none";

export class Store {
  /**
   * `trouble(name)` is called once for each: "none", "blocked" or "full".
   * @param {(name: any) => void} trouble
   */
  constructor(trouble = () => {}) {
    this.trouble = trouble;
  }

  async open() {
    try {
      this.db = await soon(
        openDB(NAME, 1, {
          upgrade(db) {
            db.createObjectStore("entries", { keyPath: "seq", autoIncrement: true });
            db.createObjectStore("state");
          },
          blocking: (_, __, event) => event.target.close(), // A newer page never has to wait.
          terminated: () => this.gone({ name: "TimeoutError" }),
        }),
      );
    } catch (error) {
      this.gone(error);
    }
    return this;
  }

  gone(error) {
    this.db = null;
    this.trouble(problemOf(error));
  }

  get keeps() {
    return Boolean(this.db);
  }

  /** Runs one operation on the store; returns null if it failed, and reports why. */
  async with(act) {
    if (!this.db) return undefined;
    try {
      return await soon(act(this.db));
    } catch (error) {
      if (error?.name === "TimeoutError" || error?.name === "InvalidStateError")
        this.gone({ name: "TimeoutError" });
      else this.trouble(problemOf(error));
      return undefined;
    }
  }

  entries() {
    return this.with((db) => db.getAll("entries")).then((all) => all ?? []);
  }

  add(kept) {
    return this.with((db) => db.add("entries", kept));
  }

  put(kept) {
    return this.with((db) => db.put("entries", kept));
  }

  remove(seq) {
    return this.with((db) => db.delete("entries", seq));
  }

  remember(name, value) {
    return this.with((db) => db.put("state", value, name));
  }

  recall(name) {
    return this.with((db) => db.get("state", name));
  }
}

/** Removes all practice data from this device. */
export async function forget() {
  for (const each of (await navigator.serviceWorker?.getRegistrations()) ?? []) await each.unregister();
  for (const name of await caches.keys()) await caches.delete(name);
  for (const name of Object.keys(localStorage))
    if (name.startsWith("still-reed:")) localStorage.removeItem(name);
  for (const name of [NAME, RECEIPTS])
    await new Promise((resolve) => {
      const gone = indexedDB.deleteDatabase(name);
      gone.onsuccess = gone.onerror = gone.onblocked = resolve;
    });
}
