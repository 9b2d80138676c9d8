// The composer: edits a document, sends it, and shows what comes back drawn, counted and checked.

import { edits } from "./edits.js";
import { patch } from "./patch.js";

const root = document.querySelector("[data-composer]");
const stage = document.getElementById("stage");
const page = JSON.parse(root.dataset.page);
const tasks = new Map(page.tasks.map((task) => [task.code, task]));
const edit = edits(tasks, page);
let current = page.document;
let chosen = "";
let focused = current.items[0]?.id ?? "";
const past = [];
const future = [];
let sending = Promise.resolve();
let climbing = Promise.resolve();

const find = (name) => root.querySelector(`[data-${name}]`);
const rows = () => [...stage.querySelectorAll("[data-item]")];

function problem(words) {
  find("problem").hidden = !words;
  find("problem").textContent = words;
}

/** Sends a document; what was there before can be undone unless `remember` is off. */
function change(next, { remember = true, focus = focused, panel = chosen } = {}) {
  if (!next) return;
  const before = current;
  current = next;
  if (remember) {
    past.push(before);
    future.length = 0;
  }
  sending = sending.then(() => send(next, before, { remember, focus, panel }));
}

async function send(next, before, { remember, focus, panel }) {
  const token = root.querySelector("[name=csrfmiddlewaretoken]").value;
  const response = await fetch(root.dataset.editUrl, {
    method: "POST",
    headers: { "Content-Type": "application/json", "X-CSRFToken": token },
    body: JSON.stringify({ document: next, chosen: panel }),
  }).catch(() => null);
  const answer = response && (await response.json().catch(() => null));
  if (!response?.ok) {
    if (current === next) current = before;
    if (remember) past.pop();
    return problem(answer?.sentence ?? "No connection: that change is not kept. Try it again.");
  }
  problem("");
  if (current !== next) return; // a newer edit is on its way
  current = answer.document;
  show(answer.stage, focus, panel);
}

function show(html, focus, panel) {
  // whoever is typing elsewhere (a task to add, a reason) is left there
  const away = document.activeElement !== document.body && !stage.contains(document.activeElement);
  patch(stage, html);
  chosen = panel;
  const typing = document.activeElement?.closest?.("[data-panel], [data-dose], [data-finding]");
  if (away || typing) focused = focus;
  else focusRow(focus);
}

function focusRow(id) {
  const row = rows().find((each) => each.dataset.item === id) ?? rows().at(-1);
  focused = row?.dataset.item ?? "";
  row?.focus({ preventScroll: false });
}

const undo = () => past.length && (future.push(current), change(past.pop(), { remember: false }));
const redo = () => future.length && (past.push(current), change(future.pop(), { remember: false }));
const move = (by) => change(edit.move(current, focused, by));

/** A rung down or up as the row in focus says it; after what is on its way, for that changes the row. */
function rung(way) {
  const id = focused;
  climbing = climbing.then(async () => {
    await sending;
    const values = rows().find((row) => row.dataset.item === id)?.dataset[way];
    if (values) change(edit.setParams(current, id, JSON.parse(values)));
  });
}

function step(by) {
  const ids = rows().map((row) => row.dataset.item);
  focusRow(ids[Math.max(0, Math.min(ids.length - 1, ids.indexOf(focused) + by))]);
}

/** Takes the task in focus out; the one after it, or else before it, has the focus then. */
function takeOut() {
  const ids = rows().map((row) => row.dataset.item);
  const place = ids.indexOf(focused);
  change(edit.remove(current, focused), { focus: ids[place + 1] ?? ids[place - 1] ?? "" });
}

function openPanel() {
  const panel = chosen === focused ? "" : focused;
  change(current, { remember: false, panel });
  if (panel) sending.then(() => stage.querySelector("[data-panel] input")?.focus());
}

function showPalette() {
  find("palette").hidden = false;
  find("find-task").value = "";
  found("");
  find("find-task").focus();
}

function found(words) {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const hits = page.tasks.filter((task) => wanted.every((word) => `${task.name} ${task.family} ${task.code}`.toLowerCase().includes(word)));
  find("found").replaceChildren(
    ...hits.slice(0, 8).map((task, at) => {
      const line = document.createElement("li");
      line.innerHTML = "<button type='button'><strong></strong> <span class='text-soft'></span></button>";
      line.querySelector("strong").textContent = task.name;
      line.querySelector("span").textContent = task.family;
      line.firstChild.dataset.add = task.code;
      if (at === 0) line.setAttribute("data-first", "");
      return line;
    }),
  );
}

function add(code) {
  find("palette").hidden = true;
  const [next, id] = edit.add(current, code, focused);
  change(next, { focus: id });
}

function firstFix() {
  const finding = stage.querySelector("[data-fix]");
  if (finding) fix(finding);
}

const fix = (finding) => change(edit.fix(current, JSON.parse(finding.dataset.fix)));

function overrule(finding) {
  const form = document.createElement("form");
  form.className = "mt-1 grid gap-1";
  form.innerHTML = "<input class='input' maxlength='500' required aria-label='Why it should be so all the same'><button class='button'>Keep it</button>";
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    const reason = form.firstChild.value.trim();
    if (reason) change({ ...current, overrules: { ...current.overrules, [finding.dataset.finding]: reason } });
  });
  form.firstChild.value = finding.dataset.before;
  finding.append(form);
  form.firstChild.focus();
}

