// Entries that the clinic rejected: listed one by one, and saved to a file to hand over.

import { button, make } from "./screens.js";
import { gettext } from "../../ui/js/words.js";

const KINDS = {
  sound: "a try",
  timed: gettext("a stopwatch try"),
  told: "a set",
  reference: gettext("a comfortable vowel"),
  mark: gettext("an answer"),
  begun: gettext("start of a session"),
  ended: gettext("end of a session"),
  stop: gettext("a stop report"),
};

const SAVED = gettext("Saved. Give the file to your clinic. It contains your results and answers.");
const NOT_NOW = gettext(
  "Earlier entries are encrypted. Only your clinic can open them. Save them when you are online and signed in.",
);

/** Shows the list in `box`; empty and hidden if there is none. */
export function showRefused(box, outbox) {
  const all = outbox.refused;
  // An unchanged list stays, so that its message about saving stays too.
  const shown = all.map((each) => `${each.key} ${each.at}`).join();
  if (box.dataset.shown === shown) return;
  box.dataset.shown = shown;
  box.hidden = !all.length;
  if (!all.length) return box.replaceChildren();
  const when = ({ at }) =>
    new Date(at).toLocaleString(document.documentElement.lang, {
      dateStyle: "medium",
      timeStyle: "short",
    });
  const remove = button(gettext("Remove them from this device"), {
    disabled: true,
    on: () => outbox.dropRefused(),
  });
  const status = make("p", { role: "status" });
  const save = button(gettext("Save them to a file"), {
    on: async () => {
      const saved = await saveFile(all, outbox);
      if (saved) remove.disabled = false;
      status.textContent = saved ? SAVED : NOT_NOW;
    },
  });
  box.replaceChildren(
    make("p", {}, make("strong", {}, gettext("Not saved by the clinic, kept here:"))),
    make(
      "ul",
      {},
      ...all.map((each) =>
        make("li", {}, `${KINDS[each.kind] ?? "something"} of ${when(each)}: ${each.refused}`),
      ),
    ),
    make("div", { class: "controls" }, save, remove),
    status,
  );
}

async function saveFile(all, outbox) {
  const entries = [];
  for (const each of all) {
    const opened = await outbox.opened(each);
    if (!opened) return false;
    entries.push({ ...opened, refused: each.refused, status: each.status });
  }
  const file = new Blob([JSON.stringify({ format: "still-reed-not-taken", version: 1, entries }, null, 1)], {
    type: "application/json",
  });
  const link = make("a", {
    href: URL.createObjectURL(file),
    download: `not-taken-${new Date().toISOString().slice(0, 10)}.json`,
  });
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60000);
  return true;
}
