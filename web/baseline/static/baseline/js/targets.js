// Targets by keyboard: arrows move, and letters act on the focused one.

import "../../ui/js/clinic.js";
import { onKeys } from "../../ui/js/onkeys.js";

const targets = [...document.querySelectorAll("[data-target]")];
const here = () => document.activeElement.closest?.("[data-target]") ?? targets[0];

function open(target) {
  const form = target.querySelector("[data-change]");
  if (!form) return;
  form.hidden = false;
  form.querySelector("input:not([type=hidden])").focus();
}

for (const target of targets) {
  target.querySelector("[data-open]")?.addEventListener("click", () => open(target));
}

onKeys((key) => {
  const target = here();
  if (!target) return null;
  const step = (by) => targets[targets.indexOf(target) + by]?.focus();
  return {
    y: () => target.querySelector("[data-accept]")?.click(),
    c: () => open(target),
    x: () => open(target),
    w: () => target.querySelector("[data-why]")?.toggleAttribute("open"),
    arrowdown: () => (document.activeElement === document.body ? target.focus() : step(1)),
    arrowup: () => step(-1),
  }[key];
});
