// One task of the session, from its first screen to the questions after it.

import { aimAt } from "./aim.js";
import { MeasuredTrial } from "./measured_trial.js";
import { introduce } from "./introduction.js";
import { checkMicrophone } from "./mic_check.js";
import { ask, goOn, lines, make, say, show } from "./screens.js";
import { sayModel } from "./sounds.js";
import { effort, felt, strain } from "./questions.js";
import { objections, setAside } from "./set_aside.js";
import { lead } from "./unmeasured_task.js";
import { filled, gettext } from "../../ui/js/words.js";

const ROLES = ["poor", "good"];
const ROLE_WORDS = {
  poor: gettext("first on purpose not so well, {words}"),
  good: gettext("now well, {words}"),
  "": "{words}",
};

/** Runs the block from a given try on. */
export async function runBlock(practice, block, place, at, midway) {
  if (midway && practice.block?.id === block.id) block = practice.block; // The one that the client chose of two.
  if (!midway) {
    practice.begun = { target: null };
    practice.block = block;
    practice.begun = await introduce(practice, block, place);
  }
  practice.closing?.();
  practice.closing = null;
  if (practice.begun.instead)
    return runBlock(practice, { ...practice.begun.instead, or: block }, place, at, false);
  const { target } = practice.begun;
  const results = [];
  for (let turn = at.turn; turn < block.turns.length; turn++) {
    const each = target ? { ...block.turns[turn], row: [], wanted: target } : block.turns[turn];
    const tries = practice.extra ? 1 : each.tries;
    for (let number = turn === at.turn ? at.try : 0; number < tries; number++) {
      const words =
        tries > 1
          ? filled(gettext("try {number} of {tries} · {place}"), { number: number + 1, tries, place })
          : place;
      const result = block.heard
        ? await measuredTry(practice, block, each, number, words)
        : await unmeasuredTry(practice, block, each, words, number);
      await practice.reached({ turn, try: number + 1 });
      if (result.sentence) results.push(result.sentence);
      if (result.seconds && block.heard && !result.role) await practice.measured(each.task, result.seconds);
      if (block.voiced) await practice.day.heard(result.seconds ?? result.attempt?.hand ?? 0);
      const last = number + 1 === tries && turn + 1 === block.turns.length;
      if (block.heard) {
        const next = await showResult(practice, block, result, results, last);
        if (next !== "on" && result.seconds && !result.role) await practice.unmeasured(each.task);
        if (next === "again") {
          results.pop();
          number -= 1;
          await practice.reached({ turn, try: number + 1 });
        }
      } else if (!last) {
        show("rest", gettext("Rest a moment"), make("p", { class: "where" }, words));
        await goOn(gettext("Next"), {
          seconds: block.rest_s * practice.pace,
          interrupted: practice.interrupt.now,
        });
      }
    }
  }
  if (block.felt) await felt(practice, block);
  if (block.voiced && !practice.isQuick) {
    if (practice.handsFree) await practice.rateLater(block);
    else await effort(practice, [block]);
  }
  if (block.loud && (await strain(practice, block))) await practice.endLoud();
  if (block.sip) {
    const dry = practice.plan.dry;
    show(
      "sip",
      dry ? gettext("A short pause") : gettext("A sip of water"),
      ...lines([dry ? gettext("Let the shoulders go.") : gettext("Swallow, and let the shoulders go.")]),
    );
    await goOn(gettext("Continue"), {
      seconds: practice.plan.sip_s * practice.pace,
      interrupted: practice.interrupt.now,
    });
  }
}

/** The target of a turn for the day: a gentler day asks for fewer seconds. */
const today = ({ session }, turn) => (session.day === "gentler" && turn.gentler) || turn;

