// What may break into a step: stop, pause, skip, again, leave. A step waits on `now` and rejects with it.

export class Interrupt {
  constructor() {
    this.arm();
  }

  /** A new chance to be interrupted; the one before can no longer be. */
  arm() {
    // a stop that nobody has answered yet is never lost between one step and the next
    if (this.reason?.what === "stop" && !this.reason.taken) return this.now;
    this.reason = null;
    this.now = new Promise((_, reject) => (this.reject = reject));
    this.now.catch(() => {}); // nobody may be waiting
    return this.now;
  }

  /** This one is being answered; the next is another. */
  taken(reason) {
    reason.taken = true;
  }

  with(what, more = {}) {
    this.reason = new Interrupted(what, more);
    this.reject(this.reason);
  }
}

export class Interrupted extends Error {
  constructor(what, more) {
    super(what);
    this.what = what;
    Object.assign(this, more);
  }
}
