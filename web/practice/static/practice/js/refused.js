// What the clinic did not take: named one by one, and saved to a file that the client can hand over.

import { button, make, say } from "./screens.js";

const KINDS = {
  sound: "a try",
  timed: "a try by stopwatch",
  told: "a set",
  reference: "a comfortable vowel",
  mark: "an answer",
  begun: "the session’s beginning",
  ended: "the session’s end",
  stop: "what was wrong",
};

/** Shows the list in `box`; empty and hidden where nothing was refused. */
export function showRefused(box, outbox) {
  const all = outbox.refused;
  box.hidden = !all.length;
  if (!all.length) return box.replaceChildren();
  const when = (entry) =>
    new Date(entry.at).toLocaleString(document.documentElement.lang, {
      dateStyle: "medium",
      timeStyle: "short",
    });
  const remove = button("Remove them from this device", { disabled: true, on: () => outbox.dropRefused() });
  const save = button("Save them to a file", {
    on: async () => {
      await saveFile(all);
      remove.disabled = false;
      say("Saved. Give the file to your clinic; it holds what you did and said.");
    },
  });
  box.replaceChildren(
    make("p", {}, make("strong", {}, "Not taken by the clinic, and kept here:")),
    make(
      "ul",
      {},
      ...all.map(({ entry, refused }) =>
        make("li", {}, `${KINDS[entry.kind] ?? "something"} of ${when(entry)}: ${refused}`),
      ),
    ),
    make("div", { class: "controls" }, save, remove),
  );
}

async function saveFile(all) {
  const entries = await Promise.all(
    all.map(async ({ entry, refused, status, recording }) => ({
      entry,
      refused,
      status,
      recording: recording ? await asText(recording) : null,
    })),
  );
  const file = new Blob([JSON.stringify({ format: "still-reed-not-taken", version: 1, entries }, null, 1)], {
    type: "application/json",
  });
  const link = make("a", {
    href: URL.createObjectURL(file),
    download: `not-taken-${new Date().toISOString().slice(0, 10)}.json`,
  });
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60000);
}

/** A recording as a data address: base64 of its WAV file. */
const asText = (recording) =>
  new Promise((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result);
    reader.readAsDataURL(recording);
  });
