// Edits that the site did not apply.

import { giveUp, showRejected } from "./fields.js";
import { filled, gettext } from "../../ui/js/words.js";

/** Shows an edit that was not applied: next to its field, or with the possible actions. */
export function notMade(made, why, { stage, list, make }) {
  const field = made.do === "type" && !why.clash && showRejected(stage, made, why.sentence);
  if (field) return;
  const line = document.createElement("li");
  const words = document.createElement("span");
  words.textContent =
    made.do === "type"
      ? filled(gettext("{sentence} You typed: “{said}”."), { sentence: why.sentence, said: made.said })
      : why.sentence;
  line.append(words);
  const mine = why.gone ? gettext("Restore with my change") : gettext("Use my change");
  if (why.clash) line.append(button(mine, () => offerAnyway(made, why, make)));
  const leave = () => made.do === "type" && giveUp(stage, made);
  line.append(button(why.clash ? gettext("Keep theirs") : "OK", leave));
  list.append(line);

  function button(name, does = () => {}) {
    const made = document.createElement("button");
    Object.assign(made, { type: "button", className: "button", textContent: name });
    made.addEventListener("click", () => (line.remove(), does()));
    return made;
  }
}

function offerAnyway(made, why, make) {
  if (why.gone) make({ do: "bring_back", item: why.gone });
  make(made, { sure: true });
}