async function measuredTry(practice, block, turn, number, words) {
  const role = block.contrast ? ROLES[number % 2] : "";
  const planned = today(practice, turn);
  const target = turn.wanted ?? planned.row?.[number % planned.row.length] ?? planned.seconds;
  if (planned !== turn && !turn.wanted)
    words = filled(gettext("gentler today: {target} s · {words}"), { target, words });
  const round = turn.rounds?.length ? turn.rounds[number % turn.rounds.length] : null;
  let spoken = "";
  practice.sayNow = round ? introduceRound(round, turn.rounds.length) : null;
  if (block.say) {
    const line = block.say[number % block.say.length];
    const plain = (spoken = line.map((piece) => piece.words).join(""));
    practice.sayNow = [
      make(
        "p",
        { class: "say", "data-say": "" },
        ...line.map((piece) => make(piece.strong ? "strong" : "span", {}, piece.words)),
      ),
    ];
    if (block.model !== "alone") {
      show("model", gettext("Listen to the line"), ...practice.sayNow);
      if (!(await sayModel(plain, practice.interrupt.now)))
        say(gettext("This device cannot speak. Read the line to yourself first."));
      if (block.model === "together") {
        say(gettext("Now say it together. This part is not measured."));
        await sayModel(plain, practice.interrupt.now);
      }
    }
  }
  const attempt = new MeasuredTrial(practice, block, turn, {
    role,
    target,
    words: filled(ROLE_WORDS[role], { words }),
    number,
    round,
    line: spoken,
  });
  const result = await attempt.run();
  if (result.noSource) {
    const again = { value: "again", words: gettext("Try again"), first: result.cutShort };
    const watch = {
      value: "stopwatch",
      words: gettext("Use the stopwatch instead"),
      first: !result.cutShort,
    };
    const check = { value: "check", words: gettext("Check the microphone") };
    const offered = result.noVoice ? [again, check, watch] : [watch, again];
    const choice = result.instead
      ? "stopwatch"
      : await ask("no_sound", result.sentence, offered, { interrupted: practice.interrupt.now });
    if (choice === "check") await checkMicrophone(practice);
    // For this session only: the next one asks for the microphone again.
    if (choice === "stopwatch") practice.chooseSource("stopwatch", { kept: false });
    return measuredTry(practice, block, turn, number, words);
  }
  if (result.stage) practice.stages.set(turn.task, result.stage);
  return { ...result, attempt, role };
}

/** The introduction of a round: its number, how many remain, and whether it crosses the bridge. */
function introduceRound(round, rounds) {
  const parts = [
    filled(gettext("Round {number} of {rounds}, from {starts_on}."), {
      number: round.number,
      rounds,
      starts_on: round.starts_on,
    }),
  ];
  parts.push(
    round.left
      ? filled(gettext("{left} more after this."), { left: round.left })
      : gettext("The last round."),
  );
  if (round.crosses) parts.push(gettext("A crack in the voice is fine here."));
  if (round.cue) parts.push(round.cue);
  return [make("p", { class: "where", "data-announced": "" }, parts.join(" "))];
}

async function unmeasuredTry(practice, block, turn, words, number) {
  const planned = today(practice, turn);
  const figures = await lead(practice, block, words, planned.row?.[number] ?? planned.seconds);
  await practice.put({ ...practice.entry("told"), task: turn.task, role: "", figures });
  return { seconds: (figures.minutes ?? 0) * 60 };
}

/** The result of the try, as far as the feedback setting shows it, and the rest before the next. */
async function showResult(practice, block, result, results, last) {
  document.body.dataset.state = "between";
  const { attempt } = result;
  const shown = block.feedback === "live" || block.feedback === "trial";
  const drawn = attempt.stage.querySelector("[data-course]"); // The sung line stays visible.
  if (result.stage && shown && !drawn) {
    attempt.stage.innerHTML = result.stage;
    if (attempt.setS) aimAt(attempt.stage, attempt.setS);
  }
  attempt.stage.classList.toggle("unseen", !shown);
  const pair = block.contrast && result.role === "good" ? results.slice(-2) : [result.sentence];
  const sentences = shown ? pair : block.feedback === "block" && last ? results : [gettext("Saved.")];
  const paragraph = make(
    "div",
    { class: "result", "data-result": result.outcome ?? "kept" },
    ...sentences.map((words) => make("p", { class: "sentence", "data-sentence": "" }, words)),
    ...(shown ? (result.more ?? []) : []).map((words) => make("p", { class: "more" }, words)),
  );
  practice.onAnswer = (key, answer) => {
    if (key !== attempt.trialKey || !answer.sentence) return;
    results.splice(-1, 1, answer.sentence);
    if (!shown) return;
    paragraph.dataset.result = answer.outcome;
    [...paragraph.querySelectorAll("[data-sentence]")].at(-1).textContent = answer.sentence;
    if (!drawn) attempt.stage.innerHTML = answer.stage;
    practice.stages.set(attempt.turn.task, answer.stage);
    paragraph.querySelectorAll(".more").forEach((each) => each.remove());
    for (const words of answer.more ?? [])
      paragraph.insertBefore(
        make("p", { class: "more" }, words),
        paragraph.querySelector("[data-objections]"),
      );
    say(answer.sentence, { shown: false });
  };
  const { element, pressed } = objections();
  if (attempt.trialKey && !result.refused) paragraph.append(element);
  attempt.stage.before(paragraph);
  say(sentences.join(" "), { shown: false });
  practice.canRepeat = true;
  const goesOn = goOn(last ? gettext("Continue") : gettext("Next try"), {
    seconds: block.rest_s * practice.pace,
    interrupted: practice.interrupt.now,
  });
  let objection;
  try {
    objection = await Promise.race([pressed, goesOn.then(() => null)]);
  } finally {
    practice.onAnswer = null;
  }
  practice.canRepeat = false;
  if (objection) delete document.body.dataset.state;
  return objection ? setAside(practice, block, attempt.trialKey, objection) : "on";
}
