// The device's own voice reads each screen on request; never while the microphone is open.

import { sayModel } from "./sounds.js";

const SILENT = ["try", "model"]; // Screens with sounds of their own.

/** Whether this device has a voice. */
const hasVoice = () => !!window.speechSynthesis?.getVoices().length;

/** The title of a screen and its lines, as one text. */
function wordsOf(screen) {
  const parts = [...screen.querySelectorAll("[data-title], .lead, .caution")];
  return parts
    .map((each) => each.textContent.trim())
    .filter(Boolean)
    .map((words) => (/[.?!:]$/.test(words) ? words : `${words}.`))
    .join(" ");
}

/** Reads each new screen if the client chose so, and the current one again at a press of `again`. */
export class ReadingAloud {
  /** @param {any} practice what the session shares @param {HTMLElement} again */
  constructor(practice, again) {
    this.practice = practice;
    this.area = document.getElementById("screen");
    /** Stops reading. */
    this.over = Promise.resolve();
    this.leave = () => {};
    new MutationObserver(() => this.onNewScreen()).observe(this.area, { childList: true });
    again.addEventListener("click", () => this.read());
  }

  get screen() {
    return /** @type {HTMLElement | null} */ (this.area.querySelector("[data-screen]"));
  }

  onNewScreen() {
    this.leave();
    if (this.practice.readsAloud) this.read();
  }

  read() {
    const { screen } = this;
    if (!screen || SILENT.includes(screen.dataset.screen) || !hasVoice()) return;
    this.leave();
    const left = new Promise((_, reject) => (this.leave = () => reject(new Error("left"))));
    this.over = sayModel(wordsOf(screen), left).catch(() => {});
  }
}
