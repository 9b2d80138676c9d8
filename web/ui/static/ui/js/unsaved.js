// Stores form input as it is typed, and restores it when the page is opened again. Forms opt in with the
// hidden field of the tag "unsaved"; the site stores it, because computers are shared.
import { filled, gettext } from "./words.js";

const WAIT_MS = 700;
const forms = [...document.querySelectorAll("[data-unsaved]")].map((field) => field.form);
const unsaved = (form) => form.querySelector("[data-unsaved]");
const tell = document.querySelector("[data-not-kept]");
let sending = Promise.resolve(true);
let under = 0; // Number of requests being sent.

const fieldsOf = (form) =>
  [...form.elements].filter(
    (field) => field.name && !["hidden", "submit", "button", "password"].includes(field.type),
  );
const ticks = (field) => field.type === "checkbox" || field.type === "radio";
const nameOf = (field) => (ticks(field) ? `${field.name}=${field.value}` : field.name);
const currentValue = (field) => (ticks(field) ? String(field.checked) : field.value);
function stood(field) {
  if (ticks(field)) return String(field.defaultChecked);
  if (field.tagName === "SELECT")
    return (
      [...field.options].find((option) => option.defaultSelected)?.value ?? field.options[0]?.value ?? ""
    );
  return field.defaultValue;
}

/** By field: the typed and the stored value; unchanged fields are left out. */
const typed = (form) =>
  Object.fromEntries(
    fieldsOf(form)
      .filter((field) => currentValue(field) !== stood(field))
      .map((field) => [nameOf(field), [currentValue(field), stood(field)]]),
  );

/** Sends the difference to the last stored input; returns whether all of it is stored now. */
function keep(form, { leaving = false } = {}) {
  if (form.sent) return sending;
  const fields = typed(form);
  const now = JSON.stringify(fields);
  if (now === form.kept && !leaving) return sending;
  if (now === "{}" && form.kept === "{}") return sending;
  form.kept = now;
  under += 1;
  const token = form.querySelector("[name=csrfmiddlewaretoken]").value;
  const body = JSON.stringify({ form: unsaved(form).value, fields, leaving });
  sending = sending.then(async () => {
    const response = await fetch(unsaved(form).dataset.unsaved, {
      method: "POST",
      headers: { "Content-Type": "application/json", "X-CSRFToken": token },
      body,
      keepalive: body.length < 60000,
    }).catch(() => null);
    under -= 1;
    if (!response?.ok) form.kept = "";
    return Boolean(response?.ok);
  });
  return sending;
}

/** Restores the input and says so; if the saved text changed meanwhile, shows both. */
function restoreInput(form) {
  const holder = form.querySelector("[data-kept]");
  form.kept = "{}";
  if (!holder) return;
  const { fields, at } = JSON.parse(holder.textContent);
  let back = 0;
  for (const field of fieldsOf(form)) {
    const pair = fields[nameOf(field)];
    if (!pair) continue;
    const [words, before] = pair;
    if (currentValue(field) === words) continue;
    back += 1;
    if (!ticks(field) && stood(field) !== before)
      field.insertAdjacentElement(
        "afterend",
        line(filled(gettext("Saved by someone else: {stood}"), { stood: stood(field) || "empty" })),
      );
    if (ticks(field)) field.checked = words === "true";
    else field.value = words;
  }
  form.kept = JSON.stringify(typed(form));
  if (!back) return;
  const drop = document.createElement("button");
  drop.type = "button";
  drop.className = "underline cursor-pointer";
  drop.textContent = gettext("Use the saved version");
  drop.addEventListener("click", async () => {
    form.reset();
    form.dispatchEvent(new Event("change", { bubbles: true }));
    await keep(form);
    notice.remove();
  });
  const notice = line(filled(gettext("Your unsaved draft from {at} is restored."), { at }) + " ");
  notice.className = "notice";
  notice.setAttribute("role", "status");
  notice.append(drop);
  form.prepend(notice);
  form.dispatchEvent(new Event("change", { bubbles: true }));
}

function line(words) {
  const made = document.createElement("p");
  made.className = "text-soft preserve";
  made.textContent = words;
  return made;
}

const dirty = (form) => !form.sent && Object.keys(typed(form)).length > 0;

/** Leaves the page once the input is stored; if that fails, says so and leaves at the second request. */
async function leave(go) {
  const kept = await Promise.all(forms.filter(dirty).map((form) => keep(form, { leaving: true })));
  if (kept.every(Boolean) || !tell.hidden) return go();
  tell.textContent = gettext(
    "No connection, so your draft is not saved. Stay on this page, or leave again to discard it.",
  );
  tell.hidden = false;
  tell.scrollIntoView({ block: "nearest" });
}

for (const form of forms) {
  restoreInput(form);
  let timer = 0;
  form.addEventListener("input", () => {
    clearTimeout(timer);
    timer = setTimeout(() => keep(form), WAIT_MS);
  });
  form.addEventListener("change", () => keep(form));
  form.addEventListener("submit", (event) => {
    clearTimeout(timer);
    form.sent = true;
    if (!under) return;
    // A request in progress would bring it back after the saved form was cleared.
    event.preventDefault();
    const by = event.submitter;
    sending.then(() => setTimeout(() => form.requestSubmit(by)));
  });
}
document.addEventListener("click", (event) => {
  const link = event.target.closest("a[href]");
  if (
    !link ||
    link.target ||
    link.hasAttribute("download") ||
    event.ctrlKey ||
    event.metaKey ||
    event.shiftKey ||
    event.defaultPrevented
  )
    return;
  if (link.getAttribute("href").startsWith("#") || !forms.some(dirty)) return;
  event.preventDefault();
  leave(() => location.assign(link.href));
});
document.addEventListener("submit", (event) => {
  const form = event.target;
  if (form.sent || form.hasAttribute("data-leaving") || !forms.some((each) => each !== form && dirty(each)))
    return;
  event.preventDefault();
  const by = event.submitter;
  leave(() => {
    form.setAttribute("data-leaving", "");
    setTimeout(() => form.requestSubmit(by)); // Not while the first submission is still being dispatched.
  });
});
addEventListener("pagehide", () => forms.filter(dirty).forEach((form) => keep(form)));
document.querySelector("[aria-invalid=true]")?.focus();
