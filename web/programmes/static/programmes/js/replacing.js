// Replacing the whole session: asked first if work would be lost, and can be undone.

import { answered } from "./dialogs.js";
import { filled, gettext, ngettext } from "../../ui/js/words.js";

/** Starts from a programme, or discards the draft; `replace(what, values)` makes the edit. */
export function replacing({ dialog, count, settle, replace }) {
  const tasksNow = () => filled(ngettext("{count} task", "{count} tasks", count()), { count: count() });

  async function ask(what, values, words) {
    await settle(); // An edit being sent is not overtaken.
    dialog.querySelector("[data-asks]").textContent = words;
    if (!count() || (await answered(dialog))) await replace(what, values);
  }

  return {
    begin: (what, code, name) =>
      ask(
        what,
        { code },
        filled(gettext("Replace the {tasksNow} with “{name}”?"), { tasksNow: tasksNow(), name }),
      ),
    forget: () =>
      ask("forget", {}, filled(gettext("Discard this draft of {tasksNow}?"), { tasksNow: tasksNow() })),
  };
}
