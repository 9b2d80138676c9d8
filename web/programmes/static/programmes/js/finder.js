// The palette: tasks to add, or programmes to begin from, found by what is typed.

import { matching } from "./palette.js";
import { gettext } from "../../ui/js/words.js";

const TITLES = { tasks: gettext("Add a task"), library: gettext("Start from the library or another client") };

/** A palette over what the page knows; `add` takes what was chosen, `leave` follows its closing. */
export function finder({ find, known, add, leave }) {
  const palette = find("palette");
  let finds = "tasks";

  function show(what) {
    finds = what;
    palette.hidden = false;
    find("palette-title").textContent = TITLES[what];
    find("find-task").value = "";
    found("");
    find("find-task").focus();
  }

  function found(words) {
    find("found").replaceChildren(...matching(known[finds], words).slice(0, 8).map(lineOf));
  }

  function chosen(code) {
    palette.hidden = true;
    add(finds, code);
  }

  find("find-task").addEventListener("input", ({ target }) => found(target.value));
  find("find-task").addEventListener("keydown", (event) => {
    if (event.key === "Escape") {
      event.stopPropagation();
      palette.hidden = true;
      leave();
    }
    if (event.key !== "Enter") return;
    event.preventDefault();
    const first = find("found").querySelector("[data-add]");
    if (first) chosen(first.dataset.add);
  });

  return { show, chosen };
}

function lineOf(task, at) {
  const line = document.createElement("li");
  line.innerHTML = "<button type='button'><strong></strong> <span class='text-soft'></span></button>";
  line.querySelector("strong").textContent = task.name;
  line.querySelector("span").textContent = task.family;
  line.querySelector("button").dataset.add = task.code;
  if (at === 0) line.setAttribute("data-first", "");
  return line;
}
