// State that the parts of a session share: the plan, the progress, the connections to the clinic. Everything
// they pass to one another is declared here; add nothing elsewhere.

import { Interrupt } from "./interrupt.js";

/** @typedef {{turn: number, try: number}} At */
/**
 * @typedef {{order: any[], place: number, at: At, asked: boolean, safe: boolean, done: number,
 *   skipped: number, offered?: boolean, unrated?: {id: string, name: string}[],
 *   held?: Record<number, number[]>}} Progress
 */

// Adults read plain text at about 4 words a second (Brysbaert, 2019, J. Memory Lang. 109, 104047); half of
// that leaves time to understand it.
const WORDS_A_SECOND = 2;
const SHORTEST_READ_S = 5;

/** Actions that an interrupted part must not take any more. */
const WAITS = ["mark", "put", "endLoud", "reached", "rateLater", "measured", "unmeasured"];

export class Practice {
  /** @param {any} plan @param {{emergency: string, stages: Map<number, string>}} page */
  constructor(plan, { emergency, stages }) {
    this.plan = plan;
    this.emergency = emergency;
    /** Picture of the try, by task. */
    this.stages = stages;
    this.interrupt = new Interrupt();
    /** @type {any} the session as it is told to the clinic */
    this.session = null;
    /** @type {Progress | null} */
    this.progress = null;
    /** Once more, or extra: one try per task and no questions after it. */
    this.extra = false;
    /** Factor for the length of pauses. */
    this.pace = 1;
    /** Tasks begin by themselves, and effort is asked once at the end. */
    this.handsFree = false;
    /** The device's own voice reads each new screen. */
    this.readsAloud = false;
    /** @type {import("./one_switch.js").OneSwitch} */
    this.oneSwitch = null;
    /** @type {import("./reading_aloud.js").ReadingAloud} */
    this.reading = null;

    // The task on the screen.
    /** @type {any} */
    this.block = null;
    /** @type {{target?: number | null, instead?: any}} what was chosen on its first screen */
    this.begun = {};
    /** @type {string | null} the stop whose advice stays on the screen, though it was taken back */
    this.staysOn = null;
    /** Withdraws the previous try instead of the current one. */
    this.canRepeat = false;
    /** @type {((key: string, answer: any) => void) | null} hears the clinic's answer to a try that was
     * sent after its screen had gone on without one */
    this.onAnswer = null;
    /** @type {Element[] | null} the line that is to be said */
    this.sayNow = null;
    /** @type {(() => void) | null} puts away what the screen has opened */
    this.closing = null;

    // The connections to the clinic and the device's storage; set once the page is ready.
    /** @type {import("./store.js").Store} */
    this.store = null;
    /** @type {keyof typeof import("./settings.js").STORE_WORDS | ""} */
    this.storeTrouble = "";
    /** @type {import("./outbox.js").Outbox} */
    this.outbox = null;
    /** @type {import("./stops.js").Stops} */
    this.stops = null;
    /** @type {import("./day.js").Day} */
    this.day = null;
    /** @type {Promise<any>} practice so far, as the clinic has it; null where it could not be read */
    this.soFar = Promise.resolve(null);
    /** @type {{worklet: string, take: (task: any) => string}} */
    this.urls = null;
    /** @type {{kind: string, url: (task: any, number?: number) => string}} where sound is from */
    this.source = null;
    /** @type {(kind: string, how?: {kept?: boolean}) => void} */
    this.chooseSource = null;
    /** @type {(goesOn: boolean, key: string) => Promise<void>} the clinic's answer to a stop taken back */
    this.tookBack = async () => {};
    /** @type {(() => void) | null} shows again how far a stop has come */
    this.tellsOf = null;
    /** The link was disabled while the page was open. */
    this.isClosed = false;
  }

  /** Seconds that a screen with this many words stays before it continues by itself; 0 waits for a press. */
  readingTime(words) {
    if (!this.handsFree) return 0;
    return Math.round(this.pace * Math.max(SHORTEST_READ_S, words.split(/\s+/).length / WORDS_A_SECOND));
  }

  /** Nothing is asked after half a minute; Stop stays available. */
  get isQuick() {
    return this.extra || this.session?.sort === "reset";
  }

  /** An event with its key, its time and its session. */
  entry(kind, key = crypto.randomUUID()) {
    return { kind, key, at: new Date().toISOString(), session: this.session };
  }

  /** A report about the session, or about a block. */
  mark(mark, value, block = null) {
    return this.put({ ...this.entry("mark"), mark, value, task: block?.turns[0].task ?? null });
  }

  /** Stores an entry until the clinic has it. */
  put(entry) {
    return this.outbox.put(entry);
  }

  /** No more loud work today. */
  endLoud() {
    return this.day.endLoud();
  }

  /** Saves the position in the session. */
  async saveProgress(progress, session = this.session) {
    this.progress = progress;
    await this.outbox.remember("progress", progress && { ...progress, session });
  }

  /** A hold of this task was measured. */
  measured(task, seconds) {
    const { held = {} } = this.progress;
    return this.saveProgress({
      ...this.progress,
      held: { ...held, [task]: [...(held[task] ?? []), seconds] },
    });
  }

  /** The last one does not count. */
  unmeasured(task) {
    const { held = {} } = this.progress;
    return this.saveProgress({
      ...this.progress,
      held: { ...held, [task]: (held[task] ?? []).slice(0, -1) },
    });
  }

  /** The effort of this block is asked at the end of the session. */
  rateLater({ id, name }) {
    return this.saveProgress({ ...this.progress, unrated: [...(this.progress.unrated ?? []), { id, name }] });
  }

  /** @param {At} at */
  reached(at) {
    return this.saveProgress({ ...this.progress, at });
  }

  /**
   * The same state for one part of the session: once interrupted, it stays so. Steps that wait for the store
   * during an interruption neither continue, show nor listen afterwards.
   * @returns {Practice}
   */
  forPart() {
    const { now } = this.interrupt;
    const mine = { interrupt: { now } };
    for (const name of WAITS) {
      mine[name] = async (...given) => {
        const found = await this[name](...given);
        if (now.over) throw now.over;
        return found;
      };
    }
    return new Proxy(this, { get: (all, name) => mine[name] ?? all[name] });
  }
}
