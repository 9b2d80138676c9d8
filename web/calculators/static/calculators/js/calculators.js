// Updates each calculator as its figures change; without scripts, Enter sends the form.

import "../../ui/js/clinic.js";
import { onKeys } from "../../ui/js/onkeys.js";

const WAIT_MS = 250;

const queryOf = (form) => new URLSearchParams(/** @type {any} */ (new FormData(form)));

function wire(section) {
  const number = section.querySelector("[data-number]")?.outerHTML ?? "";
  let waiting = null;
  let newest = 0;
  async function work(form) {
    const mine = ++newest;
    const query = queryOf(form);
    query.set("part", "1");
    const response = await fetch(`?${query}`).catch(() => null);
    if (!response?.ok || mine !== newest) return;
    const { stage } = await response.json();
    const { name, selectionStart } = document.activeElement;
    section.innerHTML = stage;
    if (number) section.querySelector("h2").insertAdjacentHTML("afterbegin", `${number} `);
    const field = name && section.querySelector(`[name="${CSS.escape(name)}"]`);
    field?.focus();
    if (field?.type === "text") field.setSelectionRange(selectionStart, selectionStart);
  }
  section.addEventListener("input", ({ target }) => {
    clearTimeout(waiting);
    newest++; // An answer to an earlier value would overwrite the typing.
    waiting = setTimeout(() => work(target.form), WAIT_MS);
  });
  section.addEventListener("submit", (event) => {
    const form = section.querySelector(".tool-form");
    if (event.target !== form) {
      // The draft gets the current figures, including those typed a moment ago.
      const address = new URL(event.target.action);
      address.search = queryOf(form).toString();
      event.target.action = address.href;
      return;
    }
    event.preventDefault();
    work(event.target);
  });
  section.addEventListener("click", ({ target }) => {
    const note = target.dataset?.note;
    if (!note) return;
    section.querySelector("[name=pitch]").value = note;
    work(section.querySelector("form"));
  });
}

const sections = [...document.querySelectorAll("[data-tool]")];
sections.forEach(wire);
onKeys((key) => {
  const section = sections[Number(key) - 1];
  if (!section) return null;
  return () => {
    section.scrollIntoView();
    section.querySelector("input:not([type=hidden])").focus();
  };
});
