// One thing on the screen at a time: a title, a few lines, and the buttons.
//
// A trembling hand presses twice. A new screen therefore accepts no answer at first, nor from a press that
// began before it. A button that raises a flag has a place of its own at the top, where no other screen has a
// button.

import { onKeys } from "../../ui/js/onkeys.js";
import { filled, gettext } from "../../ui/js/words.js";

const SETTLES_MS = 400;
const GESTURE_MS = 350; // A tap becomes a click this long after the finger has left.
const area = document.getElementById("screen");
const act = document.getElementById("go");
const flagging = document.getElementById("confirm");
const status = document.querySelector("[data-says]");
const HINTS = { " ": "Space", arrowdown: "↓", arrowup: "↑" };

let settlesAt = 0;
let settling = 0;
let press = null; // Time at which the current press began; null for one made by a script.
let leaving = 0;
const gone = () => {
  clearTimeout(leaving);
  leaving = setTimeout(() => (press = null), GESTURE_MS);
};
/** A press begins; the end of the previous one must not reset it. */
const begun = () => {
  clearTimeout(leaving);
  press = performance.now();
};

document.addEventListener("pointerdown", begun, true);
document.addEventListener("pointerup", gone, true);
document.addEventListener("pointercancel", gone, true);
document.addEventListener("keydown", (event) => event.repeat || begun(), true);
document.addEventListener("keyup", gone, true);
document.addEventListener(
  "click",
  (event) => {
    const on = /** @type {Node} */ (event.target);
    if (![area, act, flagging].some((each) => each.contains(on))) return; // Stop always works.
    if ((press ?? performance.now()) >= settlesAt) return;
    event.preventDefault();
    event.stopImmediatePropagation();
  },
  true,
);

/** An element with text and attributes; children can be elements or texts. */
export function make(tag, attributes = {}, ...children) {
  const element = document.createElement(tag);
  for (const [name, value] of Object.entries(attributes)) {
    if (value === false || value == null) continue;
    if (name === "class") element.className = value;
    else if (name.startsWith("on")) element.addEventListener(name.slice(2), value);
    else element.setAttribute(name, value === true ? "" : value);
  }
  element.append(...children.filter((each) => each != null && each !== ""));
  return element;
}

const keyHint = (key) =>
  make("span", { class: "key", "aria-hidden": "true" }, HINTS[key] ?? key.toUpperCase());

/** A button with a key; the key is shown unless it is the label. */
/**
 * @param {string} words
 * @param {{key?: string, first?: boolean, on?: Function, picture?: Element | null, small?: string,
 *   [name: string]: any}} how `picture` stands before the words, `small` after them
 */
export function button(
  words,
  { key = "", first = false, on = undefined, picture = null, small = "", ...more } = {},
) {
  const attributes = { type: "button", class: `button${first ? " button-first" : ""}`, onclick: on, ...more };
  if (key) attributes["data-press"] = key;
  const content = small ? [words, make("span", { class: "small-words" }, small)] : [words];
  const hint = key && key !== words ? keyHint(key) : null;
  return make("button", attributes, picture, make("span", {}, ...content), hint);
}

/** A new screen accepts no answer yet; `data-settled` marks when it does. */
function settle(ms = SETTLES_MS) {
  settlesAt = performance.now() + ms;
  delete document.body.dataset.settled;
  clearTimeout(settling);
  settling = setTimeout(() => (document.body.dataset.settled = ""), ms);
}

/** Replaces the screen; its heading gets the focus, so that it is spoken. */
export function show(name, title, ...parts) {
  const heading = make("h1", { class: "text-3xl md:text-4xl", tabindex: "-1", "data-title": "" }, title);
  settle();
  act.replaceChildren();
  flagging.replaceChildren();
  say("");
  area.replaceChildren(make("div", { class: "screen", "data-screen": name }, heading, ...parts));
  heading.focus({ preventScroll: true });
  window.scrollTo({ top: 0 });
  return area.firstElementChild;
}

export const lines = (words) => words.map((each) => make("p", { class: "lead" }, each));

/**
 * A question with one answer. `options` are {value, words, key}; keys are 1, 2, 3 … by default. `settles`:
 * time without answers, ms, if longer than usual. `seconds`: after this long without an answer it resolves
 * with null; a button without a value shows the rest. Resolves with the value; rejects when the session is
 * interrupted.
 */
