// The first field of a page that is a form has the focus; after an error, the first invalid one.

const FIELDS = "input:not([type=hidden], :disabled), select, textarea";
const field =
  document.querySelector("main [aria-invalid=true]") ??
  document.querySelector("main form[data-form]")?.querySelector(FIELDS);

if (field && document.activeElement === document.body && !location.hash) field.focus();
