// What replaces the whole session is asked about where there is work to lose, and can be undone.

import { answered } from "./dialogs.js";

/** Begins from a programme, or forgets the draft; `replace(what, values)` makes the edit. */
export function replacing({ dialog, count, settle, replace }) {
  const tasksNow = () => `${count()} task${count() === 1 ? "" : "s"}`;

  async function ask(what, values, words) {
    await settle(); // an edit that is on its way is not overtaken
    dialog.querySelector("[data-asks]").textContent = words;
    if (!count() || (await answered(dialog))) await replace(what, values);
  }

  return {
    begin: (what, code, name) => ask(what, { code }, `Replace the ${tasksNow()} with “${name}”?`),
    forget: () => ask("forget", {}, `Discard this draft of ${tasksNow()}?`),
  };
}
