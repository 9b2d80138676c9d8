// Questions in a dialog.

/** What each dialog was last asked for, until it is answered. */
const unanswered = new WeakMap();

/** Whether the dialog is answered with yes. */
export function answered(dialog) {
  unanswered.get(dialog)?.(false); // closed a moment ago: its closing is told late, and not to this question
  dialog.returnValue = "";
  dialog.showModal();
  return new Promise((resolve) => {
    unanswered.set(dialog, resolve);
    dialog.onclose = () => dialog.open || resolve(dialog.returnValue === "yes");
  });
}
