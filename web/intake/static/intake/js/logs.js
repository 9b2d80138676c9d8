// The grid for a paper log with arrow keys and means, and a folder of recordings, sent one by one.

import "../../ui/js/clinic.js";
import { tenths } from "../../ui/js/tenths.js";
import { filled, gettext } from "../../ui/js/words.js";

const cells = [...document.querySelectorAll("[data-cell]")];
const perRow = cells.filter((cell) => cell.closest("tr") === cells[0]?.closest("tr")).length;

function mean(row) {
  const values = [...row.querySelectorAll("[data-cell]")]
    .map((cell) => Number(cell.value.replace(",", ".") || NaN))
    .filter((value) => value > 0);
  const sum = values.reduce((total, value) => total + value, 0);
  row.querySelector("[data-mean]").textContent = values.length ? tenths(sum / values.length) : "–";
}

const STEPS = { ArrowUp: -perRow, ArrowDown: perRow, ArrowLeft: -1, ArrowRight: 1 };
document.querySelector("[data-log]")?.addEventListener("keydown", (event) => {
  const at = cells.indexOf(/** @type {Element} */ (event.target));
  const step = STEPS[event.key];
  if (at < 0 || !step) return;
  const atEdge =
    event.key === "ArrowLeft"
      ? event.target.selectionStart === 0
      : event.key === "ArrowRight"
        ? event.target.selectionEnd === event.target.value.length
        : true;
  if (!atEdge || !cells[at + step]) return;
  event.preventDefault();
  cells[at + step].focus();
  cells[at + step].select();
});
for (const row of document.querySelectorAll("[data-row]")) {
  row.addEventListener("input", () => mean(row));
  mean(row);
}

const folder = document.querySelector("[data-folder]");
folder?.addEventListener("submit", async (event) => {
  event.preventDefault();
  const progress = document.querySelector("[data-progress]");
  const list = document.querySelector("[data-measured]");
  const files = [...folder.files.files];
  if (!files.length) return (progress.textContent = gettext("Choose the files first."));
  list.replaceChildren();
  const token = document.querySelector("[name=csrfmiddlewaretoken]").value;
  let at = 0;
  for (const file of files) {
    progress.textContent = filled(gettext("Measuring {value} of {count}"), {
      value: ++at,
      count: files.length,
    });
    const form = new FormData();
    form.append("key", crypto.randomUUID());
    form.append("task", folder.task.value);
    form.append("day", /\d{4}-\d{2}-\d{2}/.exec(file.name)?.[0] ?? folder.day.value);
    form.append("recording", file);
    const response = await fetch(folder.dataset.url, {
      method: "POST",
      body: form,
      headers: { "X-CSRFToken": token },
    }).catch(() => null);
    const answer = response && (await response.json().catch(() => null));
    const line = document.createElement("li");
    line.textContent = `${file.name}: ${answer?.sentence ?? "No connection. Choose it again."}`;
    if (!response?.ok) line.className = "error";
    list.append(line);
  }
  progress.textContent = filled(gettext("{count} measured."), { count: files.length });
});
