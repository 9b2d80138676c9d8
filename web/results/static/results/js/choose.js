// Applies a choice at once; another kind or task begins with its own first and last values.

import "../../ui/js/clinic.js";

const form = document.querySelector("[data-choose]");
form.addEventListener("change", (event) => {
  if (["kind", "series"].includes(event.target.name)) {
    for (const name of ["a", "b"]) form.elements[name]?.removeAttribute("name");
  }
  form.requestSubmit();
});