export function ask(
  name,
  title,
  options,
  { above = [], below = [], wide = false, settles = SETTLES_MS, seconds = 0, interrupted },
) {
  if (interrupted.over) return Promise.reject(interrupted.over);
  return new Promise((resolve, reject) => {
    const buttons = options.map(({ value, words, key, first, picture, small }, at) =>
      button(words, {
        key: key ?? String((at + 1) % 10),
        first,
        picture,
        small,
        "data-value": String(value),
        on: () => resolve(value),
      }),
    );
    const list = make(
      "div",
      {
        class: `options${wide ? " options-wide" : options.length > 6 ? " options-many" : ""}`,
        role: "group",
        "aria-label": title,
      },
      ...buttons,
    );
    show(name, title, ...above, list, ...below);
    if (seconds)
      goOn(gettext("No answer"), { seconds, counts: true, first: false, interrupted }).then(
        () => resolve(null),
        reject,
      );
    settle(settles);
    interrupted.catch(reject);
  });
}

/**
 * The one more press that raises a flag, in its reserved place; `back` is below. Resolves with true or false;
 * `title` shows at once, whatever is pressed.
 */
export function confirm(name, title, { yes, back, parts = [], interrupted }) {
  if (interrupted.over) return Promise.reject(interrupted.over);
  return new Promise((resolve, reject) => {
    show(
      name,
      title,
      ...parts,
      make(
        "div",
        { class: "options" },
        button(back, { key: "n", "data-back-out": "", on: () => resolve(false) }),
      ),
    );
    flagging.replaceChildren(
      button(yes, { key: "y", class: "button button-flag", "data-confirm": "", on: () => resolve(true) }),
    );
    settle(); // From now on: on a slow device the button appears later than the screen.
    interrupted.catch(reject);
  });
}

/**
 * Waits for one press or a number of seconds, whichever comes first. Without seconds it waits. `counts`: the
 * button shows the seconds left.
 */
export function goOn(words, { seconds = 0, interrupted, first = true, counts = false }) {
  if (interrupted.over) return Promise.reject(interrupted.over);
  return new Promise((resolve, reject) => {
    const pressed = button(words, { key: " ", first, on: resolve, "data-go": "" });
    act.replaceChildren(pressed);
    settle();
    if (seconds) countDown(seconds, interrupted, resolve, counts ? pressed : null);
    interrupted.catch(reject);
  });
}

/** Calls `then` after this many seconds; a button shows the seconds left. */
function countDown(seconds, interrupted, then, shownOn) {
  const left = shownOn && make("span", { class: "left", "aria-hidden": "true", "data-left": "" }, "");
  shownOn?.append(left);
  const ends = performance.now() + 1000 * seconds;
  const tick = () => {
    const seconds = Math.max(0, Math.ceil((ends - performance.now()) / 1000));
    if (left) left.textContent = filled(gettext("in {seconds} s"), { seconds });
  };
  tick();
  const ticking = left ? setInterval(tick, 250) : 0;
  const over = () => (clearInterval(ticking), clearTimeout(timer));
  const timer = setTimeout(() => (over(), then()), seconds * 1000);
  shownOn?.addEventListener("click", over);
  interrupted.catch(over);
}

/** Announces a text to screen readers, and shows it unless it is shown already. */
export function say(words, { shown = true } = {}) {
  // A screen reader's voice would be measured while the microphone is open.
  status.setAttribute("aria-live", document.body.dataset.state === "listening" ? "off" : "polite");
  status.textContent = words;
  status.classList.toggle("sr-only", !shown);
}

/** Waits, unless interrupted. */
export function wait(seconds, interrupted) {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(resolve, seconds * 1000);
    interrupted.catch((reason) => {
      clearTimeout(timer);
      reject(reason);
    });
  });
}

onKeys(
  (key, { target }) => {
    // A key of its own.
    if (target.closest("button, a, summary, input") && (key === " " || key === "enter")) return null;
    const named = key === "enter" ? " " : key;
    const inTask = document.body.dataset.inTask !== undefined;
    // During a task, also buttons that are folded away.
    const there = (each) => !each.disabled && (each.offsetParent || (inTask && each.matches(".foot-task")));
    // A trembling hand on the keys must not end the measurement.
    const listening = document.body.dataset.state === "listening";
    const taken = listening ? "[data-go], [data-stop]" : "[data-press]";
    const all = [...document.querySelectorAll(taken)].filter(there);
    const pressed = all.find((each) => each.dataset.press.toLowerCase() === named);
    return pressed && (() => pressed.click());
  },
  { fields: "input:not([type=checkbox]):not([type=radio]), select, textarea", repeats: false },
);
