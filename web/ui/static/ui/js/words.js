// Texts of the scripts in the page's language. The page contains a catalogue if its language is not that of
// the source; without one each text is used as written.

const page = globalThis.document?.getElementById?.("words");
const catalogue = page ? JSON.parse(page.textContent) : {};
const language = globalThis.document?.documentElement?.lang || "en";

// English dates begin with the day, as the server writes them.
export const LOCALE = language === "en" ? "en-GB" : language;

export const gettext = (text) => catalogue[text] ?? text;

// The form for a count, by the rule of the language.
/** @type {Intl.LDMLPluralRule[]} */
const ORDER = ["zero", "one", "two", "few", "many", "other"];
const rule = new Intl.PluralRules(language);

export function ngettext(one, many, count) {
  const forms = catalogue[one];
  if (Array.isArray(forms)) {
    const has = rule.resolvedOptions().pluralCategories;
    return forms[ORDER.filter((each) => has.includes(each)).indexOf(rule.select(count))] ?? forms.at(-1);
  }
  return count === 1 ? one : many;
}

// A text with its values: filled("{sent} sent", { sent: 3 }).
export const filled = (text, values) => text.replace(/\{(\w+)\}/g, (whole, name) => values[name] ?? whole);
