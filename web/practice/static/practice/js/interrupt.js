// What may break into a step: stop, pause, skip, again, leave. A step waits on `now` and rejects with it.

export class Interrupt {
  constructor() {
    this.arm();
  }

  /** A new chance to be interrupted; the one before can no longer be. */
  arm() {
    // a stop that nobody has answered yet is never lost between one step and the next
    const kept = this.reason?.what === "stop" && !this.reason.taken ? this.reason : null;
    this.reason = kept;
    this.now = new Promise((_, reject) => (this.reject = reject));
    // also one that came on the heels of a pause: the promise of then carries the pause
    if (kept) this.breakIn(kept);
    this.now.catch(() => {}); // nobody may be waiting
    return this.now;
  }

  /** `over` says it without waiting: nothing is shown any more by whoever was interrupted. */
  breakIn(reason) {
    this.now.over ??= reason;
    this.reject(reason);
  }

  /** This one is being answered; the next is another. */
  taken(reason) {
    reason.taken = true;
  }

  with(what, more = {}) {
    this.breakIn((this.reason = new Interrupted(what, more)));
  }
}

export class Interrupted extends Error {
  /** @param {string} what @param {{flag?: string}} more */
  constructor(what, more) {
    super(what);
    this.what = what;
    this.flag = more.flag;
    /** Being answered. */
    this.taken = false;
  }
}
