// Screening by keyboard: Y and N answer and move on. 0 answers the rest with no, except the questions that
// need their own answer: the complaint, the larynx, surgery and rest.

import "../../ui/js/clinic.js";
import { onKeys } from "../../ui/js/onkeys.js";

const form = document.querySelector("[data-screen]");
const all = [...form.querySelectorAll("[data-question]")];
let questions = all;
const radio = (question, value) => question.querySelector(`input[value="${value}"]`);
const answered = (question) => question.querySelector("input:checked");
let at = Math.max(
  0,
  questions.findIndex((question) => !answered(question)),
);

function mark(index) {
  at = Math.max(0, Math.min(questions.length - 1, index));
  for (const question of all) question.toggleAttribute("data-here", question === questions[at]);
}

function show(index) {
  mark(index);
  (answered(questions[at]) ?? radio(questions[at], "no")).focus({ preventScroll: true });
  questions[at].scrollIntoView({ block: "nearest" });
}

/** Follow-up questions (permission, date of onset) appear only after a yes. */
function showFollowUps() {
  for (const part of form.querySelectorAll("[data-only-if]")) {
    part.hidden = !form.querySelector(`input[name="${part.dataset.onlyIf}"][value="yes"]`).checked;
  }
  const here = questions[at];
  questions = all.filter((question) => !question.closest("[hidden]"));
  at = Math.max(0, questions.indexOf(here));
}

function answer(value) {
  radio(questions[at], value).checked = true;
  showFollowUps();
  const next = questions.findIndex((question, index) => index > at && !answered(question));
  show(next >= 0 ? next : at + 1);
}

function answerRestNo() {
  for (const question of questions) {
    if (!answered(question) && !("oneByOne" in question.dataset)) radio(question, "no").checked = true;
  }
  showFollowUps();
  const left = questions.findIndex((question) => !answered(question));
  if (left >= 0) show(left);
  else form.querySelector("[type=submit]").focus();
}

form.querySelector("[data-rest-no]").addEventListener("click", answerRestNo);
form.addEventListener("focusin", ({ target }) => {
  const index = questions.indexOf(target.closest("[data-question]"));
  // Only highlighted: a page that scrolled during a press would lose the click.
  if (index >= 0) mark(index);
});
// Before the keys of the page: N and Y are answers here, also with an answer focused.
onKeys(
  (key) =>
    ({
      y: () => answer("yes"),
      n: () => answer("no"),
      0: answerRestNo,
      arrowdown: () => show(at + 1),
      arrowup: () => show(at - 1),
    })[key],
  { fields: "textarea, input[type=search], input[type=text], input[type=date], dialog" },
);
form.addEventListener("change", showFollowUps);
showFollowUps();
show(at);
