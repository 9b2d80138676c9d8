// Keyboard focus on the board: arrows move it, and it is restored after a decision.

import "../../ui/js/clinic.js";
import { onKeys } from "../../ui/js/onkeys.js";

const PLACE = "still-reed:board-line";
const lines = [...document.querySelectorAll("[data-line]")];

function focusOn(place, { scroll = true } = {}) {
  const line = lines[Math.max(0, Math.min(lines.length - 1, place))];
  if (!line) return;
  for (const each of lines) each.setAttribute("aria-current", String(each === line));
  line.focus({ preventScroll: true });
  if (scroll) line.scrollIntoView({ block: "nearest" });
  sessionStorage.setItem(PLACE, String(lines.indexOf(line)));
}

const step = (by) => focusOn(lines.findIndex((line) => line.getAttribute("aria-current") === "true") + by);
onKeys((key) => ({ arrowdown: () => step(1), arrowup: () => step(-1) })[key]);
for (const [place, line] of lines.entries()) {
  line.addEventListener(
    "focusin",
    () => line.getAttribute("aria-current") === "true" || focusOn(place, { scroll: false }),
  );
}
for (const filter of document.querySelectorAll("[data-filter]")) {
  filter.addEventListener("change", () => filter.form.requestSubmit());
}
// A decided line moves down the board: focus the one in its place.
focusOn(Number(sessionStorage.getItem(PLACE) ?? 0), { scroll: sessionStorage.getItem(PLACE) !== null });
