// Handing the draft over: what it changes is shown first.

import { answered } from "./dialogs.js";
import { gettext } from "../../ui/js/words.js";

/** The form hands over what stands on the screen, once that is confirmed. */
export function confirmFirst(form, { find, stage, draft, problem }) {
  /** Shows what the hand-over changes for the client; the edition that was shown is the one handed over. */
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

  // what is handed over is what stands on the screen: an edit that is on its way is waited for
  form.addEventListener("submit", async (event) => {
    if (form.ready) return;
    event.preventDefault();
    document.activeElement.blur(); // a field that is being typed in counts
    if (!(await draft.settle())) return;
    const open = find("not-made").querySelector("button") ?? stage.querySelector("[aria-invalid]");
    if (open) return open.focus(); // what was typed and not taken is neither lost nor handed over
    if (!(await confirmed())) return;
    form.ready = true;
    setTimeout(() => form.requestSubmit()); // not while the first submission is still being dispatched
  });
}
