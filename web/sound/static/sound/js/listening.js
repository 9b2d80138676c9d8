// One take from its source to the server: opens the sound, records, streams, and says how it ended.

import { openMicrophone, openSimulated, record } from "./recorder.js";
import { Take, TakeLine } from "./take.js";

export const MICROPHONE_TROUBLE = {
  NotAllowedError: "The browser was not allowed to use the microphone. Allow it in the address bar and try again.",
  NotFoundError: "No microphone was found. Plug one in and try again.",
  NotReadableError: "Another program is using the microphone. Close it and try again.",
};
const NO_SOUND = "No sound could be had from there. Try again.";
const SIGNED_OUT = "This page is no longer signed in. Load it again and try once more.";

/** What went wrong with opening a source, in words. */
export const troubleWith = (kind, error) => (kind === "microphone" && MICROPHONE_TROUBLE[error.name]) || NO_SOUND;

/**
 * `how` has kind, workletUrl, simulatedUrl, takeUrl, and ready, frames, saving, saved, failed and lost;
 * where wanted `about` (what the take is of), `block` (each block as it comes), `recorded` (the whole)
 * and `closed` (nobody will hear it here, but it may go another way).
 */
export class Listening {
  constructor(how) {
    this.how = how;
    this.stopping = false;
    this.over = false;
  }

  async begin() {
    const { kind, simulatedUrl, workletUrl, takeUrl, about, ...on } = this.how;
    let source;
    try {
      source = kind === "microphone" ? await openMicrophone() : await openSimulated(simulatedUrl);
    } catch (error) {
      on.failed(troubleWith(kind, error), { noSource: true });
      return;
    }
    let take = null;
    this.recording = await record(source, workletUrl, (block) => {
      take?.add(block);
      this.line?.flush();
      on.block?.(block);
    });
    take = this.take = new Take(Math.round(this.recording.rate));
    this.capture = source.capture;
    this.line = new TakeLine(takeUrl, take, { source: kind, capture: source.capture, about }, {
      ready: on.ready,
      frames: (heard) => this.over || on.frames(heard),
      saved: (message) => this.end(() => on.saved(message.stage, message)),
      refused: ({ sentence }) => this.end(() => on.failed(sentence)),
      closed: () => (on.closed ? on.closed() : this.end(() => on.failed(SIGNED_OUT))),
      lost: on.lost,
    });
    source.onLost(() => this.stop());
  }

  /** No more sound: what there is is measured and saved. */
  async stop() {
    if (this.stopping || this.over || !this.line) return;
    this.stopping = true;
    this.how.saving();
    await this.recording.stop();
    await this.how.recorded?.(this.take);
    this.line.stop();
  }

  /** Forget it; nothing is saved. */
  async abandon() {
    if (!this.line) return;
    this.over = true;
    this.line.abandon();
    await this.recording.stop();
  }

  async end(then) {
    this.over = true;
    if (!this.stopping) await this.recording.stop();
    then();
  }
}
