// Leads a client through today's session: the questions, the tasks in order, the end. Everything that
// happens is an entry in the outbox, so that nothing here has to wait for a network; that something is
// wrong goes by a way of its own.

import { Interrupt, Interrupted } from "./interrupt.js";
import { Day } from "./day.js";
import * as flags from "./flags.js";
import { goThrough } from "./block.js";
import { Outbox } from "./outbox.js";
import * as questions from "./questions.js";
import { reference } from "./reference.js";
import { ask, button, goOn, lines, make, say, show } from "./screens.js";
import { fetchTones } from "./sounds.js";
import { Stops } from "./stops.js";
import { Store } from "./store.js";
import { prepareRecorder } from "../../sound/js/recorder.js";
import { prepare } from "./settings.js";

const root = document.querySelector("[data-player]");
const plan = JSON.parse(document.getElementById("plan").textContent);
const RESUMES_WITHIN_MS = 12 * 3600 * 1000;

const kit = {
  plan,
  emergency: root.dataset.emergency,
  interrupt: new Interrupt(),
  stages: new Map([...document.querySelectorAll("template[data-stage]")].map((each) => [Number(each.dataset.stage), each.innerHTML])),
  session: null,
  pace: 1,
  entry: (kind, key = crypto.randomUUID()) => ({ kind, key, at: new Date().toISOString(), session: kit.session }),
  mark: (mark, value, block) => kit.outbox.put({ ...kit.entry("mark"), mark, value, task: block?.turns[0].task ?? null }),
  put: (entry) => kit.outbox.put(entry),
  endLoud: () => kit.day.endLoud(),
  reached: (at) => saveProgress({ ...progress, at }),
};
let progress = null;

async function saveProgress(next, session = kit.session) {
  progress = next;
  await kit.outbox.remember("progress", next && { ...next, session });
}

/** A pause holds on this device until a page made after it says that it was cleared. */
async function isPaused() {
  const stopped = await kit.outbox.recall("stopped");
  if (plan.paused) return stopped?.flag ?? "";
  if (!stopped) return null;
  // known to the clinic by its key, and not open any more: no clock is asked
  const unsent = kit.outbox.list.some((each) => each.entry.kind === "stop"); // as the version before kept it
  if (stopped.key ? plan.stops[stopped.key] !== false : unsent) return stopped.flag;
  await kit.outbox.remember("stopped", null);
  return null;
}

async function begin() {
  const pausedBy = await isPaused();
  if (pausedBy !== null) return flags.paused(kit, pausedBy);
  if (kit.day.over) return flags.overForToday(kit, kit.day.over);
  if (await resumed()) return;
  const { voice, sort, demands, hours } = await questions.today(kit);
  const day = plan.answers[voice];
  const order = plan.orders[`${day}:${sort}`];
  kit.session = {
    key: crypto.randomUUID(), version: plan.version, sort, day, voice, begun_at: new Date().toISOString(),
    planned: order.length, hours_since_medication: hours, device: navigator.userAgent.slice(0, 200),
  };
  await kit.outbox.put(kit.entry("begun"));
  if (demands) await kit.mark("demands", demands);
  if (!order.length) return rest(day);
  await saveProgress({ order, place: 0, at: { turn: 0, try: 0 }, asked: false, safe: false, done: 0, skipped: 0 });
}

/** Where the last session on this device was left, if that was today and the programme is the same. */
async function resumed() {
  const kept = await kit.outbox.recall("progress");
  const fresh = kept?.session?.version === plan.version && Math.abs(Date.now() - Date.parse(kept.session.begun_at)) < RESUMES_WITHIN_MS;
  if (!fresh) return false;
  const choice = await ask(
    "resume", "Go on where you were?",
    [{ value: "on", words: `Go on at task ${kept.place + 1} of ${kept.order.length}`, first: true }, { value: "new", words: "Begin anew" }],
    { above: lines(["What you did is kept either way."]), interrupted: kit.interrupt.now },
  );
  kit.session = kept.session;
  progress = kept;
  if (choice === "on") return true;
  await end("left");
  kit.session = progress = null;
  return false;
}

