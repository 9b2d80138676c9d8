// The screen of a try: the instructions, its picture and clock, beat, phases and cues.

import { tenths } from "../../ui/js/tenths.js";
import { aimAt } from "./aim.js";
import { button, make, say, show } from "./screens.js";
import { beats, playTone, sayModel } from "./sounds.js";
import { drawingOf, visibleInstructions } from "./try_pictures.js";
import { filled, gettext } from "../../ui/js/words.js";

const SHORTEST_S = 0.8;
const LAST_SECONDS = 3;
const CUE_MS = 60;
const PAUSE_IN_IT_S = 0.25; // The first part of a glide in phases is over.
/** Maximum wait without the live connection, and for the result; older plans contain neither. */
const WAITS = { line_s: 2.5, answer_s: 6 };

/** The visible and audible parts of a try; `practice` holds the shared state of the session. */
export class TryScreen {
  constructor(practice, block, turn, { role = "", target, words, number, round = null, line = "" }) {
    /** @type {import("./practice.js").Practice} */
    this.practice = practice;
    this.block = block;
    this.turn = turn;
    this.role = role;
    this.target = target;
    this.words = words;
    this.number = number;
    /** The round of a pattern that this try is. */
    this.round = round;
    /** The text to say, in plain words. */
    this.line = line;
    this.tone = round?.tone ?? turn.tone;
    /** The time in the recording of the beat on which the voice enters. */
    this.beatS = null;
    this.phase = 0;
    /** @type {number | null} when the voice was first heard */
    this.voice = null;
    /** @type {import("../../sound/js/listening.js").Listening | null} */
    this.listening = null;
    /** @type {import("../../sound/js/device_ear.js").DeviceEar | null} what the device itself hears */
    this.ear = null;
    /** Shown instead when the live connection is gone. */
    this.offline = "";
    this.lineThere = false;
    /** Rejects when the try is over. */
    this.done = new Promise(() => {});
    this.setS = target === turn.seconds ? null : target;
    this.live = block.feedback === "live";
  }

  get interrupted() {
    return this.practice.interrupt.now;
  }

  get waits() {
    return this.practice.plan.waits ?? WAITS;
  }

  /** Shows the try's screen: title, position in the session, picture, clock. */
  screen() {
    const stage = make("div", { id: "stage" });
    const html = this.practice.stages.get(this.turn.task);
    if (html) stage.innerHTML = html;
    if (this.setS) aimAt(stage, this.setS);
    this.clock = make("span", { "data-seconds": "" }, "0.0");
    const what = this.line ? gettext("the line") : this.turn.note || gettext("it");
    const hears = this.tone.length > 0 || (this.line && window.speechSynthesis?.getVoices().length);
    const hear =
      hears && button(filled(gettext("♪ hear {what}"), { what }), { key: "f", on: () => this.replayTone() });
    show(
      "try",
      this.turn.title,
      make("p", { class: "where", "data-progress": "" }, this.words),
      hear ? make("div", { class: "hear" }, hear) : null,
      ...visibleInstructions(this.block),
      ...(this.practice.sayNow ?? []),
      make("p", { class: "phase", "data-phase": "", "aria-live": "assertive", hidden: true }),
      make(
        "p",
        { class: this.live ? "clock" : "clock sr-only" },
        this.clock,
        make("span", { class: "unit" }, ` ${gettext("seconds")}`),
      ),
      stage,
      make("p", { class: "meter", "data-meter": "", hidden: true }),
    );
    stage.classList.toggle("unseen", !this.live);
    this.stage = stage;
    this.drawing = drawingOf(stage);
    for (const guide of stage.querySelectorAll("[data-round]"))
      guide.toggleAttribute("hidden", guide.dataset.round !== String(this.round?.number ?? 1));
  }

  /** One word at a time, large: the part of a glide, or the beat. */
  showPhase(words) {
    const line = this.stage.parentElement.querySelector("[data-phase]");
    line.setAttribute("aria-live", this.listening ? "off" : "assertive"); // It would be measured.
    line.hidden = !words;
    line.textContent = words;
  }

  async replayTone() {
    if (this.listening) return; // The note must not sound into the measurement.
    const played = this.line ? sayModel(this.line, this.interrupted) : playTone(this.tone, this.interrupted);
    await played.catch(() => {});
  }

  /** The beat before a try that follows it: audible, counted, and silent during the listening. */
  countIn() {
    const { beat_s, before } = this.block.beat;
    document.body.dataset.state = "beat";
    return beats({
      count: before,
      beat_s,
      stopped: this.interrupted,
      each: (number) => this.showPhase(String(number)),
    });
  }

  /** A bar, audible in the recording: breathe on its seventh beat, and begin on the next first one. */
  async bar(recording) {
    const { beat_s, before, breathe_on: breathe, lead_s: lead } = this.block.beat;
    try {
      await beats({
        count: before,
        beat_s,
        stopped: Promise.race([this.interrupted, this.done]),
        at: recording.beganAt + lead,
        each: (number) => {
          this.showPhase(
            number >= breathe ? filled(gettext("{number} · breathe in"), { number }) : String(number),
          );
        },
      });
      this.showPhase(filled(gettext("{number} · now"), { number: 1 }));
    } catch {
      // Interrupted, or over before the bar ended.
    }
  }

  /** Shown while listening: the first phase of a glide, or the beat, silent or audible. */
  during() {
    if (this.block.phases?.length) return this.showPhase(this.block.phases[0]);
    const { beat } = this.block;
    if (!beat) return this.showPhase("");
    beats({
      count: 600,
      beat_s: beat.beat_s,
      stopped: Promise.race([this.interrupted, this.done]),
      sounds: () => beat.sounds,
      each: (number) => this.showPhase("● ".repeat(1 + ((number - 1) % 4)).trim()),
    }).catch(() => {});
  }

  meter(samples) {
    if (!this.offline || !this.listening) return;
    const peak = samples.reduce((most, value) => Math.max(most, Math.abs(value)), 0) / 32768;
    const marks = Math.round(20 * Math.min(1, Math.sqrt(peak)));
    const meter = this.stage.parentElement.querySelector("[data-meter]");
    meter.textContent = filled(gettext("Input level (not a result): {bar}"), {
      bar: "▮".repeat(marks) + "▯".repeat(20 - marks),
    });
    this.clock.textContent = tenths(this.ear?.sounding_s ?? 0);
  }

  /** Up, a breath, and down: each shown at its time. */
  nextPhase(hold) {
    const { phases } = this.block;
    if (!phases?.length || this.phase >= phases.length - 1) return;
    if (this.phase === 0 && hold.seconds < SHORTEST_S) return;
    const silent = hold.silent_s >= PAUSE_IN_IT_S;
    if ((this.phase === 0 && silent) || (this.phase === 1 && (!silent || hold.silent_s > 1)))
      this.showPhase(phases[(this.phase += 1)]);
  }

  /** Halfway and the last seconds as light and vibration; a spoken cue would be measured. */
  cue(seconds) {
    if (!this.block.cues || !this.target) return;
    const left = this.target - seconds;
    const due =
      left <= LAST_SECONDS
        ? gettext("Last seconds, as strong as before")
        : seconds >= this.target / 2
          ? gettext("Halfway")
          : "";
    if (!due || due === this.cued) return;
    say((this.cued = due));
    navigator.vibrate?.(CUE_MS);
  }
}
