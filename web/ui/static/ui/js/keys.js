// Keys of every clinician's screen. A key activates the element with its data-key.

import { onKeys } from "./onkeys.js";

const typing = (target) => target.closest("input, select, textarea, [contenteditable]");

function showKeys() {
  document.getElementById("keys").showModal();
}

/** The target of a key: on the focused line first, and only if visible. */
function reached(selector) {
  const line = document.querySelector("[data-line][aria-current=true]");
  const all = [...(line?.querySelectorAll(selector) ?? []), ...document.querySelectorAll(selector)];
  return all.find(
    (each) =>
      each.checkVisibility() &&
      (line === null || !each.closest("[data-line]") || each.closest("[data-line]") === line),
  );
}

document.querySelector("[data-print]")?.addEventListener("click", () => print());
document.querySelector("[data-show-keys]").addEventListener("click", showKeys);

function find() {
  const field = document.querySelector("[data-find]");
  if (field) field.focus();
  else location.assign("/clients/#find");
}

onKeys(
  (key, { target }) => {
    if (key === "escape") {
      if (typing(target)) return () => target.blur();
      return document.querySelector("dialog[open]")
        ? null
        : () => document.querySelector("[data-back]")?.click();
    }
    if (typing(target)) return null;
    if (key === "?") return showKeys;
    if (key === "/") return find;
    if (key === "enter" && target.closest("a, button, summary")) return null; // The element's own press.
    const element = reached(`[data-key="${CSS.escape(key)}"]`);
    return element && (() => element.click());
  },
  { fields: "" },
);

if (location.hash === "#find") document.querySelector("[data-find]")?.focus();
