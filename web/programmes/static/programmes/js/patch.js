// Replaces HTML with a fresh drawing where it differs: laying out sixty rows again takes longer than the edit
// of one. Fields in use are never replaced: untouched ones get the new value, the others stay.

/** Replaces each part whose HTML changed, and each such row in the list. */
export function patch(stage, html) {
  const fresh = document.createElement("template");
  fresh.innerHTML = html;
  const [standing, updated] = [stage, fresh.content].map((each) => each.querySelector("[data-strands]"));
  // A programme was added beside the others, or removed.
  if (standing.dataset.strands !== updated.dataset.strands) standing.replaceWith(updated.cloneNode(true));
  const rows = [stage, fresh.content].map((each) => [...each.querySelectorAll("[data-rows]")]);
  rows[0].forEach((each, at) => rowByRow(each, rows[1][at]));
  for (const part of fresh.content.querySelectorAll("[data-part]")) {
    swap(stage.querySelector(`[data-part="${part.dataset.part}"]`), part);
  }
}

function rowByRow(standing, updated) {
  const rows = [...updated.children];
  rows.forEach((row, at) => {
    const old = standing.children[at];
    if (old) swap(old, row);
    else standing.append(row);
  });
  while (standing.children.length > rows.length) standing.lastElementChild.remove();
}

const form = (part) => (part.matches("form") ? part : part.querySelector("form"));
const fields = (part) => [...part.querySelectorAll("[name]")];
const names = (part) =>
  fields(part)
    .map((field) => `${field.name} ${field.type === "checkbox" ? field.value : ""}`)
    .join();

/** Compare the HTML, not the node: typing in a field since then is kept. */
function swap(old, fresh) {
  if (old.outerHTML === fresh.outerHTML) return;
  const [before, after] = [form(old), form(fresh)];
  const same =
    before && after && before.dataset.panel === after.dataset.panel && names(before) === names(after);
  if (same && isInUse(before)) return takeOver(before, after);
  old.replaceWith(fresh);
}

const isInUse = (part) => part.contains(document.activeElement) || fields(part).some(isTouched);

function isTouched(field) {
  if (field.type === "checkbox") return field.checked !== field.defaultChecked;
  if (field.tagName === "SELECT")
    return ![...field.options].every((option) => option.selected === option.defaultSelected);
  return field.value !== field.defaultValue;
}

/** Typing that is not sent yet is newer; everything else is replaced. */
function takeOver(before, after) {
  const drawn = fields(after);
  fields(before).forEach((field, at) => {
    const sent = field.value === drawn[at].value && field.checked === drawn[at].checked;
    const theirs = field !== document.activeElement && !isTouched(field);
    if (field.type === "checkbox") {
      field.defaultChecked = drawn[at].defaultChecked;
      if (theirs) field.checked = drawn[at].checked;
    } else if (field.tagName === "SELECT") {
      const updated = theirs || sent ? drawn[at].value : field.value;
      field.replaceChildren(...drawn[at].children);
      field.value = updated;
    } else {
      const typed = field.value;
      field.defaultValue = drawn[at].defaultValue;
      field.value = theirs ? drawn[at].value : typed;
    }
  });
}
