// One measured try: the note, the breath and the listening.

import { DeviceEar } from "../../sound/js/device_ear.js";
import { Listening } from "../../sound/js/listening.js";
import { LiveTrace } from "../../sound/js/live_trace.js";
import { RoomNoise } from "../../sound/js/room_noise.js";
import { tenths } from "../../ui/js/tenths.js";
import { KeptTry } from "./kept_try.js";
import { goOn, say, wait } from "./screens.js";
import { playTone } from "./sounds.js";
import { gettext } from "../../ui/js/words.js";

const FRAME_S = 0.01;
const SHORTEST_S = 0.8;
const FALSE_START_S = 1.2; // A shorter sound may have been a false start if a longer one is asked for.
const ASKING_MS = 1500; // The browser's microphone question may be hidden somewhere.
const NOTHING_MS = 15000; // Ask what is wrong after this long without a voice.
const NO_NETWORK = gettext("No network. The stopwatch runs and your sound is saved here.");
const NO_ANSWER = gettext(
  "The clinic’s server does not answer. The stopwatch runs and your sound is saved here.",
);
const STOPS = gettext("It stops when you stop.");
const PRESS_DONE = gettext("Press Done when you have finished.");
const TOO_LOUD = gettext(
  "It is too noisy to hear you. Turn off fans, music or television, close the window, or come closer.",
);
const ANOTHER = gettext("Another voice or sound is heard. Only your own voice counts. Please keep it quiet.");
const NOT_PLAYED = gettext(
  "This device cannot play sound yet. Press “hear” once, or start without the note.",
);

/** How voice or hand are timed. */
export class MeasuredTrial extends KeptTry {
  /** @type {RoomNoise | null} */
  room = null;
  isRoomLoud = false;
  isAnotherHeard = false;
  /** @type {any} the hold as the server has it so far */
  hold = null;
  /** Seconds measured by the server. */
  measuredS = 0;
  /** The device has ended the try by itself. */
  isEnding = false;

  /** Runs the try; returns the answer, or what was stored here without one. */
  async run() {
    this.screen();
    if (this.tone.length && this.block.model !== "alone") {
      document.body.dataset.state = "tone";
      say(gettext("Listen"));
      if ((await playTone(this.tone, this.interrupted)) !== "played") say(NOT_PLAYED);
      else if (this.round && this.block.model === "together") {
        say(gettext("Now sing along. This part is not measured."));
        await playTone(this.tone, this.interrupted);
      }
    }
    if (this.practice.source.kind === "stopwatch") return this.byHand();
    const { beat } = this.block;
    const counted = beat && !beat.at_s && !this.round; // The round took its own time.
    if (counted) await this.countIn();
    if (this.block.cue && !beat?.at_s) {
      say(
        [this.block.say_before, this.block.breath_words ?? gettext("Breathe in")].filter(Boolean).join(". "),
      );
      await wait(this.practice.plan.breath_s, this.interrupted); // Never a longer breath.
      if (this.block.pause_s) {
        say(gettext("Wait"));
        await wait(this.block.pause_s, this.interrupted);
      }
    } else if (this.block.say_before) say(this.block.say_before);
    return this.listen();
  }

