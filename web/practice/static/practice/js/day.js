// What was said today holds for the whole day, in every session on this device and, as far as the clinic
// knows of it, on any other: no more loud work after strain, no more at all after light-headedness, and
// enough once the voice has sounded for as long as a day may ask of it.

export const today = () => new Date().toLocaleDateString("sv"); // 2026-11-26, by this device's own clock

export class Day {
  constructor(plan, outbox) {
    this.plan = plan;
    /** @type {import("./outbox.js").Outbox} */
    this.outbox = outbox;
    /** @type {any} */
    this.kept = {};
  }

  async open() {
    const kept = await this.outbox.recall("day");
    this.kept = kept?.day === today() ? kept : { day: today() };
    // a page out of the cache may be of another day: what it says of "today" held on the day it was made
    const seen = await this.outbox.recall("plan");
    if (seen?.made_at !== this.plan.made_at)
      await this.outbox.remember("plan", { made_at: this.plan.made_at, day: today() });
    this.fresh = seen?.made_at !== this.plan.made_at || seen.day === today();
    return this;
  }

  get loudOver() {
    return Boolean(this.now().loudOver || (this.fresh && this.plan.loud_over));
  }

  /** The flag that ended today's practice, or nothing. */
  get over() {
    return this.now().over || (this.fresh && this.plan.over_today) || null;
  }

  /** Seconds for which the voice has sounded today: what this device has heard or what the clinic has,
   * whichever is more. */
  get voicedS() {
    return Math.max(this.now().voicedS ?? 0, (this.fresh && this.plan.voiced.today_s) || 0);
  }

  /** The voice has sounded for as long as a day may ask of it. */
  get isFull() {
    return this.voicedS >= this.plan.voiced.cap_s;
  }

  heard(seconds) {
    return this.keep({ voicedS: this.voicedS + seconds });
  }

  now() {
    if (this.kept.day !== today()) this.kept = { day: today() };
    return this.kept;
  }

  endLoud() {
    return this.keep({ loudOver: true });
  }

  end(flag) {
    return this.keep({ over: flag });
  }

  keep(more) {
    this.kept = { ...this.now(), ...more };
    return this.outbox.remember("day", this.kept);
  }

  /** It was a slip: practice is not over after all. */
  unend() {
    return this.keep({ over: null });
  }
}