find("find-task").addEventListener("input", ({ target }) => found(target.value));
find("find-task").addEventListener("keydown", (event) => {
  if (event.key === "Escape") {
    event.stopPropagation();
    find("palette").hidden = true;
    focusRow(focused);
  }
  if (event.key !== "Enter") return;
  event.preventDefault();
  const first = find("found").querySelector("[data-add]");
  if (first) add(first.dataset.add);
});
root.addEventListener("click", ({ target }) => {
  const row = target.closest("[data-item]");
  if (row) focused = row.dataset.item;
  if (target.closest("[data-add]")) add(target.closest("[data-add]").dataset.add);
  if (target.closest("[data-do-fix]")) fix(target.closest("[data-finding]"));
  if (target.closest("[data-overrule]")) overrule(target.closest("[data-finding]"));
});
root.addEventListener("dblclick", ({ target }) => target.closest("[data-item]") && openPanel());
root.addEventListener("focusin", ({ target }) => target.matches("[data-item]") && (focused = target.dataset.item));
root.addEventListener("change", ({ target }) => {
  const panel = target.closest("[data-panel]");
  if (panel) return change(edit.panel(current, panel, target, problem));
  if (target.closest("[data-dose]")) change(edit.dose(current, target.closest("[data-dose]")));
});
root.addEventListener("submit", (event) => event.target.closest("[data-panel], [data-dose]") && event.preventDefault());

let dragged = "";
stage.addEventListener("dragstart", ({ target }) => (dragged = target.closest("[data-item]")?.dataset.item ?? ""));
stage.addEventListener("dragover", (event) => event.target.closest("[data-item]") && event.preventDefault());
stage.addEventListener("drop", (event) => {
  const onto = event.target.closest("[data-item]");
  if (!onto || !dragged) return;
  event.preventDefault();
  change(edit.moveTo(current, dragged, onto.dataset.item), { focus: dragged });
});

const KEYS = {
  "+": showPalette, "=": showPalette, arrowdown: () => step(1), arrowup: () => step(-1), enter: openPanel,
  d: () => change(edit.duplicate(current, focused)), delete: takeOut,
  u: undo, y: redo, s: () => change(edit.toggle(current, focused, "short")), w: () => change(edit.toggle(current, focused, "sip")),
  "[": () => rung("rungDown"), "]": () => rung("rungUp"),
  x: firstFix, o: () => stage.querySelector("[data-overrule]") && overrule(stage.querySelector("[data-overrule]").closest("[data-finding]")),
  ...Object.fromEntries([1, 2, 3, 4].map((at) => [at, () => document.querySelector(`[data-start="${at}"]`).click()])),
};

/** What replaces the whole session is asked about where there is work to lose, and can be undone. */
async function replaceAll(form, asks) {
  await sending; // an edit that is on its way is not overtaken
  if (current.items.length && !(await agreed(asks))) return;
  const response = await fetch(form.action, { method: "POST", body: new FormData(form), headers: { Accept: "application/json" } }).catch(() => null);
  const answer = response?.ok && (await response.json().catch(() => null));
  if (!answer) return problem("No connection: nothing was replaced. Try it again.");
  change(answer.document, { focus: answer.document.items[0]?.id ?? "", panel: "" });
}

function agreed(words) {
  const dialog = find("sure");
  dialog.querySelector("[data-asks]").textContent = words;
  dialog.returnValue = "";
  dialog.showModal();
  return new Promise((resolve) => dialog.addEventListener("close", () => resolve(dialog.returnValue === "yes"), { once: true }));
}

// what is handed over is what stands on the screen: an edit that is on its way is waited for
const handOver = document.querySelector("[data-hand-over]");
handOver.addEventListener("submit", async (event) => {
  if (handOver.ready) return;
  event.preventDefault();
  document.activeElement.blur(); // a field that is being typed in counts
  await climbing;
  await sending;
  if (!find("problem").hidden) return;
  handOver.ready = true;
  setTimeout(() => handOver.requestSubmit()); // not while the first submission is still being dispatched
});

const tasksNow = () => `${current.items.length} task${current.items.length === 1 ? "" : "s"}`;
document.addEventListener("submit", (event) => {
  const form = event.target;
  if (!form.matches("[data-replaces]")) return;
  event.preventDefault();
  const what = form.dataset.replaces;
  replaceAll(form, what ? `Put “${what}” in place of the ${tasksNow()} that stand here?` : `Forget this draft of ${tasksNow()}?`);
});
document.addEventListener(
  "keydown",
  (event) => {
    if (event.ctrlKey || event.metaKey || event.target.closest("input, select, textarea, dialog")) return;
    if (event.key === "Enter" && !event.target.closest("[data-item]")) return;
    const does = event.altKey ? { arrowup: () => move(-1), arrowdown: () => move(1) }[event.key.toLowerCase()] : KEYS[event.key.toLowerCase()];
    if (!does) return;
    event.preventDefault();
    event.stopPropagation(); // S and D mean something else on other screens
    does();
  },
  true,
);
focusRow(focused);
