// Key handling of a page in one place: sets of keys, the newest first. The first set that knows the key takes
// it, and no other sees it.

const FIELDS = "input, select, textarea, [contenteditable], dialog";
const sets = [];

/**
 * @param {(key: string, event: KeyboardEvent & {target: any}) => (() => void) | null | undefined | false} does
 *   what a key does here, by its name in small letters
 * @param {Object} how
 * @param {string} [how.fields] where keys are typed, and so are not this set's
 * @param {boolean} [how.alt] keys with Alt are asked about too; the event tells them apart
 * @param {boolean} [how.repeats] a key that is held down counts again
 */
export function onKeys(does, { fields = FIELDS, alt = false, repeats = true } = {}) {
  // Only now: the page's own handlers come first.
  if (!sets.length) document.addEventListener("keydown", onKeydown, true);
  sets.unshift({ does, fields, alt, repeats });
}

function onKeydown(event) {
  if (event.ctrlKey || event.metaKey) return;
  for (const { does, fields, alt, repeats } of sets) {
    if ((event.altKey && !alt) || (event.repeat && !repeats)) continue;
    if (fields && event.target.closest?.(fields)) continue;
    const act = does(event.key.toLowerCase(), event);
    if (!act) continue;
    event.preventDefault();
    event.stopPropagation();
    act();
    return;
  }
}
