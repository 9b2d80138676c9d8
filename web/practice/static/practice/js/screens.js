// One thing on the screen at a time: a title, a few lines, and what can be pressed.

const area = document.getElementById("screen");
const act = document.getElementById("go");
const status = document.querySelector("[data-says]");
const HINTS = { " ": "Space", arrowdown: "↓", arrowup: "↑" };

/** An element with text and attributes; children may be elements or words. */
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

const keyHint = (key) => make("span", { class: "key", "aria-hidden": "true" }, HINTS[key] ?? key.toUpperCase());

/** A button that a key reaches too; the key is shown unless it is what the button says. */
export function button(words, { key = "", first = false, on, ...more } = {}) {
  const attributes = { type: "button", class: `button${first ? " button-first" : ""}`, onclick: on, ...more };
  if (key) attributes["data-press"] = key;
  return make("button", attributes, make("span", {}, words), key && key !== words ? keyHint(key) : null);
}

/** Shows a screen in place of what was there; its heading has the focus, so that it is spoken. */
export function show(name, title, ...parts) {
  const heading = make("h1", { class: "text-3xl md:text-4xl", tabindex: "-1", "data-title": "" }, title);
  act.replaceChildren();
  say("");
  area.replaceChildren(make("div", { class: "screen", "data-screen": name }, heading, ...parts));
  heading.focus({ preventScroll: true });
  window.scrollTo({ top: 0 });
  return area.firstElementChild;
}

export const lines = (words) => words.map((each) => make("p", { class: "lead" }, each));

/**
 * A question with one answer. `options` are {value, words, key}; keys are 1, 2, 3 … unless given.
 * Resolves with the value; rejects when the session is interrupted.
 */
export function ask(name, title, options, { above = [], below = [], wide = false, interrupted }) {
  return new Promise((resolve, reject) => {
    const buttons = options.map(({ value, words, key, first }, at) =>
      button(words, { key: key ?? String((at + 1) % 10), first, "data-value": String(value), on: () => resolve(value) }),
    );
    const list = make("div", { class: `options${wide ? " options-wide" : options.length > 6 ? " options-many" : ""}`, role: "group", "aria-label": title }, ...buttons);
    show(name, title, ...above, list, ...below);
    interrupted.catch(reject);
  });
}

/** Waits for one press, or for so many seconds; whichever comes first. Without seconds it waits. */
export function goOn(words, { seconds = 0, interrupted, first = true }) {
  return new Promise((resolve, reject) => {
    act.replaceChildren(button(words, { key: " ", first, on: resolve, "data-go": "" }));
    if (seconds) {
      const timer = setTimeout(resolve, seconds * 1000);
      interrupted.catch(() => clearTimeout(timer));
    }
    interrupted.catch(reject);
  });
}

/** Says something to whoever listens rather than looks, and shows it unless it stands there already. */
export function say(words, { shown = true } = {}) {
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

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
  const typing = event.target.closest("input:not([type=checkbox]):not([type=radio]), select, textarea");
  if (typing) return;
  const onButton = event.target.closest("button, a, summary, input");
  if (onButton && (event.key === " " || event.key === "Enter")) return; // the control's own press
  const wanted = event.key === "Enter" ? " " : event.key.toLowerCase();
  const all = [...document.querySelectorAll("[data-press]")].filter((each) => !each.disabled && each.offsetParent);
  const pressed = all.find((each) => each.dataset.press.toLowerCase() === wanted);
  if (!pressed) return;
  event.preventDefault();
  pressed.click();
});
