// Moves rows of the score by pointer.

/** A row dropped onto another takes its place: `place(dragged, onto)`. */
export function dragRows(stage, place) {
  let dragged = "";
  stage.addEventListener(
    "dragstart",
    ({ target }) => (dragged = target.closest("[data-item]")?.dataset.item ?? ""),
  );
  stage.addEventListener(
    "dragover",
    (event) => event.target.closest("[data-item]") && event.preventDefault(),
  );
  stage.addEventListener("drop", (event) => {
    const onto = event.target.closest("[data-item]");
    if (!onto || !dragged) return;
    event.preventDefault();
    place(dragged, onto.dataset.item);
  });
}