  listen() {
    return new Promise((resolve, reject) => {
      const { practice, turn } = this;
      const listening = (this.listening = new Listening({
        kind: practice.source.kind,
        workletUrl: practice.urls.worklet,
        simulatedUrl: practice.source.url(turn.task, this.round?.number),
        takeUrl: practice.urls.take(turn.task),
        about: (recording) => {
          const at = this.block.beat?.at_s;
          if (at) this.beatS = at + recording.lateBy;
          return {
            session: practice.session,
            role: this.role,
            set_s: this.setS,
            now: new Date().toISOString(),
            ...this.tryDetails(),
          };
        },
        ready: () => this.onConnected(),
        frames: (chunk) => this.onFrames(chunk),
        block: (samples) => {
          this.measureOnDevice(samples);
          this.meter(samples);
          this.listenToRoom(samples);
        },
        saving: () => say(gettext("Measuring")),
        recorded: (take) => this.keep(take),
        saved: (_, answer) => this.arrived(answer),
        failed: (words, why) => this.failed(words, why),
        lost: () => this.onConnectionLost(),
        closed: () => this.onConnectionLost(), // Signed out: stored here until the user signs in again.
        busy: () =>
          this.onConnectionLost(
            gettext("The server is busy. The stopwatch runs, and your sound is measured later."),
          ),
      }));
      const notice = setTimeout(() => this.microphoneIsAsked(), ASKING_MS);
      let ended;
      this.done = new Promise((_, reject) => (ended = reject));
      this.done.catch(() => {});
      const done = (then) => (result) => {
        ended(new Error("over"));
        clearTimeout(notice);
        clearTimeout(this.noLine);
        clearTimeout(this.late);
        clearTimeout(this.nothing);
        this.listening = null;
        if (document.body.dataset.state === "listening") delete document.body.dataset.state;
        then(result);
      };
      this.settle = done(resolve);
      this.interrupted.catch((reason) => {
        listening.abandon(); // Also a microphone that opens later.
        done(reject)(reason);
      });
      listening.begin().then(() => {
        clearTimeout(notice);
        if (this.listening !== listening || !listening.line) return;
        if (!this.lineThere)
          this.noLine = setTimeout(() => this.onConnectionLost(), 1000 * this.waits.line_s);
        document.body.dataset.state = "listening";
        say(
          this.offline
            ? this.offline
            : this.block.say
              ? gettext("Now say it. Take your time. Press Done when you have finished.")
              : gettext("Now. It stops when you stop."),
        );
        if (this.block.beat?.at_s) this.bar(listening.recording);
        else this.during();
        this.nothing = setTimeout(
          () => this.askAboutSilence(),
          NOTHING_MS + 1000 * (this.block.beat?.at_s ?? 0),
        );
        goOn(gettext("Done"), { interrupted: this.interrupted, first: true }).then(
          () => listening.stop(),
          () => {},
        );
      });
    });
  }

  /** The device's own measurement: the tip of the picture, the running clock, and the end offline. */
  measureOnDevice(samples) {
    const rate = this.listening?.take?.rate;
    if (!rate) return;
    this.ear ??= new DeviceEar(rate, { pitched: !this.stage.querySelector("[data-plain]") });
    this.ear.add(samples);
    if (this.live && !this.offline) this.drawing?.hears(this.ear);
    if (!this.offline) return this.runClock();
    if (this.block.say || this.isEnding) return; // Lines contain pauses: Done ends them.
    const over = this.ear.sounding_s >= this.shortest && this.ear.silent_s >= this.endsAfter;
    if (!over) return;
    this.isEnding = true;
    this.listening.stop();
  }

  /** The shortest sound that ends a try by itself, s. */
  get shortest() {
    return Math.max(SHORTEST_S, Math.min(FALSE_START_S, (this.target ?? 0) / 2));
  }

  get endsAfter() {
    return this.block.ends_after_s * this.practice.pace;
  }

  /** The clock follows the sound; the server's seconds replace its own as they arrive. */
  runClock() {
    if (this.block.ends_at_s) return;
    const hold = this.hold;
    if (hold?.ended) return this.showSeconds(hold.seconds);
    if (!hold?.seconds) return this.showSeconds(this.drawing?.pitch.currentHold()?.seconds ?? 0);
    const ahead = this.ear.isSilent ? 0 : this.ear.cents.length * FRAME_S - this.measuredS;
    this.showSeconds(hold.seconds + Math.max(0, ahead));
  }

  showSeconds(seconds) {
    const text = tenths(seconds);
    if (this.clock.textContent !== text) this.clock.textContent = text; // Setting it costs a layout.
  }

