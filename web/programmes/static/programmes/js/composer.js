// The composer: what a hand does becomes edits; the draft comes back drawn, counted and checked.

import { onKeys } from "../../ui/js/onkeys.js";
import { csrfToken } from "../../ui/js/token.js";
import { drafting } from "./drafting.js";
import { giveUp, typed, untaken } from "./fields.js";
import { matching } from "./palette.js";
import { patch } from "./patch.js";

const KEPT_ALIVE = 15000; // a browser keeps no more than 64 kB alive, and a letter may take four bytes
const root = document.querySelector("[data-composer]");
const stage = document.getElementById("stage");
const page = JSON.parse(root.dataset.page);
const handOver = document.querySelector("[data-hand-over]");
const find = (name) => root.querySelector(`[data-${name}]`);
const rows = () => [...stage.querySelectorAll("[data-item]")].filter((row) => !leaving.has(row.dataset.item));
const freshId = () => crypto.randomUUID().slice(0, 12);
const leaving = new Set();
let unfolded = false;
let chosen = "";
let focused = stage.querySelector("[data-item]")?.dataset.item ?? "";

async function ask(url, how) {
  const response = await fetch(url, how).catch(() => null);
  if (!response) return null;
  if (response.redirected || response.status === 403) return { ok: false, status: 401, body: null };
  const body = response.status === 204 ? null : await response.json().catch(() => null);
  return { ok: response.ok && (response.status === 204 || body !== null), status: response.status, body };
}

const draft = drafting(
  {
    send: (edits) => {
      const body = JSON.stringify({ ...edits, chosen });
      return ask(root.dataset.editUrl, {
        method: "POST",
        headers: { "Content-Type": "application/json", "X-CSRFToken": csrfToken() },
        body,
        keepalive: body.length < KEPT_ALIVE, // it arrives though the page be left meanwhile
      });
    },
    // a page that nobody looks at asks nothing
    look: async (seen) =>
      document.hidden
        ? null
        : ask(`${root.dataset.editUrl}?seen=${seen}&chosen=${encodeURIComponent(chosen)}`),
    show,
    tell: problem,
    busy: (on) => (stage.ariaBusy = String(on)),
    notMade,
  },
  page.edition,
);

const edit = (what, values = {}) => draft.make({ do: what, ...values });
const isThere = (id) => rows().some((row) => row.dataset.item === id);
const onFocused = (what, values = {}) => isThere(focused) && edit(what, { item: focused, ...values });

function problem(words) {
  find("problem").hidden = !words;
  find("problem").textContent = words;
}

function show(html) {
  leaving.clear();
  // whoever is typing elsewhere (a task to add, a reason) is left there
  const away = document.activeElement !== document.body && !stage.contains(document.activeElement);
  const typing = document.activeElement?.closest?.("[data-panel], [data-dose], [data-finding]");
  patch(stage, html);
  for (const fold of stage.querySelectorAll("[data-keeps-open]")) fold.open = unfolded;
  handOver.querySelector("[name=seen]").value = draft.edition;
  if (!away && !(typing && typing.isConnected)) focusRow(focused);
}

function focusRow(id) {
  const row = rows().find((each) => each.dataset.item === id) ?? rows().at(-1);
  focused = row?.dataset.item ?? "";
  row?.focus({ preventScroll: false });
}

/** An edit that was not made: beside its field, or with what can be done about it. */
function notMade(made, why) {
  const field = made.do === "type" && !why.clash && untaken(stage, made, why.sentence);
  if (field) return;
  const line = document.createElement("li");
  const words = document.createElement("span");
  words.textContent = why.sentence + (made.do === "type" ? ` You typed: “${made.said}”.` : "");
  line.append(words);
  const mine = why.gone ? "Bring it back, with mine" : "Make it mine";
  if (why.clash) line.append(button(mine, () => allTheSame(made, why)));
  const leave = () => made.do === "type" && giveUp(stage, made);
  line.append(button(why.clash ? "Leave theirs" : "All right", leave));
  find("not-made").append(line);

  function button(name, does = () => {}) {
    const made = document.createElement("button");
    Object.assign(made, { type: "button", className: "button", textContent: name });
    made.addEventListener("click", () => (line.remove(), does()));
    return made;
  }
}

function allTheSame(made, why) {
  if (why.gone) draft.make({ do: "bring_back", item: why.gone });
  draft.make(made, { sure: true });
}

