// Interruptions of a step: stop, pause, skip, again, leave. A step waits on `now` and rejects with the
// interruption.

export class Interrupt {
  constructor() {
    this.arm();
  }

  /** Starts a new promise to interrupt; the previous one can no longer be interrupted. */
  arm() {
    // An unanswered stop is never lost between two steps.
    const kept = this.reason?.what === "stop" && !this.reason.taken ? this.reason : null;
    this.reason = kept;
    this.now = new Promise((_, reject) => (this.reject = reject));
    // Also a stop right after a pause: the previous promise rejects with the pause.
    if (kept) this.interruptWith(kept);
    this.now.catch(() => {}); // Possibly nothing waits for it.
    return this.now;
  }

  /** `over` tells it without waiting: an interrupted part shows nothing more. */
  interruptWith(reason) {
    this.now.over ??= reason;
    this.reject(reason);
  }

  /** This one is being answered; the next one is a new interruption. */
  taken(reason) {
    reason.taken = true;
  }

  with(what, more = {}) {
    this.interruptWith((this.reason = new Interrupted(what, more)));
  }
}

export class Interrupted extends Error {
  /** @param {string} what @param {{flag?: string}} more */
  constructor(what, more) {
    super(what);
    this.what = what;
    this.flag = more.flag;
    /** The interruption being answered. */
    this.taken = false;
  }
}
