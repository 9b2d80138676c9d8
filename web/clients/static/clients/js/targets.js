// Targets by keyboard: arrows move, letters act on the one in focus.

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

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.closest("input, select, textarea")) return;
  const target = here();
  if (!target) return;
  const step = (by) => targets[targets.indexOf(target) + by]?.focus();
  const does = {
    y: () => target.querySelector("[data-accept]")?.click(),
    c: () => open(target),
    x: () => open(target),
    w: () => target.querySelector("[data-why]")?.toggleAttribute("open"),
    arrowdown: () => (document.activeElement === document.body ? target.focus() : step(1)),
    arrowup: () => step(-1),
  }[event.key.toLowerCase()];
  if (!does) return;
  event.preventDefault();
  does();
});
