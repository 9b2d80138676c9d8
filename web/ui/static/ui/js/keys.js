// The keys that work on every clinician's screen. Any element with data-key is reached by that key.

const typing = (target) => target.closest("input, select, textarea, [contenteditable]");

function showKeys() {
  document.getElementById("keys").showModal();
}

/** What a key reaches: on the line in focus before anything else, and only what can be seen. */
function reached(selector) {
  const line = document.querySelector("[data-line][aria-current=true]");
  const all = [...(line?.querySelectorAll(selector) ?? []), ...document.querySelectorAll(selector)];
  return all.find((each) => each.checkVisibility() && (line === null || !each.closest("[data-line]") || each.closest("[data-line]") === line));
}

document.querySelector("[data-show-keys]").addEventListener("click", showKeys);

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === "Escape") {
    if (typing(event.target)) event.target.blur();
    else if (!document.querySelector("dialog[open]")) document.querySelector("[data-back]")?.click();
    return;
  }
  if (typing(event.target)) return;
  if (event.key === "?") return showKeys();
  if (event.key === "/") {
    event.preventDefault();
    const field = document.querySelector("[data-find]");
    if (field) field.focus();
    else location.assign("/clients/#find");
    return;
  }
  if (event.key === "Enter" && event.target.closest("a, button, summary")) return; // its own press
  const wanted = reached(`[data-key="${CSS.escape(event.key.toLowerCase())}"]`);
  if (wanted) {
    event.preventDefault();
    wanted.click();
  }
});

if (location.hash === "#find") document.querySelector("[data-find]")?.focus();
