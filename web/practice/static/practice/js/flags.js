// Reports of a problem: asked, confirmed by one more press, and sent before everything else. The screen then
// says what to do, also offline.

import { ask, button, confirm, lines, make, say, show } from "./screens.js";
import { filled, gettext } from "../../ui/js/words.js";

const GROWN_UP = gettext("Ask a grown-up to read this with you.");
export const WATCHED = gettext("This session is not watched.");
const TAKEN_BACK_MS = 30000;
// A second press from the previous screen must not answer this question unread: double presses come within
// 850 ms, and nobody has read it by then.
const SAFETY_SETTLES_MS = 1200;

/** A button that calls the emergency number. */
export const callFor = (practice) =>
  make(
    "a",
    { class: "button button-flag", href: `tel:${practice.emergency.replace(/[^\d+]/g, "")}` },
    filled(gettext("Call {emergency}"), { emergency: practice.emergency }),
  );

/** The consequence of a flag before it is raised: the advice is shown at once, whatever is pressed next. */
async function confirmed(practice, flag) {
  const { advice, ends, pauses, urgent, words } = practice.plan.flags[flag];
  const does = pauses
    ? gettext("This ends practice and alerts the clinic.")
    : ends
      ? gettext("This ends today’s practice. Your clinic will see it.")
      : gettext("This tells your clinician. You can continue.");
  return confirm("confirm", advice, {
    yes: pauses
      ? gettext("Yes, tell the clinic")
      : ends
        ? gettext("Yes, end for today")
        : gettext("Yes, tell them"),
    back: gettext("No, I pressed it by mistake"),
    parts: [
      make("p", { class: "where" }, filled(gettext("You pressed: {words}"), { words })),
      ...lines([does]),
      urgent ? make("p", {}, callFor(practice)) : null,
    ].filter(Boolean),
    interrupted: practice.interrupt.now,
  });
}

/** Asks until nothing was pressed or a flag was confirmed; returns the flag or "". */
async function askDetails(practice, question) {
  for (;;) {
    const flag = await question();
    if (!flag || flag === GO_ON || (await confirmed(practice, flag))) return flag;
  }
}

/** The quick question before the first sound: anything new, or clearly worse. */
export function safety(practice) {
  const { flags, before, known } = practice.plan;
  const knows = known.length
    ? filled(gettext("Your clinic already knows about these. Tick them only if clearly worse: {value}."), {
        value: known.join(", "),
      })
    : "";
  return askDetails(practice, () =>
    ask(
      "safety",
      gettext("Before you start: is any of these new or clearly worse?"),
      [
        { value: "", words: gettext("None of these"), key: " ", first: true },
        ...before.map((flag) => ({ value: flag, words: flags[flag].words, small: flags[flag].adult })),
      ],
      {
        wide: true,
        settles: SAFETY_SETTLES_MS,
        above: practice.plan.is_child ? lines([GROWN_UP]) : [],
        below: [knows && make("p", {}, knows), make("p", {}, WATCHED)].filter(Boolean),
        interrupted: practice.interrupt.now,
      },
    ),
  );
}

/** Answer to "What is wrong?": nothing, Stop was pressed by mistake. */
export const GO_ON = "go_on";

/** Asks what is wrong after Stop: returns a flag, GO_ON, or nothing if the client wants to end. */
export function askWhatIsWrong(practice) {
  const { flags } = practice.plan;
  const askable = Object.entries(flags).filter(([, { asked }]) => asked);
  const options = askable.map(([flag, { words, urgent, adult }]) => ({
    value: flag,
    words: urgent ? filled(gettext("{words} (urgent)"), { words }) : words,
    small: adult,
    key: "",
  }));
  return askDetails(practice, () =>
    ask(
      "stop",
      gettext("You have stopped. What is wrong?"),
      [
        { value: GO_ON, words: gettext("Go on. I pressed Stop by mistake"), key: "g" },
        ...options,
        { value: "", words: gettext("Nothing is wrong. I want to end here"), key: "0" },
      ],
      {
        wide: true,
        above: [
          make("p", {}, callFor(practice)),
          ...lines([
            filled(
              gettext(
                "Call for trouble breathing, choking, chest pain, fainting, much blood, a drooping face or slurred speech. {value}",
              ),
              { value: WATCHED },
            ),
          ]),
        ],
        interrupted: practice.interrupt.now,
      },
    ),
  );
}

/** The flags ticked at the end, confirmed together by one press. Returns the flags. */
export async function after(practice, ticks) {
  const { flags } = practice.plan;
  for (;;) {
    const ticked = await ticks();
    if (!ticked.length) return [];
    const yes = await confirm("confirm", gettext("Tell your clinician?"), {
      yes: gettext("Yes, tell them"),
      back: gettext("No, I ticked by mistake"),
      interrupted: practice.interrupt.now,
      parts: [
        make("ul", {}, ...ticked.map((flag) => make("li", {}, flags[flag].words))),
        ...lines([flags[ticked[0]].advice]),
      ],
    });
    if (yes) return ticked;
  }
}

/** Delivery of the stop report as it really is, with advice while it has not arrived. */
export function whereIsIt(practice, key) {
  if (practice.stops.sent.has(key)) return gettext("The clinic has received it.");
  if (practice.stops.list.some((each) => each.key === key && each.refused))
    return gettext("It could not be sent. Please call your clinic.");
  return gettext(
    "The clinic does not have it yet. This device keeps trying to send it. If it is urgent, call the clinic.",
  );
}

/** Advice after the session has ended. `slip` withdraws the report while that is possible. */
export function advise(practice, flag, { key, comment, slip }) {
  const { advice, ends, pauses, urgent } = practice.plan.flags[flag];
  const paragraph = make("p", { "data-told": "", role: "status" }, whereIsIt(practice, key));
  practice.tellsOf = () => (paragraph.textContent = whereIsIt(practice, key));
  const box = make("textarea", { class: "input", rows: "2", maxlength: "500", id: "comment" });
  const keep = button(gettext("Add it"), {
    on: () => {
      if (!box.value.trim()) return;
      comment(box.value.trim());
      keep.disabled = true;
      say(gettext("Added."));
    },
  });
  const noted = make("span", { role: "status" }, gettext("within 30 seconds; both stay on record"));
  const mistake = button(gettext("I pressed it by mistake"), {
    "data-mistake": "",
    on: () => {
      mistake.disabled = true;
      noted.textContent = gettext(
        "Saved: pressed by mistake. Your clinician will ask you before you continue.",
      );
      slip();
    },
  });
  show(
    "advice",
    advice,
    urgent ? make("p", {}, callFor(practice)) : null,
    ...lines([
      gettext("Your results are saved."),
      pauses
        ? gettext(
            "Your practice is paused until your clinician allows it. Your clinician and a colleague get a message.",
          )
        : ends
          ? gettext("That is all for today. Your clinician will see it.")
          : gettext("Your clinician will see it."),
      WATCHED,
    ]),
    paragraph,
    make("label", { class: "field", for: "comment" }, make("span", {}, gettext("Anything to add")), box),
    make("div", {}, keep),
    make("div", { class: "also" }, mistake, noted),
  );
  say(advice, { shown: false });
  setTimeout(() => (mistake.disabled = true), TAKEN_BACK_MS);
}
