// Passkeys: create, confirm and sign in. The browser does the work; this module passes the data.
import { gettext } from "../../ui/js/words.js";

const MADE = gettext(
  "The passkey could not be created. Nothing was saved. Try again, or use an authenticator app.",
);
const ASKED = gettext("The passkey did not answer. Try again, or sign in another way.");

/** Whether this browser supports passkeys and their JSON format. */
export function canKeep() {
  return (
    "PublicKeyCredential" in window &&
    "parseCreationOptionsFromJSON" in PublicKeyCredential &&
    "parseRequestOptionsFromJSON" in PublicKeyCredential
  );
}

/**
 * The server's options: in the page, or requested if the user is not known yet.
 * @param {HTMLFormElement} form
 */
async function fetchOptions(form) {
  const there = form.querySelector("#passkey-options");
  if (there) return JSON.parse(there.textContent);
  const answer = await fetch(form.action, {
    headers: { Accept: "application/json", "X-Requested-With": "XMLHttpRequest" },
  });
  if (!answer.ok) throw new Error(String(answer.status));
  return answer.json();
}

/** @param {HTMLFormElement} form */
async function credential(form) {
  const options = await fetchOptions(form);
  if (form.dataset.passkey === "add") {
    const request = options.creation_options.publicKey;
    // A passkey that the device checks its owner for replaces the password.
    request.authenticatorSelection = {
      ...request.authenticatorSelection,
      residentKey: "required",
      requireResidentKey: true,
      userVerification: "required",
    };
    return navigator.credentials.create({
      publicKey: PublicKeyCredential.parseCreationOptionsFromJSON(request),
    });
  }
  const request = options.request_options.publicKey;
  return navigator.credentials.get({
    publicKey: PublicKeyCredential.parseRequestOptionsFromJSON(request),
  });
}

/** @param {HTMLFormElement} form */
function ready(form) {
  const problem = /** @type {HTMLElement} */ (form.querySelector("[data-passkey-error]"));
  const field = /** @type {HTMLInputElement} */ (form.elements.namedItem("credential"));
  form.hidden = false;
  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    problem.hidden = true;
    try {
      const found = /** @type {PublicKeyCredential} */ (await credential(form));
      field.value = JSON.stringify(found.toJSON());
      form.submit();
    } catch {
      problem.textContent = form.dataset.passkey === "add" ? MADE : ASKED;
      problem.hidden = false;
    }
  });
}

for (const note of document.querySelectorAll("[data-no-passkeys]"))
  /** @type {HTMLElement} */ (note).hidden = canKeep();
if (canKeep())
  for (const form of document.querySelectorAll("form[data-passkey]"))
    ready(/** @type {HTMLFormElement} */ (form));
