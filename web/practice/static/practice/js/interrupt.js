// What may break into a step: stop, pause, skip, again, leave. A step waits on `now` and rejects with it.

export class Interrupt {
  constructor() {
    this.arm();
  }

  /** A new chance to be interrupted; the one before can no longer be. */
  arm() {
    this.reason = null;
    this.now = new Promise((_, reject) => (this.reject = reject));
    this.now.catch(() => {}); // nobody may be waiting
    return this.now;
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
