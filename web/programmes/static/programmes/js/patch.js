// Puts freshly drawn HTML in place of what stands there, touching only what differs: laying out sixty
// rows anew takes longer than the edit that changed one of them.

/** Replaces each part whose HTML changed, and in the list of rows each row. */
export function patch(stage, html) {
  const fresh = document.createElement("template");
  fresh.innerHTML = html;
  rowByRow(stage.querySelector("[data-rows]"), fresh.content.querySelector("[data-rows]"));
  for (const part of fresh.content.querySelectorAll("[data-part]")) {
    swap(stage.querySelector(`[data-part="${part.dataset.part}"]`), part);
  }
}

function rowByRow(standing, wanted) {
  const rows = [...wanted.children];
  rows.forEach((row, at) => {
    const old = standing.children[at];
    if (old) swap(old, row);
    else standing.append(row);
  });
  while (standing.children.length > rows.length) standing.lastElementChild.remove();
}

/** By the HTML, not the node: what somebody has typed into a field since is kept. */
function swap(old, fresh) {
  if (old.outerHTML !== fresh.outerHTML) old.replaceWith(fresh);
}
