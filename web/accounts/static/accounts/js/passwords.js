// Shows a password while it is typed, and rates a new one.

/** Minimum length that is accepted; several unrelated words are an easy way to more. */
import { filled, gettext } from "../../ui/js/words.js";
const LEAST = 12;

/**
 * The rating in words, by length and number of different characters; the server refuses common ones.
 * @param {string} password
 */
export function strength(password) {
  const different = new Set(password.toLowerCase()).size;
  if (!password) return "";
  if (password.length < LEAST)
    return filled(gettext("{value} more characters needed"), { value: LEAST - password.length });
  if (different < 6) return gettext("weak: too few different characters");
  if (password.length < 16 || different < 9) return gettext("fair: add another word");
  return password.length < 22 ? "good" : "strong";
}

/** @param {HTMLInputElement} field */
function addShowButton(field) {
  const look = document.createElement("button");
  look.type = "button";
  look.className = "w-fit justify-self-start cursor-pointer text-sm text-soft underline";
  const say = () => {
    const hidden = field.type === "password";
    look.textContent = hidden ? gettext("show password") : gettext("hide password");
    look.setAttribute("aria-pressed", String(!hidden));
    look.setAttribute("aria-label", hidden ? gettext("Show password") : gettext("Hide password"));
  };
  look.addEventListener("click", () => {
    field.type = field.type === "password" ? "text" : "password";
    say();
    field.focus();
  });
  // Hide it again before sending, so that the browser saves it as a password.
  field.form.addEventListener("submit", () => (field.type = "password"));
  say();
  field.after(look);
}

/** @param {HTMLInputElement} field */
function addStrengthMeter(field) {
  const words = document.createElement("p");
  words.className = "help";
  words.setAttribute("role", "status");
  words.dataset.strength = "";
  field.parentElement.append(words);
  field.addEventListener("input", () => (words.textContent = strength(field.value)));
}

if (typeof document !== "undefined") {
  for (const field of document.querySelectorAll('input[type="password"]'))
    addShowButton(/** @type {HTMLInputElement} */ (field));
  for (const field of document.querySelectorAll('input[name="new_password1"]'))
    addStrengthMeter(/** @type {HTMLInputElement} */ (field));
}
