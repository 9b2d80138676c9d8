// Leads a client through today's session: the questions, the tasks in order, the end. Everything that
// happens is an entry in the outbox, so that nothing here has to wait for a network; that something is
// wrong goes by a way of its own.

import { Interrupted } from "./interrupt.js";
import { Day, today } from "./day.js";
import * as flags from "./flags.js";
import { goThrough } from "./block.js";
import { Outbox } from "./outbox.js";
import * as questions from "./questions.js";
import { Practice } from "./practice.js";
import { reference } from "./reference.js";
import { ask, button, goOn, lines, make, say, show } from "./screens.js";
import { Stops } from "./stops.js";
import { Store } from "./store.js";
import { prepareRecorder } from "../../sound/js/recorder.js";
import { prepare } from "./settings.js";

const root = document.querySelector("[data-player]");
const plan = JSON.parse(document.getElementById("plan").textContent);
const RESUMES_WITHIN_MS = 12 * 3600 * 1000;

const stages = [...document.querySelectorAll("template[data-stage]")];
const practice = new Practice(plan, {
  emergency: root.dataset.emergency,
  stages: new Map(stages.map((each) => [Number(each.dataset.stage), each.innerHTML])),
});

/** A pause holds on this device until a page made after it says that it was cleared. */
async function isPaused() {
  const stopped = await practice.outbox.recall("stopped");
  if (plan.paused) return stopped?.flag ?? "";
  if (!stopped) return null;
  // known to the clinic by its key, and not open any more: no clock is asked
  const unsent = practice.outbox.list.some((each) => each.kind === "stop"); // as the version before kept it
  if (stopped.key ? plan.stops[stopped.key] !== false : unsent) return stopped.flag;
  await practice.outbox.remember("stopped", null);
  return null;
}

async function begin() {
  const pausedBy = await isPaused();
  if (pausedBy !== null) return flags.paused(practice, pausedBy);
  if (plan.rest_until && today() <= plan.rest_until) return flags.resting(practice, plan.rest_until);
  if (practice.day.over) return flags.overForToday(practice, practice.day.over);
  if (await resumed()) return;
  const { voice, sort, which, demands, hours } = await questions.today(practice);
  const day = plan.answers[voice];
  const order = which.orders[`${day}:${sort}`];
  practice.session = {
    key: crypto.randomUUID(),
    version: plan.version,
    sort,
    day,
    voice,
    begun_at: new Date().toISOString(),
    planned: order.length,
    hours_since_medication: hours,
    device: navigator.userAgent.slice(0, 200),
    // who helps now, for whoever signs in later may send it; left out where nobody does, for a server
    // of the version before knows no such thing
    helper: plan.helper ?? undefined,
  };
  await practice.outbox.put(practice.entry("begun"));
  if (demands) await practice.mark("demands", demands);
  if (!order.length) return rest(day);
  await practice.went({
    order,
    place: 0,
    at: { turn: 0, try: 0 },
    asked: false,
    safe: false,
    done: 0,
    skipped: 0,
  });
}

/** Where the last session on this device was left, if that was today and the programme is the same. */
async function resumed() {
  const kept = await practice.outbox.recall("progress");
  const fresh =
    kept?.session?.version === plan.version &&
    Math.abs(Date.now() - Date.parse(kept.session.begun_at)) < RESUMES_WITHIN_MS;
  if (!fresh) return false;
  const choice = await ask(
    "resume",
    "Go on where you were?",
    [
      { value: "on", words: `Go on at task ${kept.place + 1} of ${kept.order.length}`, first: true },
      { value: "new", words: "Begin anew" },
    ],
    { above: lines(["What you did is kept either way."]), interrupted: practice.interrupt.now },
  );
  practice.session = kept.session;
  practice.progress = kept;
  if (choice === "on") return true;
  await end("left");
  practice.session = practice.progress = null;
  return false;
}

async function rest(day) {
  const words = day === "rest" ? "Today is a rest day" : "There is nothing short enough for that";
  await end("done");
  show(
    "rest",
    words,
    ...lines([
      day === "rest"
        ? `Rest the voice${plan.dry ? "" : ", drink,"} and come back when it is better. It is noted, and not counted as missed.`
        : "Come back for the whole session when you can.",
    ]),
  );
}

/** What this client's cautions mean at home, before a session of some length. */
async function tellAdvice() {
  const { advice = [] } = plan;
  if (!advice.length || practice.isQuick) return;
  show("before", "Before you begin", ...lines(advice));
  await goOn("Ready", { interrupted: practice.interrupt.now });
}

/** The quick question before the first sound, asked until it is answered, also after a reload. */
async function askSafety() {
  if (practice.progress.safe) return;
  await tellAdvice();
  const flag = await flags.safety(practice);
  await practice.went({ ...practice.progress, safe: true });
  if (!flag) return;
  if (plan.flags[flag].ends) throw new Interrupted("stop", { flag });
  practice.stops.say({ flags: [flag], session: practice.session.key });
  show("thanks", plan.flags[flag].advice);
  await goOn("Go on", { interrupted: practice.interrupt.now });
}

