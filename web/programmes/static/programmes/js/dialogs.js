// Questions in a dialog.

/** The last question of each dialog, until it is answered. */
const unanswered = new WeakMap();

/** Whether the dialog is answered with yes. */
export function answered(dialog) {
  unanswered.get(dialog)?.(false); // A late event about the previous closing does not answer this question.
  dialog.returnValue = "";
  dialog.showModal();
  return new Promise((resolve) => {
    unanswered.set(dialog, resolve);
    dialog.onclose = () => dialog.open || resolve(dialog.returnValue === "yes");
  });
}
