// The composer: user actions become edits; the draft returns drawn, counted and checked.

import { gettext } from "../../ui/js/words.js";
import "../../ui/js/clinic.js";
import { onKeys } from "../../ui/js/onkeys.js";
import { requestsOf } from "./asking.js";
import { dragRows } from "./dragging.js";
import { drafting } from "./drafting.js";
import { typed } from "./fields.js";
import { askReason } from "./findings.js";
import { finder } from "./finder.js";
import { confirmFirst } from "./hand_over.js";
import { notMade } from "./not_made.js";
import { patch } from "./patch.js";
import { replacing } from "./replacing.js";

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

const problem = (words) => Object.assign(find("problem"), { hidden: !words, textContent: words });

const draft = drafting(
  {
    ...requestsOf(root.dataset.editUrl, () => chosen),
    show,
    tell: problem,
    busy: (on) => (stage.ariaBusy = String(on)),
    notMade: (made, why) => notMade(made, why, { stage, list: find("not-made"), make: draft.make }),
  },
  page.edition,
);

const edit = (what, values = {}) => draft.make({ do: what, ...values });
const rowExists = (id) => rows().some((row) => row.dataset.item === id);
const onFocused = (what, values = {}) => rowExists(focused) && edit(what, { item: focused, ...values });

function show(html) {
  leaving.clear();
  // Leave the focus with a user who is typing elsewhere (a task to add, a reason).
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

function step(by) {
  const ids = rows().map((row) => row.dataset.item);
  focusRow(ids[Math.max(0, Math.min(ids.length - 1, ids.indexOf(focused) + by))]);
}

/** Removes the focused task; then the next one has the focus, or the previous one at the end. */
function removeItem() {
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

const palette = finder({ find, known: page, add, leave: () => focusRow(focused) });

function add(what, code) {
  if (what === "library") {
    const { name } = page.library.find((each) => each.code === code);
    return whole.begin("use", code, name);
  }
  const id = freshId();
  edit("add_item", { id, task: code, after: focused || null });
  focused = id;
  document.activeElement?.blur(); // The new row gets the focus as soon as it exists.
}

function repeat() {
  const id = freshId();
  if (onFocused("repeat_item", { id })) focused = id;
}

const fix = (finding) => finding && edit("fix", { key: finding.dataset.finding, id: freshId() });

const overrule = (finding) => finding && askReason(finding, (why) => edit("overrule", why));

const whole = replacing({
  dialog: find("sure"),
  count: () => rows().length,
  settle: () => draft.settle(),
  replace: async (what, values) => {
    chosen = "";
    await edit(what, values);
    focusRow(rows()[0]?.dataset.item);
  },
});
const startFrom = (button) =>
  whole.begin("start", button.dataset.start, button.querySelector("[data-name]").textContent);

document.addEventListener(
  "click",
  ({ target }) => target.closest("[data-start]") && startFrom(target.closest("[data-start]")),
);
root.addEventListener("click", ({ target }) => {
  const row = target.closest("[data-item]");
  if (row) focused = row.dataset.item;
  if (target.closest("[data-add]")) palette.chosen(target.closest("[data-add]").dataset.add);
  if (target.closest("[data-do-fix]")) fix(target.closest("[data-finding]"));
  if (target.closest("[data-overrule]")) overrule(target.closest("[data-finding]"));
  if (target.closest("[data-forget]")) whole.forget();
  if (target.closest("[data-own-rungs]")) edit("own_rungs", { item: chosen });
  if (target.closest("[data-from-library]")) palette.show("library");
  if (target.closest("[data-start-today]")) startToday(target.closest("[data-start-today]"));
  if (target.closest("[data-beside]"))
    edit("beside", { code: target.closest("[data-beside]").dataset.beside });
  const dropped = target.closest("[data-drop-strand]");
  if (dropped) edit("drop_strand", { id: dropped.dataset.dropStrand });
});
stage.addEventListener(
  "toggle",
  ({ target }) => target.isConnected && target.matches("[data-keeps-open]") && (unfolded = target.open),
  { capture: true }, // The event does not bubble.
);
root.addEventListener("dblclick", ({ target }) => target.closest("[data-item]") && openPanel());
root.addEventListener(
  "focusin",
  ({ target }) => target.matches("[data-item]") && (focused = target.dataset.item),
);
root.addEventListener("change", ({ target }) => {
  const change = typed(target);
  if (change) draft.make(change);
});
root.addEventListener(
  "submit",
  (event) => event.target.closest("[data-panel], [data-dose]") && event.preventDefault(),
);

dragRows(stage, (item, at) => {
  focused = item;
  edit("place_item", { item, at });
});

/** Escape closes the panel; it never leaves a draft, but puts the focus on the link that does. */
function escape() {
  if (chosen) {
    openPanel(chosen);
    return focusRow(focused);
  }
  document.querySelector("[data-back]").focus();
  find("says").textContent = gettext("The draft is kept. Press Enter to close.");
}
const staysOpen = () => chosen || draft.waits || stage.querySelector("[data-forget]");

const KEYS = {
  "+": () => palette.show("tasks"),
  "=": () => palette.show("tasks"),
  l: () => palette.show("library"),
  k: () => find("keep").showModal(),
  arrowdown: () => step(1),
  arrowup: () => step(-1),
  enter: () => openPanel(),
  d: repeat,
  delete: removeItem,
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

async function startToday(button) {
  edit("type", { item: "", name: button.dataset.startToday, said: button.dataset.said });
  find("confirm").close("");
  handOver.requestSubmit();
}

confirmFirst(handOver, { find, stage, draft, problem });
addEventListener("beforeunload", (event) => draft.waits && event.preventDefault());

onKeys(
  (key, { altKey, target }) => {
    if (key === "enter" && !target.closest("[data-item]")) return null;
    if (key === "escape") return !document.querySelector("dialog[open]") && staysOpen() ? escape : null;
    return (altKey ? WITH_ALT : KEYS)[key];
  },
  { alt: true },
);
focusRow(focused);
