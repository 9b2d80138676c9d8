// Fields of the composer: a typed value as an edit, and messages next to a field.

/** The edit of a changed field; null for a field outside the panels and the dose. */
export function typed(field) {
  const form = field.closest("[data-panel], [data-dose]");
  if (!form || !field.name) return null;
  clear(field);
  return { do: "type", item: form.dataset.panel ?? "", name: field.name, said: fieldValue(field, form) };
}

/** Its text; for one box yes or no; for several boxes the ticked ones. */
function fieldValue(field, form) {
  if (field.type !== "checkbox") return field.value;
  const boxes = [...form.querySelectorAll(`[type=checkbox][name="${field.name}"]`)];
  return boxes.length > 1 ? boxes.filter((box) => box.checked).map((box) => box.value) : field.checked;
}

function fieldOf(stage, edit) {
  const form = edit.item ? `[data-panel="${CSS.escape(edit.item)}"]` : "[data-dose]";
  return stage.querySelector(`${form} [name="${CSS.escape(edit.name)}"]`);
}

/** Discards the typing: the field shows the stored value again. */
export function giveUp(stage, edit) {
  const field = fieldOf(stage, edit);
  if (!field) return;
  if (field.type === "checkbox") field.checked = field.defaultChecked;
  else if (field.options) for (const option of field.options) option.selected = option.defaultSelected;
  else field.value = field.defaultValue;
}

/** Shows next to a field why its value was rejected; returns false if the field is gone. */
export function showRejected(stage, edit, words) {
  const field = fieldOf(stage, edit);
  if (!field) return false;
  clear(field);
  const line = document.createElement("span");
  line.className = "error";
  line.setAttribute("role", "alert");
  line.textContent = words;
  line.id = `untaken-${edit.name}`;
  field.setAttribute("aria-invalid", "true");
  field.setAttribute("aria-describedby", line.id);
  (field.closest("label, fieldset") ?? field).append(line);
  return true;
}

function clear(field) {
  field.removeAttribute("aria-invalid");
  field.removeAttribute("aria-describedby");
  field.closest("label, fieldset")?.querySelector(".error")?.remove();
}