  /** Reports at once that the room hides the voice; only the clinic can tell a voice from the room. */
  listenToRoom(samples) {
    const rate = this.listening?.take?.rate;
    if (!rate || this.offline || !this.lineThere || this.voice) return;
    this.room ??= new RoomNoise(rate);
    this.room.add(samples);
    if (this.room.isTooLoud === this.isRoomLoud) return;
    this.isRoomLoud = this.room.isTooLoud;
    say(this.isRoomLoud ? TOO_LOUD : gettext("Now. It stops when you stop."));
  }

  /** No sound for a while: ask what is wrong. */
  askAboutSilence() {
    if (!this.listening || this.offline || !this.lineThere || this.voice) return;
    this.listening.abandon();
    const sentence = this.isRoomLoud ? TOO_LOUD : gettext("No voice was heard for a while");
    this.settle({ noSource: true, noVoice: true, sentence });
  }

  /** The browser has not answered: where its question is, and what to do instead. */
  async microphoneIsAsked() {
    const permission = await navigator.permissions?.query({ name: "microphone" }).catch(() => null);
    if (!this.listening || this.listening.recording) return;
    document.body.dataset.state = "asking";
    say(
      permission?.state === "granted"
        ? gettext("The microphone is not open yet. Please wait.")
        : gettext("Your browser asks to use the microphone. Press Allow."),
    );
    goOn(gettext("Use the stopwatch instead"), { interrupted: this.interrupted, first: false }).then(
      () => {
        if (!this.listening || this.listening.recording) return;
        this.listening.abandon();
        this.settle({ noSource: true, instead: true });
      },
      () => {},
    );
  }

  /** Reports another voice while it is heard. */
  showOtherVoice() {
    if (!(this.drawing instanceof LiveTrace) || this.block.say) return;
    const { hasAnother } = this.drawing.pitch;
    if (hasAnother === this.isAnotherHeard) return;
    this.isAnotherHeard = hasAnother;
    say(hasAnother ? ANOTHER : gettext("Now. It stops when you stop."));
  }

  onConnected() {
    clearTimeout(this.noLine);
    this.lineThere = true;
    this.hold = null;
    this.measuredS = 0; // The server measures the take from its beginning again.
    this.drawing?.clear();
    if (this.offline) say(gettext("Live measuring is back."));
    this.offline = "";
    this.stage.parentElement.querySelector("[data-meter]").hidden = true;
  }

  /** No server: a stopwatch and a plain meter, and the screen says so. */
  onConnectionLost(words = navigator.onLine ? NO_ANSWER : NO_NETWORK) {
    if (!this.listening || this.offline) return;
    this.offline = `${words} ${this.block.say ? PRESS_DONE : STOPS}`;
    say(this.offline);
    this.stage.parentElement.querySelector("[data-meter]").hidden = false;
  }

  onFrames({ cents, hold, full, level }) {
    if (this.live) this.drawing?.add(cents, hold, level);
    this.hold = hold;
    this.measuredS += cents.length * FRAME_S;
    if (hold.seconds > 0) this.voice ??= performance.now();
    if (this.voice && this.isRoomLoud) {
      this.isRoomLoud = false;
      say(gettext("Now. It stops when you stop."));
    }
    const lasted = this.voice ? (performance.now() - this.voice) / 1000 : 0;
    // With breaths inside, the time since it began.
    const seconds = this.block.ends_at_s ? lasted : hold.seconds;
    if (this.block.ends_at_s) this.showSeconds(lasted);
    this.cue(seconds);
    this.showOtherVoice();
    this.nextPhase(hold);
    if (this.block.ends_at_s && lasted >= this.block.ends_at_s) {
      say(gettext("Time is up. You can stop."));
      return this.listening?.stop();
    }
    const over = hold.ended && hold.seconds >= this.shortest && hold.silent_s >= this.endsAfter;
    if (over || full) this.listening?.stop();
  }
}