async function rest(day) {
  const words = day === "rest" ? "Today is a rest day" : "There is nothing short enough for that";
  await end("done");
  show("rest", words, ...lines([day === "rest" ? "Rest the voice, drink, and come back when it is better. It is noted, and not counted as missed." : "Come back for the whole session when you can."]));
}

/** The quick question before the first sound, asked until it is answered, also after a reload. */
async function askSafety() {
  if (progress.safe) return;
  const flag = await flags.safety(kit);
  await saveProgress({ ...progress, safe: true });
  if (!flag) return;
  if (plan.flags[flag].ends) throw new Interrupted("stop", { flag });
  kit.stops.say({ flags: [flag], session: kit.session.key });
  show("thanks", plan.flags[flag].advice);
  await goOn("Go on", { interrupted: kit.interrupt.now });
}

async function tasks() {
  const blocks = new Map(plan.blocks.map((block) => [block.id, block]));
  kit.extra = kit.session.sort === "extra";
  kit.interrupt.arm();
  await askSafety();
  if (plan.needs_reference && !progress.asked && !plan.clinic && kit.source.kind !== "stopwatch") {
    await withKeys((mine) => reference(mine));
    await saveProgress({ ...progress, asked: true });
  }
  while (progress.place < progress.order.length) {
    const [id, again] = progress.order[progress.place];
    const block = blocks.get(id);
    const here = `task ${progress.place + 1} of ${progress.order.length}${again ? ", once more" : ""}`;
    let went = "left_out"; // no more loud work today
    if (!(block.loud && kit.day.loudOver)) went = await withKeys((mine, midway) => goThrough(mine, block, here, progress.at, midway), block);
    const { done = 0, skipped = 0, place } = progress;
    await saveProgress({ ...progress, place: place + 1, at: { turn: 0, try: 0 }, done: done + (went === "done"), skipped: skipped + (went === "skipped") });
  }
}

/**
 * The kit as one part of the session has it: interrupted once, it stays so. What waits for the store
 * while it is interrupted goes no further after that, and neither shows nor listens any more.
 */
function ofThisPart() {
  const { now } = kit.interrupt;
  const unless = (act) => async (...given) => {
    const found = await act(...given);
    if (now.over) throw now.over;
    return found;
  };
  const mine = { interrupt: { now } };
  for (const name of ["mark", "put", "endLoud", "reached"]) mine[name] = unless(kit[name]);
  return new Proxy(kit, { get: (all, name) => mine[name] ?? all[name] });
}