function step(by) {
  const ids = rows().map((row) => row.dataset.item);
  focusRow(ids[Math.max(0, Math.min(ids.length - 1, ids.indexOf(focused) + by))]);
}

/** Takes the task in focus out; the one after it, or else before it, has the focus then. */
function takeOut() {
  const ids = rows().map((row) => row.dataset.item);
  const place = ids.indexOf(focused);
  if (place < 0) return;
  edit("remove_item", { item: focused });
  leaving.add(focused);
  focusRow(ids[place + 1] ?? ids[place - 1] ?? "");
}

function openPanel(id = focused) {
  chosen = chosen === id ? "" : id;
  draft.drawn().then(() => chosen && stage.querySelector("[data-panel] input")?.focus());
}

/** What the palette finds: tasks to add, or programmes to begin from. */
let finds = "tasks";
function showPalette(what = "tasks") {
  finds = what;
  find("palette").hidden = false;
  find("palette-title").textContent =
    what === "tasks" ? "Add a task" : "Begin from the library, or another client";
  find("find-task").value = "";
  found("");
  find("find-task").focus();
}

function found(words) {
  const hits = matching(page[finds], words);
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
  if (finds === "library") {
    const { name } = page.library.find((each) => each.code === code);
    return replaceAll("use", { code }, `Put “${name}” in place of the ${tasksNow()} that stand here?`);
  }
  const id = freshId();
  edit("add_item", { id, task: code, after: focused || null });
  focused = id;
  document.activeElement?.blur(); // the new row has the focus as soon as it is there
}

function repeat() {
  const id = freshId();
  if (onFocused("repeat_item", { id })) focused = id;
}

const fix = (finding) => finding && edit("fix", { key: finding.dataset.finding, id: freshId() });

function overrule(finding) {
  if (!finding) return;
  const form = document.createElement("form");
  form.className = "mt-1 grid gap-1";
  form.innerHTML =
    "<input class='input' maxlength='500' required aria-label='Why it should be so all the same'>" +
    "<button class='button'>Keep it</button>";
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    const reason = form.firstChild.value.trim();
    if (reason) edit("overrule", { key: finding.dataset.finding, reason });
  });
  form.firstChild.value = finding.dataset.before;
  finding.append(form);
  form.firstChild.focus();
}

/** What replaces the whole session is asked about where there is work to lose, and can be undone. */
async function replaceAll(what, values, asks) {
  await draft.settle(); // an edit that is on its way is not overtaken
  if (rows().length && !(await agreed(asks))) return;
  chosen = "";
  await edit(what, values);
  focusRow(rows()[0]?.dataset.item);
}

function agreed(words) {
  const dialog = find("sure");
  dialog.querySelector("[data-asks]").textContent = words;
  return answered(dialog);
}

/** What each dialog was last asked for, until it is answered. */
const unanswered = new WeakMap();
function answered(dialog) {
  unanswered.get(dialog)?.(false); // closed a moment ago: its closing is told late, and not to this question
  dialog.returnValue = "";
  dialog.showModal();
  return new Promise((resolve) => {
    unanswered.set(dialog, resolve);
    dialog.onclose = () => dialog.open || resolve(dialog.returnValue === "yes");
  });
}

const tasksNow = () => `${rows().length} task${rows().length === 1 ? "" : "s"}`;
function startFrom(button) {
  const name = button.querySelector("[data-name]").textContent;
  const asks = `Put “${name}” in place of the ${tasksNow()} that stand here?`;
  return replaceAll("start", { code: button.dataset.start }, asks);
}
const forget = () => replaceAll("forget", {}, `Forget this draft of ${tasksNow()}?`);

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
document.addEventListener(
  "click",
  ({ target }) => target.closest("[data-start]") && startFrom(target.closest("[data-start]")),
);
root.addEventListener("click", ({ target }) => {
  const row = target.closest("[data-item]");
  if (row) focused = row.dataset.item;
  if (target.closest("[data-add]")) add(target.closest("[data-add]").dataset.add);
  if (target.closest("[data-do-fix]")) fix(target.closest("[data-finding]"));
  if (target.closest("[data-overrule]")) overrule(target.closest("[data-finding]"));
  if (target.closest("[data-forget]")) forget();
  if (target.closest("[data-own-rungs]")) edit("own_rungs", { item: chosen });
  if (target.closest("[data-from-library]")) showPalette("library");
  if (target.closest("[data-start-today]")) startToday(target.closest("[data-start-today]"));
  if (target.closest("[data-beside]"))
    edit("beside", { code: target.closest("[data-beside]").dataset.beside });
  const dropped = target.closest("[data-drop-strand]");
  if (dropped) edit("drop_strand", { id: dropped.dataset.dropStrand });
});
stage.addEventListener(
  "toggle",
  ({ target }) => target.isConnected && target.matches("[data-keeps-open]") && (unfolded = target.open),
  { capture: true }, // it does not bubble
);
root.addEventListener("dblclick", ({ target }) => target.closest("[data-item]") && openPanel());
root.addEventListener(
  "focusin",
  ({ target }) => target.matches("[data-item]") && (focused = target.dataset.item),
);
root.addEventListener("change", ({ target }) => {
  const said = typed(target);
  if (said) draft.make(said);
});
root.addEventListener(
  "submit",
  (event) => event.target.closest("[data-panel], [data-dose]") && event.preventDefault(),
);

