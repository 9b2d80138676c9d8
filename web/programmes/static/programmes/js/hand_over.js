// Publishing the draft: its changes are shown first.

import { answered } from "./dialogs.js";
import { gettext } from "../../ui/js/words.js";

/** Submits the form with the state on the screen, once confirmed. */
export function confirmFirst(form, { find, stage, draft, problem }) {
  /** Shows the changes for the client; the edition shown is the one published. */
  async function confirmed() {
    const dialog = find("confirm");
    const response = await fetch(dialog.dataset.url).catch(() => null);
    if (!response?.ok) {
      problem(gettext("Nothing was prescribed: there is no connection. Try again when it is back."));
      return false;
    }
    dialog.querySelector("[data-changes]").innerHTML = await response.text();
    const shown = dialog.querySelector("[data-edition]").dataset.edition;
    if (!(await answered(dialog))) return false;
    form.querySelector("[name=seen]").value = shown;
    return true;
  }

  // The state on the screen is published: wait for edits being sent.
  form.addEventListener("submit", async (event) => {
    if (form.ready) return;
    event.preventDefault();
    document.activeElement.blur(); // A field being typed in counts.
    if (!(await draft.settle())) return;
    const open = find("not-made").querySelector("button") ?? stage.querySelector("[aria-invalid]");
    if (open) return open.focus(); // Rejected typing is neither lost nor published.
    if (!(await confirmed())) return;
    form.ready = true;
    setTimeout(() => form.requestSubmit()); // Not while the first submission is still being dispatched.
  });
}