/** Runs a part of the session; pause, again and skip are dealt with here, stop goes up. */
async function withKeys(part, block = null) {
  for (let midway = false; ; midway = true) {
    try {
      kit.interrupt.arm();
      root.dataset.inTask = "";
      await Promise.race([part(ofThisPart(), midway), kit.interrupt.now]);
      return "done";
    } catch (reason) {
      kit.closing?.();
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
  for (let next = what; ; ) {
    kit.interrupt.arm();
    root.dataset.inTask = "";
    try {
      if (next === "pause") {
        show("pause", "Paused", ...lines(["Take the time you need. The try that was running is not kept."]));
        await goOn("Go on", { interrupted: kit.interrupt.now });
      } else if (next === "again" && progress.at.try > 0) {
        await kit.reached({ ...progress.at, try: progress.at.try - 1 });
      } else if (next === "skip" && block) {
        await kit.mark("skipped", await questions.skipReason(kit), block);
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
  kit.interrupt.arm();
  const said = kit.extra ? [] : await questions.after(kit);
  if (said.length) kit.stops.say({ flags: said, session: kit.session.key });
  if (plan.asks_bother && !kit.extra && !plan.clinic) await questions.bother(kit);
  const { done = 0, skipped = 0 } = progress;
  await end("done");
  const advice = said.map((flag) => plan.flags[flag].advice)[0];
  const again = button("Extra practice, or once more", { on: () => {
    kit.session = null;
    plan.asks_bother = false;
    kit.interrupt.with("anew");
  } });
  const told = [`${done} task${done === 1 ? "" : "s"} done.`, skipped ? `${skipped} skipped: that is noted, and no fault.` : "", advice ?? ""];
  show("done", "That is it for now", ...lines(told.filter(Boolean)), make("div", {}, again));
  say("The session is over.", { shown: false });
}

async function end(ending, { held = false } = {}) {
  if (!kit.session) return null;
  const kept = await kit.outbox.put({ ...kit.entry("ended"), ending, done: progress?.done ?? 0 }, { held });
  if (!held) await saveProgress(null);
  return kept;
}

/** Asked again for as long as Stop is pressed again; any other key leaves the question standing. */
async function whatIsWrong() {
  for (;;) {
    try {
      kit.interrupt.arm();
      return await flags.whatIsWrong(kit);
    } catch (reason) {
      if (!(reason instanceof Interrupted)) throw reason;
      kit.interrupt.taken(reason);
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
  const key = kit.stops.say({ flags: [said], session: kit.session?.key });
  kit.session ??= { key: crypto.randomUUID(), version: plan.version, sort: "full", day: "usual", voice: "", begun_at: new Date().toISOString(), planned: 0 };
  const { session } = kit;
  const kept = progress;
  let ended = null;
  flags.advise(kit, said, { key, comment: (words) => kit.mark("comment", words), slip: () => slipped({ key, said, kept, session, ended }) });
  if (pauses) await kit.outbox.remember("stopped", { key, flag: said });
  else if (ends) await kit.day.end(said);
  ended = await end("stopped", { held: true });
  await kit.outbox.remember("progress", null);
  setTimeout(() => ended && kit.outbox.release(ended), 31000);
}

/** Pressed by mistake: taken back where nobody has been told and it was no emergency. */
async function slipped({ key, said, kept, session, ended }) {
  const goesOn = !plan.flags[said].urgent;
  kit.stops.takeBack(key);
  if (!goesOn) {
    say("That is noted beside it. Your clinician clears it before you go on.");
    return;
  }
  await kit.outbox.remember("stopped", null);
  await kit.day.unend();
  if (ended) await kit.outbox.done(ended);
  if (kept) await saveProgress(kept, session);
  kit.interrupt.with("anew");
}

/** The clinic had been told already: the pause stands after all. */
kit.tookBack = async (goesOn, key) => {
  if (goesOn) return;
  await kit.outbox.remember("stopped", { key, flag: "" });
  kit.interrupt.with("anew");
};

/** A session, and its last screen: whatever that is, Stop still asks what is wrong. */
async function session() {
  kit.session = progress = null;
  kit.interrupt.arm();
  await begin();
  if (progress) {
    await tasks();
    await finish();
  }
  await kit.interrupt.arm();
}

/** Does something and waits on its last screen; Pause, Again and Skip mean nothing there. */
async function thenWait(act) {
  await act();
  for (;;) {
    try {
      await kit.interrupt.arm();
    } catch (reason) {
      if (!(reason instanceof Interrupted) || ["stop", "anew"].includes(reason.what)) throw reason;
      kit.interrupt.taken(reason);
    }
  }
}

/** A fault of this page's own: said, with a way on; Stop works here as everywhere. */
function faulted(error) {
  console.error(error);
  show(
    "fault", "Something went wrong on this page",
    ...lines(["What you have done is kept. Go on from the start; if it happens again, tell your clinic.", `If something is wrong with you: press Stop, or call ${kit.emergency}.`]),
    make("div", {}, button("Go on", { key: " ", first: true, "data-go-on": "", on: () => kit.interrupt.with("anew") })),
  );
}

/** What comes after whatever broke in: nothing that happens ends this. */
function after(reason) {
  if (!(reason instanceof Interrupted)) return () => thenWait(() => faulted(reason));
  kit.interrupt.taken(reason);
  return reason.what === "stop" ? () => thenWait(() => stopped(reason)) : session;
}

async function run() {
  for (let next = session; ; ) {
    try {
      await next();
    } catch (reason) {
      next = after(reason);
    }
  }
}

kit.store = new Store((trouble) => (kit.storeTrouble = trouble));
await kit.store.open();
const wiring = prepare(kit, root);
kit.stops = new Stops(wiring.stops);
kit.outbox = await new Outbox({ ...wiring.outbox, store: kit.store }).open();
kit.day = await new Day(plan, kit.outbox).open();
wiring.ready();
kit.stops.hurry();
fetchTones(plan.blocks);
prepareRecorder(kit.urls.worklet).catch(() => {});
root.dataset.ready = "";
run();
