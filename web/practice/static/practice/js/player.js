// Leads a client through today's session: the questions, the tasks in order, the end. Everything that
// happens is an entry in the outbox, so that nothing here has to wait for a network.

import { Interrupt, Interrupted } from "./interrupt.js";
import { Outbox } from "./outbox.js";
import { goThrough } from "./block.js";
import * as questions from "./questions.js";
import { reference } from "./reference.js";
import { ask, button, goOn, lines, make, say, show } from "./screens.js";
import { fetchTones } from "./sounds.js";
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
  loudIsOver: () => (progress.loudOver = true),
  reached: (at) => saveProgress({ ...progress, at }),
};
let progress = null;

async function saveProgress(next) {
  progress = next;
  await kit.outbox.remember("progress", next && { ...next, session: kit.session });
}

async function begin() {
  const stopped = await kit.outbox.recall("stopped");
  // a pause holds on this device until a page made after it says that it was cleared
  const unsaid = stopped && (kit.outbox.has("stop") || stopped.at > plan.made_at);
  if (plan.paused || unsaid) return questions.paused(kit, stopped?.flag);
  if (stopped) await kit.outbox.remember("stopped", null);
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
  const flag = await questions.safety(kit);
  await saveProgress({ order, place: 0, at: { turn: 0, try: 0 }, loudOver: false, asked: false });
  if (flag) throw new Interrupted("stop", { flag });
}

/** Where the last session on this device was left, if that was today and the programme is the same. */
async function resumed() {
  const kept = await kit.outbox.recall("progress");
  const fresh = kept?.session.version === plan.version && Date.now() - Date.parse(kept.session.begun_at) < RESUMES_WITHIN_MS;
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

async function tasks() {
  const blocks = new Map(plan.blocks.map((block) => [block.id, block]));
  kit.extra = kit.session.sort === "extra";
  if (plan.needs_reference && !progress.asked && !plan.clinic && kit.source.kind !== "stopwatch") {
    await withKeys(() => reference(kit));
    await saveProgress({ ...progress, asked: true });
  }
  while (progress.place < progress.order.length) {
    const [id, again] = progress.order[progress.place];
    const block = blocks.get(id);
    const here = `task ${progress.place + 1} of ${progress.order.length}${again ? ", once more" : ""}`;
    if (!(block.loud && progress.loudOver)) await withKeys((midway) => goThrough(kit, block, here, progress.at, midway), block);
    await saveProgress({ ...progress, place: progress.place + 1, at: { turn: 0, try: 0 } });
  }
}

/** Runs a part of the session; pause, again and skip are dealt with here, stop goes up. */
async function withKeys(part, block = null) {
  for (let midway = false; ; midway = true) {
    try {
      if (kit.interrupt.reason?.what === "stop") throw kit.interrupt.reason;
      kit.interrupt.arm();
      root.dataset.inTask = "";
      return await part(midway);
    } catch (reason) {
      kit.closing?.();
      if (!(reason instanceof Interrupted) || reason.what === "stop") throw reason;
      kit.interrupt.arm();
      if (reason.what === "pause") {
        show("pause", "Paused", ...lines(["Take the time you need. The try that was running is not kept."]));
        await goOn("Go on", { interrupted: kit.interrupt.now });
      } else if (reason.what === "again" && progress.at.try > 0) {
        await kit.reached({ ...progress.at, try: progress.at.try - 1 });
      } else if (reason.what === "skip" && block) {
        await kit.mark("skipped", await questions.skipReason(kit), block);
        return;
      }
    } finally {
      delete root.dataset.inTask;
      delete document.body.dataset.state;
    }
  }
}

async function finish() {
  kit.interrupt.arm();
  const flags = kit.extra ? [] : await questions.after(kit);
  if (plan.asks_bother && !kit.extra && !plan.clinic) await questions.bother(kit);
  if (flags.length) await kit.outbox.put({ ...kit.entry("stop"), flags });
  await end("done");
  const advice = flags.map((flag) => plan.flags[flag].advice)[0];
  const again = button("Extra practice, or once more", { on: () => {
    kit.session = null;
    plan.asks_bother = false;
    run();
  } });
  show("done", "That is it for now", ...lines([`${kit.session.planned} task${kit.session.planned === 1 ? "" : "s"} gone through.`, advice ?? ""].filter(Boolean)), make("div", {}, again));
  say("The session is over.");
}

async function end(ending) {
  if (!kit.session) return;
  await kit.outbox.put({ ...kit.entry("ended"), ending, done: progress?.place ?? 0 });
  await saveProgress(null);
}

/** Asked again for as long as Stop is pressed again. */
async function whatIsWrong() {
  for (;;) {
    try {
      kit.interrupt.arm();
      return await questions.whatIsWrong(kit);
    } catch (reason) {
      if (!(reason instanceof Interrupted)) throw reason;
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
  if (!kit.session) {
    kit.session = { key: crypto.randomUUID(), version: plan.version, sort: "full", day: "usual", voice: "", begun_at: new Date().toISOString(), planned: 0 };
  }
  if (plan.flags[said].pauses) await kit.outbox.remember("stopped", { at: new Date().toISOString(), flag: said });
  await kit.outbox.put({ ...kit.entry("stop"), flags: [said] });
  await end("stopped");
  questions.advise(kit, said, (words) => kit.mark("comment", words));
}

async function run() {
  try {
    kit.interrupt.arm();
    await begin();
    if (progress) {
      await tasks();
      await finish();
    }
  } catch (reason) {
    if (!(reason instanceof Interrupted)) throw reason;
    if (reason.what !== "stop") return run(); // pause or skip before anything began
    await stopped(reason);
  }
  stopStaysInReach();
}

/** Whatever the last screen is, Stop still asks what is wrong. */
function stopStaysInReach() {
  kit.interrupt.arm().catch(async (reason) => {
    if (reason.what === "stop") await stopped(reason);
    stopStaysInReach();
  });
}

kit.outbox = await new Outbox(prepare(kit, root)).open();
kit.settled?.();
fetchTones(plan.blocks);
prepareRecorder(kit.urls.worklet).catch(() => {});
root.dataset.ready = "";
run();
