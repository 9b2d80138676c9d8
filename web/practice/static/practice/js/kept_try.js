// The sound of a try. It is stored on the device first; the live connection is only the fastest way to the
// clinic.

import { soundingSeconds } from "../../sound/js/sounding.js";
import { wavOf } from "../../sound/js/wav.js";
import { tenths } from "../../ui/js/tenths.js";
import { goOn, say } from "./screens.js";
import { TryScreen } from "./try_screen.js";
import { filled, gettext } from "../../ui/js/words.js";

/** A try that is stored until the clinic has it. */
export class KeptTry extends TryScreen {
  /**
   * Ends the try with its answer, while it is live.
   * @type {(answer: any) => void}
   */
  settle = () => {};

  /**
   * The key of the trial at the clinic, now or later; null if nothing was stored.
   * @type {string | null}
   */
  trialKey = null;

  /** The round, and the time of its beat. */
  tryDetails() {
    return { number: this.round?.number ?? null, beat_s: this.beatS };
  }

  /** The description of the sound that is sent. */
  entry(key) {
    return {
      ...this.practice.entry("sound", key),
      task: this.turn.task,
      role: this.role,
      set_s: this.setS,
      ...this.tryDetails(),
    };
  }

  async keep(take) {
    document.body.dataset.state = "saving";
    this.hand = soundingSeconds(take.blocks, take.rate);
    this.trialKey = take.key;
    this.kept = await this.practice.outbox.put(
      { ...this.entry(take.key), source: this.practice.source.kind, capture: this.listening?.capture ?? {} },
      { recording: wavOf(take.blocks, take.rate), held: true },
    );
    if (this.offline) return this.leaveIt();
    this.late = setTimeout(() => this.leaveIt(), 1000 * this.waits.answer_s);
  }

  async arrived(answer) {
    clearTimeout(this.late);
    if (this.kept) await this.practice.outbox.done(this.kept, answer);
    // The clock shows the seconds of the sentence, not the last live value.
    if ("seconds" in answer) this.clock.textContent = answer.seconds === null ? "–" : tenths(answer.seconds);
    this.settle(answer);
  }

  /** It is uploaded when possible; the session continues. */
  leaveIt() {
    const listening = this.listening;
    if (!listening) return;
    this.settle({
      waiting: true,
      sentence:
        this.hand === null
          ? gettext("Saved here. It is measured when the clinic receives it.")
          : filled(
              gettext(
                "About {value} seconds of sound, saved here. It is measured when the clinic receives it.",
              ),
              { value: this.hand.toFixed(0) },
            ),
    });
    listening.abandon();
    this.practice.outbox.release(this.kept);
  }

  async failed(words, { noSource = false, cutShort = false } = {}) {
    if (noSource || cutShort) return this.settle({ noSource: true, cutShort, sentence: words });
    if (this.kept) await this.practice.outbox.refuse(this.kept, words);
    this.settle({ sentence: words, refused: true });
  }

  async byHand() {
    document.body.dataset.state = "by-hand";
    say(gettext("Press Start. Press Stop when the sound ends."));
    await goOn(gettext("Start"), { interrupted: this.interrupted });
    const startedAt = performance.now();
    const passed = () => (performance.now() - startedAt) / 1000;
    const ticking = setInterval(() => (this.clock.textContent = tenths(passed())), 100);
    try {
      await goOn(gettext("Stop the watch"), { interrupted: this.interrupted });
    } finally {
      clearInterval(ticking);
    }
    const seconds = Math.round(passed() * 100) / 100;
    const timed = this.practice.entry("timed");
    this.trialKey = timed.key;
    await this.practice.put({
      ...timed,
      task: this.turn.task,
      role: this.role,
      set_s: this.setS,
      seconds,
    });
    return {
      waiting: true,
      sentence: filled(gettext("{tenths} seconds, timed by hand."), { tenths: tenths(seconds) }),
      byHand: true,
      seconds,
    };
  }
}
