// Moves from session to session and keeps the position: only the changed part is fetched and replaced.

import "../../ui/js/clinic.js";

const place = () => document.querySelector("[data-results]");
let newest = 0;

async function replacePage(url) {
  const mine = ++newest;
  place().setAttribute("aria-busy", "true");
  let response;
  try {
    response = await fetch(url);
  } catch {
    location.assign(url); // The browser itself says best that there is no network.
    return;
  }
  if (mine !== newest) return; // Another key was pressed meanwhile.
  const parsed = new DOMParser().parseFromString(await response.text(), "text/html");
  const fresh = parsed.querySelector("[data-results]");
  if (!response.ok || !fresh) {
    location.assign(url);
    return;
  }
  const focused = document.activeElement?.closest("[data-results]") && document.activeElement.id;
  place().replaceWith(fresh);
  history.replaceState(null, "", url);
  if (focused) document.getElementById(focused)?.focus();
}

document.addEventListener("click", (event) => {
  const link = event.target.closest("a[data-swap]");
  if (!link || event.ctrlKey || event.metaKey || event.shiftKey || event.button) return;
  event.preventDefault();
  replacePage(link.href?.baseVal ?? link.href);
});
document.addEventListener("change", (event) => {
  if (event.target.matches("[data-series]")) replacePage(event.target.value);
});
