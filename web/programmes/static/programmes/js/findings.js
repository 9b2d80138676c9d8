// Findings of the check, and accepting one with a reason.

import { gettext } from "../../ui/js/words.js";

/** Asks for a reason next to the finding; `keep` receives it. */
export function askReason(finding, keep) {
  const form = document.createElement("form");
  form.className = "mt-1 grid gap-1";
  form.innerHTML = "<input class='input' maxlength='500' required><button class='button'></button>";
  form.firstChild.setAttribute("aria-label", gettext("Reason for accepting this finding"));
  form.lastChild.textContent = gettext("Accept");
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    const reason = form.firstChild.value.trim();
    if (reason) keep({ key: finding.dataset.finding, reason });
  });
  form.firstChild.value = finding.dataset.before;
  finding.append(form);
  form.firstChild.focus();
}
