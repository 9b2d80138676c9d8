// One take from its source to the server: opens the sound, records, streams, and reports the end. At any end
// the microphone closes, also one that opens only after the end.

import { onGaps, openMicrophone, openSimulated, record } from "./recorder.js";
import { Take, TakeLine } from "./take.js";
import { gettext } from "../../ui/js/words.js";

export const MICROPHONE_TROUBLE = {
  NotAllowedError: gettext(
    "The browser was not allowed to use the microphone. Allow it in the address bar and try again.",
  ),
  NotFoundError: gettext("No microphone was found. Plug one in and try again."),
  NotReadableError: gettext("Another program is using the microphone. Close it and try again."),
};
const NO_SOUND = gettext("The microphone gave no sound. Try again.");
const ASLEEP = gettext("This device has not allowed sound yet. Press Try again.");
const NO_RECORDER = gettext("The recorder could not be loaded. Try again when you are online.");
const SIGNED_OUT = gettext("You are signed out. Reload the page and try again.");
export const CUT_SHORT = gettext(
  "The microphone was disconnected. This try was not saved. Check the microphone and try again.",
);

export const MUTED = gettext(
  "The microphone was muted, perhaps by a call. This try was not saved. Unmute it and try again.",
);
export const AWAY = gettext(
  "This page was not in front, so the sound has gaps. This try was not saved. Try again.",
);

/** Errors of opening a source, in words. */
export const openingProblem = (kind, error) =>
  (kind === "microphone" && MICROPHONE_TROUBLE[error.name]) ||
  { AudioAsleep: ASLEEP, NoRecorder: NO_RECORDER }[error.name] ||
  NO_SOUND;

/**
 * `how` has kind, workletUrl, simulatedUrl, takeUrl, and ready, frames, saving, saved, failed and lost;
 * optionally `about` (describes the take once it is recording), `block` (each incoming block), `recorded`
 * (the whole), `closed` (no live answer, but it may be sent another way) and `busy` (measured afterwards).
 */
export class Listening {
  constructor(how) {
    this.how = how;
    this.stopping = false;
    this.over = false;
    /** Stops watching the recording. */
    this.watch = new AbortController();
  }

  async begin() {
    const { kind, simulatedUrl, workletUrl, takeUrl, about, ...on } = this.how;
    let take = null;
    try {
      this.source = kind === "microphone" ? await openMicrophone() : await openSimulated(simulatedUrl);
      if (this.over) return this.close();
      this.recording = await record(this.source, workletUrl, (block) => {
        take?.add(block);
        this.line?.flush();
        on.block?.(block);
      });
    } catch (error) {
      this.close();
      if (!this.over) on.failed(openingProblem(kind, error), { noSource: true });
      return;
    }
    if (this.over) return this.recording.stop();
    take = this.take = new Take(Math.round(this.recording.rate));
    this.capture = this.source.capture;
    const afterwards = on.busy ?? on.lost;
    this.line = new TakeLine(
      takeUrl,
      take,
      { source: kind, capture: this.source.capture, about: about && about(this.recording) },
      {
        ready: on.ready,
        frames: (chunk) => this.over || on.frames(chunk),
        saved: (message) => this.end(() => on.saved(message.stage, message)),
        refused: ({ sentence }) => this.end(() => on.failed(sentence)),
        busy: afterwards,
        closed: () => (on.closed ? on.closed() : this.end(() => on.failed(SIGNED_OUT))),
        lost: on.lost,
      },
    );
    this.source.onLost(() => (this.source.whole ? this.stop() : this.cutShort(CUT_SHORT)));
    this.source.onMuted(() => this.cutShort(MUTED), this.watch.signal);
    onGaps(() => this.cutShort(AWAY), this.watch.signal);
    if (this.source.isMuted()) this.cutShort(MUTED);
  }

  /** The sound is complete: measure and save it. */
  async stop() {
    if (this.stopping || this.over || !this.line) return;
    this.stopping = true;
    this.watch.abort();
    this.how.saving();
    await this.recording.stop();
    if (this.over) return;
    await this.how.recorded?.(this.take);
    if (!this.over) this.line.stop();
  }

  /** The sound is incomplete: part of a hold is no try. `words` give the reason. */
  cutShort(words) {
    if (this.stopping || this.over) return;
    this.abandon();
    this.how.failed(words, { cutShort: true });
  }

  /** Discards it; nothing is saved, and the microphone closes now. */
  abandon() {
    this.over = true;
    this.watch.abort();
    this.line?.abandon();
    this.close();
    return this.recording?.stop();
  }

  close() {
    this.source?.close();
  }

  async end(then) {
    if (this.over) return;
    this.over = true;
    this.watch.abort();
    if (!this.stopping) await this.recording.stop();
    then();
  }
}
