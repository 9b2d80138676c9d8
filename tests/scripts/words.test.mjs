// Texts of the scripts, without a catalogue and with one.

import assert from "node:assert/strict";
import test from "node:test";

const MODULE = "../../web/ui/static/ui/js/words.js";

async function wordsOf(catalogue, lang) {
  globalThis.document = {
    documentElement: { lang },
    getElementById: () => (catalogue ? { textContent: JSON.stringify(catalogue) } : null),
  };
  return import(`${MODULE}?${lang}`);
}

test("without a catalogue a text is as it is written", async () => {
  const { filled, gettext, ngettext } = await wordsOf(null, "en-gb");
  assert.equal(gettext("Saved."), "Saved.");
  assert.equal(filled(ngettext("{sent} try sent", "{sent} tries sent", 1), { sent: 1 }), "1 try sent");
  assert.equal(filled(ngettext("{sent} try sent", "{sent} tries sent", 0), { sent: 0 }), "0 tries sent");
});

test("a catalogue has the texts of its language", async () => {
  const { filled, gettext, ngettext } = await wordsOf(
    { "Saved.": "Uložené.", "{sent} try sent": ["{sent} pokus", "{sent} pokusy", "{sent} pokusov"] },
    "sk",
  );
  assert.equal(gettext("Saved."), "Uložené.");
  assert.equal(gettext("Not translated"), "Not translated");
  assert.equal(filled(ngettext("{sent} try sent", "{sent} tries sent", 1), { sent: 1 }), "1 pokus");
  assert.equal(filled(ngettext("{sent} try sent", "{sent} tries sent", 3), { sent: 3 }), "3 pokusy");
  assert.equal(filled(ngettext("{sent} try sent", "{sent} tries sent", 9), { sent: 9 }), "9 pokusov");
});

test("a value that is missing leaves its place to be seen", async () => {
  const { filled } = await wordsOf(null, "en");
  assert.equal(filled("{done} of {due}", { done: 2 }), "2 of {due}");
});
