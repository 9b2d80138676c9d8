// A whole session with one switch: the choices are highlighted in turn, and the switch presses the
// highlighted one. The switch is Space or Enter, or a sound held for a second.

import { DeviceEar } from "../../sound/js/device_ear.js";
import { openMicrophone, record } from "../../sound/js/recorder.js";

const DWELLS_MS = 1800;
const HELD_S = 1;
const ENDS_S = 0.25;
/** Order of highlighting: continue, the answers, Stop, the rest of the footer. */
const PLACES = [
  "#go button",
  "#confirm button",
  "#screen :is(button, input[type=checkbox], a)",
  "[data-stop]",
  "[data-pause].foot-task",
  "[data-open-more]",
];
const SHEET = "dialog[open] :is(button, a)";
/** While the device plays sound or listens to a try, no sound is a press. */
const BUSY = ["tone", "beat", "listening", "saving", "asking", "by-hand"];

export class OneSwitch {
  /** @param {any} practice what the session shares */
  constructor(practice) {
    this.practice = practice;
    this.isOn = this.isListening = false;
    /** @type {HTMLElement | null} */
    this.marked = null;
    this.keys = (event) => this.pressed(event);
    new MutationObserver(() => this.restart()).observe(document.body, {
      attributes: true,
      attributeFilter: ["data-settled", "data-state"],
    });
  }

  /** Turns the highlighting on or off. */
  turn(on) {
    this.isOn = on;
    clearInterval(this.ticking);
    this.mark(null);
    document[on ? "addEventListener" : "removeEventListener"]("keydown", this.keys, true);
    if (on) this.ticking = setInterval(() => this.next(), DWELLS_MS * this.practice.pace);
  }

  /** Whether a held sound is the switch as well. */
  listen(on) {
    this.isListening = on;
    if (on && !this.isOn) this.turn(true);
    this.restart();
  }

  get choices() {
    const all = document.querySelector("dialog[open]")
      ? [...document.querySelectorAll(SHEET)]
      : PLACES.flatMap((place) => [...document.querySelectorAll(place)]);
    return /** @type {HTMLElement[]} */ (all).filter(
      (each) => each.getClientRects().length && !(/** @type {HTMLButtonElement} */ (each).disabled),
    );
  }

  /** A new screen begins with its first choice. */
  restart() {
    if (this.isOn) this.mark(this.choices[0] ?? null);
    this.openOrClose();
  }

  next() {
    const { choices } = this;
    this.mark(choices[(choices.indexOf(this.marked) + 1) % choices.length] ?? null);
  }

  mark(element) {
    this.marked?.classList.remove("marked");
    this.marked = element;
    element?.classList.add("marked");
    element?.scrollIntoView({ block: "nearest" });
  }

  pressed(event) {
    if (event.key !== " " && event.key !== "Enter") return;
    if (event.target.closest("textarea, input:not([type=checkbox])")) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    if (!event.repeat) this.press();
  }

  press() {
    if (!this.marked?.isConnected) return this.restart();
    this.marked.click();
  }

  get wantsSound() {
    return this.isOn && this.isListening && !BUSY.includes(document.body.dataset.state ?? "");
  }

  /** The microphone is open only while a sound would be a press. */
  async openOrClose() {
    if (this.isOpening || !!this.recording === this.wantsSound) return;
    this.isOpening = true;
    try {
      if (this.wantsSound) await this.open();
      else await this.close();
    } catch {
      this.isListening = false; // Without a microphone, the key is the switch.
    } finally {
      this.isOpening = false;
    }
    if (!!this.recording !== this.wantsSound) this.openOrClose();
  }

  async open() {
    const source = await openMicrophone();
    let ear = null;
    const listening = record(source, this.practice.urls.worklet, (block) => {
      ear ??= new DeviceEar(source.node.context.sampleRate);
      ear.add(block);
      if (window.speechSynthesis?.speaking) ear = null;
      else if (ear.silent_s >= ENDS_S) {
        const isPress = ear.sounding_s >= HELD_S;
        ear = null;
        if (isPress) this.press();
      }
    });
    listening.catch(() => source.close());
    this.recording = await listening;
  }

  async close() {
    const { recording } = this;
    this.recording = null;
    await recording?.stop();
  }
}
