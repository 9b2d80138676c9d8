// Reports that apply to the whole day, in every session on this device and, as far as the clinic knows, on
// others: no loud work after strain, no practice after light-headedness, and an end after the day's maximum
// of voicing.

export const today = () => new Date().toLocaleDateString("sv"); // 2026-11-26, by this device's own clock.

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
    // A cached page may be from another day: its reports of "today" belong to the day it was made.
    const seen = await this.outbox.recall("plan");
    if (seen?.made_at !== this.plan.made_at)
      await this.outbox.remember("plan", { made_at: this.plan.made_at, day: today() });
    this.fresh = seen?.made_at !== this.plan.made_at || seen.day === today();
    return this;
  }

  get loudOver() {
    return Boolean(this.now().loudOver || (this.fresh && this.plan.loud_over));
  }

  /** The flag that ended today's practice, or "". */
  get over() {
    return this.now().over || (this.fresh && this.plan.over_today) || null;
  }

  /** Voiced seconds today: the device's or the clinic's figure, whichever is larger. */
  get voicedS() {
    return Math.max(this.now().voicedS ?? 0, (this.fresh && this.plan.voiced.today_s) || 0);
  }

  /** Whether the day's maximum of voicing is reached. */
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

  /** Pressed by mistake: practice continues. */
  undoEnd() {
    return this.keep({ over: null });
  }
}