let dragged = "";
stage.addEventListener(
  "dragstart",
  ({ target }) => (dragged = target.closest("[data-item]")?.dataset.item ?? ""),
);
stage.addEventListener("dragover", (event) => event.target.closest("[data-item]") && event.preventDefault());
stage.addEventListener("drop", (event) => {
  const onto = event.target.closest("[data-item]");
  if (!onto || !dragged) return;
  event.preventDefault();
  focused = dragged;
  edit("place_item", { item: dragged, at: onto.dataset.item });
});

const KEYS = {
  "+": () => showPalette(),
  "=": () => showPalette(),
  l: () => showPalette("library"),
  k: () => find("keep").showModal(),
  arrowdown: () => step(1),
  arrowup: () => step(-1),
  enter: () => openPanel(),
  d: repeat,
  delete: takeOut,
  u: () => edit("undo"),
  y: () => edit("redo"),
  s: () => onFocused("toggle", { name: "short" }),
  w: () => onFocused("toggle", { name: "sip" }),
  "[": () => onFocused("climb_rung", { by: -1 }),
  "]": () => onFocused("climb_rung", { by: 1 }),
  x: () => fix(stage.querySelector("[data-fix]")),
  o: () => overrule(stage.querySelector("[data-overrule]")?.closest("[data-finding]")),
};
document.querySelectorAll("[data-start]").forEach((button, at) => (KEYS[at + 1] = () => startFrom(button)));
const WITH_ALT = {
  arrowup: () => onFocused("move_item", { by: -1 }),
  arrowdown: () => onFocused("move_item", { by: 1 }),
};

/** Shows what the hand-over changes for the client; the edition that was shown is the one handed over. */
async function confirmed() {
  const dialog = find("confirm");
  const response = await fetch(dialog.dataset.url).catch(() => null);
  if (!response?.ok) {
    problem("Nothing was handed over: the line is down. Try again when it is back.");
    return false;
  }
  dialog.querySelector("[data-changes]").innerHTML = await response.text();
  const shown = dialog.querySelector("[data-edition]").dataset.edition;
  if (!(await answered(dialog))) return false;
  handOver.querySelector("[name=seen]").value = shown;
  return true;
}

async function startToday(button) {
  edit("type", { item: "", name: button.dataset.startToday, said: button.dataset.said });
  find("confirm").close("");
  handOver.requestSubmit();
}

// what is handed over is what stands on the screen: an edit that is on its way is waited for
handOver.addEventListener("submit", async (event) => {
  if (handOver.ready) return;
  event.preventDefault();
  document.activeElement.blur(); // a field that is being typed in counts
  if (!(await draft.settle())) return;
  const open = find("not-made").querySelector("button") ?? stage.querySelector("[aria-invalid]");
  if (open) return open.focus(); // what was typed and not taken is neither lost nor handed over
  if (!(await confirmed())) return;
  handOver.ready = true;
  setTimeout(() => handOver.requestSubmit()); // not while the first submission is still being dispatched
});
addEventListener("beforeunload", (event) => draft.waits && event.preventDefault());

onKeys(
  (key, { altKey, target }) => {
    if (key === "enter" && !target.closest("[data-item]")) return null;
    return (altKey ? WITH_ALT : KEYS)[key];
  },
  { alt: true },
);
focusRow(focused);