async function tasks() {
  const blocks = new Map(plan.blocks.map((block) => [block.id, block]));
  practice.extra = practice.session.sort === "extra";
  practice.interrupt.arm();
  await askSafety();
  if (
    plan.needs_reference &&
    !practice.progress.asked &&
    !plan.clinic &&
    practice.source.kind !== "stopwatch"
  ) {
    await withKeys((mine) => reference(mine));
    await practice.went({ ...practice.progress, asked: true });
  }
  while (practice.progress.place < practice.progress.order.length) {
    const [id, again] = practice.progress.order[practice.progress.place];
    const block = blocks.get(id);
    const { place: before, order } = practice.progress;
    const here = `task ${before + 1} of ${order.length}${again ? ", once more" : ""}`;
    let went = "left_out"; // no more loud work today
    if (!(block.loud && practice.day.loudOver))
      went = await withKeys(
        (mine, midway) => goThrough(mine, block, here, practice.progress.at, midway),
        block,
      );
    const { done = 0, skipped = 0, place } = practice.progress;
    await practice.went({
      ...practice.progress,
      place: place + 1,
      at: { turn: 0, try: 0 },
      done: done + Number(went === "done"),
      skipped: skipped + Number(went === "skipped"),
    });
    if (await enoughForToday()) break;
  }
}

/** Once the voice has sounded for as long as a day may ask of it, the session offers its end, once. */
async function enoughForToday() {
  const { place, order, offered } = practice.progress;
  if (!practice.day.isFull || offered || plan.clinic || place >= order.length) return false;
  await practice.went({ ...practice.progress, offered: true });
  practice.interrupt.arm();
  const choice = await ask(
    "enough",
    "That is enough voice for today",
    [
      { value: "end", words: "End here", first: true },
      { value: "on", words: "Go on with the session" },
    ],
    {
      above: lines([
        `Your voice has sounded for ${Math.round(plan.voiced.cap_s / 60)} minutes today. Ending here counts as done.`,
      ]),
      interrupted: practice.interrupt.now,
    },
  );
  return choice === "end";
}

/** Runs a part of the session; pause, again and skip are dealt with here, stop goes up. */
async function withKeys(part, block = null) {
  for (let midway = false; ; midway = true) {
    try {
      practice.interrupt.arm();
      root.dataset.inTask = "";
      await Promise.race([part(practice.ofThisPart(), midway), practice.interrupt.now]);
      return "done";
    } catch (reason) {
      practice.closing?.();
      if (!(reason instanceof Interrupted) || reason.what === "stop") throw reason;
      if (await turned(reason.what, block)) return "skipped";
    } finally {
      delete root.dataset.inTask;
      delete document.body.dataset.state;
    }
  }
}

/** What Pause, Again or Skip does, whichever of them is pressed in between; true where it is skipped. */
async function turned(what, block) {
  for (let next = what; ;) {
    practice.interrupt.arm();
    root.dataset.inTask = "";
    try {
      if (next === "pause") {
        show("pause", "Paused", ...lines(["Take the time you need. The try that was running is not kept."]));
        await goOn("Go on", { interrupted: practice.interrupt.now });
      } else if (next === "again" && practice.progress.at.try > 0) {
        await practice.reached({ ...practice.progress.at, try: practice.progress.at.try - 1 });
      } else if (next === "skip" && block) {
        await practice.mark("skipped", await questions.skipReason(practice), block);
        return true;
      }
      return false;
    } catch (reason) {
      if (!(reason instanceof Interrupted) || reason.what === "stop") throw reason;
      if (reason.what === next) return false; // pressed once more: back to where it was
      next = reason.what;
    }
  }
}

async function finish() {
  practice.interrupt.arm();
  const said = practice.isQuick ? [] : await questions.after(practice);
  if (said.length) practice.stops.say({ flags: said, session: practice.session.key });
  if (plan.asks_bother && !practice.isQuick && !plan.clinic) await questions.bother(practice);
  const { done = 0, skipped = 0 } = practice.progress;
  await end("done");
  const advice = said.map((flag) => plan.flags[flag].advice)[0];
  const again = button("Extra practice, or once more", {
    on: () => {
      practice.session = null;
      plan.asks_bother = false;
      practice.interrupt.with("anew");
    },
  });
  const told = [
    `${done} task${done === 1 ? "" : "s"} done.`,
    skipped ? `${skipped} skipped: that is noted, and no fault.` : "",
    advice ?? "",
  ];
  const more = practice.day.isFull
    ? lines(["Your voice has done enough for today."])
    : [make("div", {}, again)];
  show("done", "That is it for now", ...lines(told.filter(Boolean)), ...more);
  say("The session is over.", { shown: false });
}

