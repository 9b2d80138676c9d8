// The palette: tasks to add, or programmes to start from, by search words.

import { search } from "./palette.js";
import { filled, gettext } from "../../ui/js/words.js";

const TITLES = { tasks: gettext("Add a task"), library: gettext("Start from the library or another client") };

/** A palette over the page's data; `add` receives the choice, `leave` follows its closing. */
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
    const lines = search(known[finds], words).slice(0, 8).map(lineOf);
    find("found").replaceChildren(...(lines.length ? lines : [nothing()]));
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
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      move(event.key === "ArrowDown" ? 1 : -1);
    }
    if (event.key !== "Enter") return;
    event.preventDefault();
    const marked = find("found").querySelector("[data-first] [data-add]");
    if (marked) chosen(marked.dataset.add);
  });

  /** Highlights the next line or the previous one; Enter adds the highlighted one. */
  function move(step) {
    const lines = [...find("found").children];
    const at = lines.findIndex((each) => each.hasAttribute("data-first"));
    const next = lines[at + step];
    if (at < 0 || !next) return;
    lines[at].removeAttribute("data-first");
    next.setAttribute("data-first", "");
    next.scrollIntoView({ block: "nearest" });
  }

  return { show, chosen };
}

function nothing() {
  const line = document.createElement("li");
  line.className = "text-soft";
  line.textContent = gettext("Nothing found. Try another word, or part of one.");
  return line;
}

function lineOf({ task, by }, at) {
  const line = document.createElement("li");
  line.innerHTML = "<button type='button'><strong></strong> <span class='text-soft'></span></button>";
  line.querySelector("strong").textContent = task.name;
  line.querySelector("span").textContent = by
    ? filled(gettext("{family}, found by “{by}”"), { family: task.family, by })
    : task.family;
  line.querySelector("button").dataset.add = task.code;
  if (at === 0) line.setAttribute("data-first", "");
  return line;
}
