// The pitch of a sound as measured by the server and, for its newest part, by the device. Two pictures draw
// it: the growing reed, and the course of a glide.

const FRAME_S = 0.01;
const MATCHED_FRAMES = 20; // Frames with both, from which their difference is taken.
// By now the server has found the voice, if there is one: frames without one are not drawn any more.
const DISAGREES_S = 1.2;

// A held voice stays within a step of its note: sound farther off for a good part of a second, on and off, is
// another source. A break of the voice is shorter.
const OFF_CENTS = 250;
const LOOKED_AT_FRAMES = 150;
const OTHER_SHARE = 0.25;
const LEAST_FRAMES = 60;

const median = (values) => values.sort((a, b) => a - b)[values.length >> 1];

export class HeardPitch {
  constructor() {
    /** @type {(number | null)[]} measured, one a frame of 10 ms */
    this.cents = [];
    /** @type {Map<number, number | null>} points of measured frames, which do not change any more */
    this.pointsAt = new Map();
    /** @type {any} the hold as the server has it so far */
    this.hold = null;
    /** @type {import("./device_ear.js").DeviceEar | null} */
    this.ear = null;
  }

  /** The server's new frames. */
  add(cents, hold) {
    this.cents.push(...cents);
    this.hold = hold;
  }

  /** Number of frames known from either. */
  get length() {
    return Math.max(this.cents.length, this.ear?.cents.length ?? 0);
  }

  /** The hold as the server has it, or as the device has it until then; null for none. */
  currentHold() {
    if (this.hold?.start_s != null) return this.hold;
    const { ear } = this;
    if (!ear || ear.start_s === null || this.cents.length * FRAME_S - ear.start_s > DISAGREES_S) return null;
    const cents = ear.cents.slice(ear.startFrame, ear.startFrame + MATCHED_FRAMES);
    const known = cents.filter((value) => value !== null);
    const centre = known.length ? median(known) : 0;
    return { start_s: ear.start_s, seconds: ear.seconds, ended: ear.isSilent, centre_cents: centre };
  }

  /** The pitch of the frames from one on; the device's pitch is shifted by the difference of the two. */
  points(from, count) {
    const measured = this.cents.length;
    const found = [];
    for (let at = from; at < from + count; at++) {
      const value = at < measured ? this.cents[at] : this.ear?.cents[at];
      if (value != null) found.push(at < measured ? value : value + this.difference());
    }
    return found;
  }

  /** The median pitch of `count` frames from one on; null if fewer than half of them have one. */
  point(from, count) {
    const isFinal = from + count <= this.cents.length;
    if (isFinal && this.pointsAt.has(from)) return this.pointsAt.get(from);
    const points = this.points(from, count);
    const middle = points.length < count / 2 ? null : median(points);
    if (isFinal) this.pointsAt.set(from, middle);
    return middle;
  }

  /** Semitones of the server's pitch above the device's: another tuning, or a rough octave. */
  difference() {
    const last = this.cents.length;
    if (this.differsAt === last) return this.differs;
    const both = [];
    for (let at = Math.max(0, last - MATCHED_FRAMES); at < last; at++) {
      const [server, device] = [this.cents[at], this.ear?.cents[at]];
      if (server != null && device != null) both.push(server - device);
    }
    this.differsAt = last;
    this.differs = both.length ? median(both) : 0;
    return this.differs;
  }

  /** Whether the last moments of a held note seem to contain another voice or sound. */
  get hasAnother() {
    if (!this.hold?.start_s || this.hold.ended) return false;
    const first = Math.max(this.cents.length - LOOKED_AT_FRAMES, Math.round(this.hold.start_s / FRAME_S));
    const cents = this.cents.slice(first).filter((value) => value !== null);
    if (cents.length < LEAST_FRAMES) return false;
    const other = cents.filter((value) => Math.abs(value - this.hold.centre_cents) > OFF_CENTS);
    const share = other.length / cents.length;
    return share >= OTHER_SHARE && share <= 1 - OTHER_SHARE;
  }

  /** The last frame of a hold, among the frames shown. */
  lastFrame(hold, shown) {
    const first = Math.round(hold.start_s / FRAME_S);
    if (hold.ended) return Math.min(shown, first + Math.round(hold.seconds / FRAME_S));
    const { ear } = this;
    const heardFrames = ear?.isSilent ? ear.startFrame + Math.round(ear.seconds / FRAME_S) : this.length;
    return Math.min(shown, Math.max(heardFrames, this.cents.length));
  }
}