async function end(ending, { held = false } = {}) {
  if (!practice.session) return null;
  const kept = await practice.outbox.put(
    { ...practice.entry("ended"), ending, done: practice.progress?.done ?? 0 },
    { held },
  );
  if (!held) await practice.went(null);
  return kept;
}

/** Asked again for as long as Stop is pressed again; any other key leaves the question standing. */
async function whatIsWrong() {
  for (;;) {
    try {
      practice.interrupt.arm();
      return await flags.whatIsWrong(practice);
    } catch (reason) {
      if (!(reason instanceof Interrupted)) throw reason;
      practice.interrupt.taken(reason);
    }
  }
}

async function stopped({ flag }) {
  const said = flag ?? (await whatIsWrong());
  if (!said) {
    await end("left");
    show("done", "You ended here", ...lines(["What you have done is kept."]));
    return;
  }
  const { pauses, ends } = plan.flags[said];
  // the way to the clinic before all else; what this device remembers comes after it
  const key = practice.stops.say({ flags: [said], session: practice.session?.key });
  practice.session ??= {
    key: crypto.randomUUID(),
    version: plan.version,
    sort: "full",
    day: "usual",
    voice: "",
    begun_at: new Date().toISOString(),
    planned: 0,
    helper: plan.helper ?? undefined,
  };
  const { session } = practice;
  const kept = practice.progress;
  let ended = null;
  flags.advise(practice, said, {
    key,
    comment: (words) => practice.mark("comment", words),
    slip: () => slipped({ key, said, kept, session, ended }),
  });
  if (pauses) await practice.outbox.remember("stopped", { key, flag: said });
  else if (ends) await practice.day.end(said);
  ended = await end("stopped", { held: true });
  await practice.outbox.remember("progress", null);
  setTimeout(() => ended && practice.outbox.release(ended), 31000);
}

/** Pressed by mistake: taken back where nobody has been told and it was no emergency. */
async function slipped({ key, said, kept, session, ended }) {
  const goesOn = !plan.flags[said].urgent;
  practice.stops.takeBack(key);
  if (!goesOn) {
    practice.staysOn = key; // the advice and the number to call stay, with the note beside them
    return;
  }
  await practice.outbox.remember("stopped", null);
  await practice.day.unend();
  if (ended) await practice.outbox.done(ended);
  if (kept) await practice.went(kept, session);
  practice.interrupt.with("anew");
}

/** The clinic had been told already: the pause stands after all. */
practice.tookBack = async (goesOn, key) => {
  if (goesOn || practice.staysOn === key) return;
  await practice.outbox.remember("stopped", { key, flag: "" });
  practice.interrupt.with("anew");
};

/** A session, and its last screen: whatever that is, Stop still asks what is wrong. */
async function session() {
  practice.session = practice.progress = null;
  practice.interrupt.arm();
  await begin();
  if (practice.progress) {
    await tasks();
    await finish();
  }
  await practice.interrupt.arm();
}

/** Does something and waits on its last screen; Pause, Again and Skip mean nothing there. */
async function thenWait(act) {
  await act();
  for (;;) {
    try {
      await practice.interrupt.arm();
    } catch (reason) {
      if (!(reason instanceof Interrupted) || ["stop", "anew"].includes(reason.what)) throw reason;
      practice.interrupt.taken(reason);
    }
  }
}

/** A fault of this page's own: said, with a way on; Stop works here as everywhere. */
function faulted(error) {
  console.error(error);
  show(
    "fault",
    "Something went wrong on this page",
    ...lines([
      "What you have done is kept. Go on from the start; if it happens again, tell your clinic.",
      `If something is wrong with you: press Stop, or call ${practice.emergency}.`,
    ]),
    make(
      "div",
      {},
      button("Go on", { key: " ", first: true, "data-go-on": "", on: () => practice.interrupt.with("anew") }),
    ),
  );
}

/** What comes after whatever broke in: nothing that happens ends this. */
function after(reason) {
  if (!(reason instanceof Interrupted)) return () => thenWait(() => faulted(reason));
  practice.interrupt.taken(reason);
  return reason.what === "stop" ? () => thenWait(() => stopped(reason)) : session;
}

async function run() {
  for (let next = session; ;) {
    try {
      await next();
    } catch (reason) {
      next = after(reason);
    }
  }
}

practice.store = new Store((trouble) => (practice.storeTrouble = trouble));
await practice.store.open();
const wiring = prepare(practice, root);
practice.stops = new Stops(wiring.stops);
await wiring.outbox.receipts.open();
practice.outbox = await new Outbox({ ...wiring.outbox, store: practice.store }).open();
practice.day = await new Day(plan, practice.outbox).open();
wiring.ready();
practice.stops.hurry();
prepareRecorder(practice.urls.worklet).catch(() => {});
root.dataset.ready = "";
run();
