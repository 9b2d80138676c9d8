// Finds a task by search words: by its name, by practitioners' names for it, then by everything else.

const wordsOf = (text) => text.split(/[^\p{L}\p{N}]+/u).filter(Boolean);

/** How well one word matches a task, 0 the best; null if it does not match. */
function nearness(word, parts) {
  const near = nearnessOf(word, parts);
  // "lip trills" means "lip trill".
  return near === null && /\p{L}{3}s$/u.test(word) ? nearnessOf(word.slice(0, -1), parts) : near;
}

function nearnessOf(word, { name, called, also }) {
  if (name.words.includes(word)) return 1;
  if (called.words.includes(word)) return 2;
  if (name.words.some((each) => each.startsWith(word))) return 3;
  if (called.words.some((each) => each.startsWith(word))) return 4;
  if (also.words.includes(word)) return 5;
  if (also.words.some((each) => each.startsWith(word))) return 6;
  if (name.text.includes(word)) return 7;
  return also.text.includes(word) ? 8 : null;
}

const readable = (text) => ({ text: text.toLowerCase(), words: wordsOf(text.toLowerCase()) });

/**
 * Tasks that every word matches, best first; equal matches in the catalogue's order. `by` is the phrase that
 * found a task by another name than its own.
 * @param {{name: string, also: string, synonyms?: string[]}[]} tasks
 * @param {string} typed
 * @returns {{task: object, by: string}[]}
 */
export function search(tasks, typed) {
  const whole = typed.trim().toLowerCase().replace(/\s+/g, " ");
  const terms = whole.split(" ").filter(Boolean);
  const found = [];
  for (const task of tasks) {
    const phrases = task.synonyms ?? [];
    const parts = {
      name: readable(task.name),
      called: readable(phrases.join(" ")),
      also: readable(task.also),
    };
    const near = terms.map((word) => nearness(word, parts));
    const phrase = phrases.find((each) => each === whole);
    if (near.includes(null) && !phrase) continue;
    // A whole name or phrase wins; all words in one phrase come before words of several.
    const together = phrases.find((each) => terms.every((word) => wordsOf(each).includes(word)));
    const far = near.reduce((sum, each) => sum + (each ?? 0), 0) / Math.max(1, terms.length);
    const exact =
      parts.name.text === whole ? 0 : phrase ? 0.25 : parts.name.text.startsWith(whole) ? 0.5 : null;
    const score = exact ?? (together && far > 1 ? Math.min(far, 1.5) : far);
    const byName = terms.every((word) => parts.name.words.some((each) => each.startsWith(word)));
    found.push({ task, score, by: byName ? "" : (phrase ?? together ?? closest(phrases, terms)) });
  }
  return found.sort((one, other) => one.score - other.score).map(({ task, by }) => ({ task, by }));
}

const closest = (phrases, terms) =>
  phrases.find((each) => terms.some((word) => wordsOf(each).some((part) => part.startsWith(word)))) ?? "";
