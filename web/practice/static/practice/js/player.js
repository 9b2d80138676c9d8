// Leads a client through today's session: the questions, the tasks in order, the end. Every event is an entry
// in the outbox, so nothing here waits for a network. Reports of a problem are sent separately.

import { Interrupted } from "./interrupt.js";
import { begin } from "./beginning.js";
import { Day } from "./day.js";
import { finish } from "./ending.js";
import { showElsewhere, takeSession } from "./one_session.js";
import { Outbox } from "./outbox.js";
import { Practice } from "./practice.js";
import { button, lines, make, show } from "./screens.js";
import { stopSession, withdrawStop } from "./stopping.js";
import { Stops } from "./stops.js";
import { Store } from "./store.js";
import { prepareRecorder } from "../../sound/js/recorder.js";
import { prepare } from "./settings.js";
import { readSoFar } from "./so_far.js";
import { runTasks } from "./tasks.js";
import { keepScreenOn } from "./wake_lock.js";
import { filled, gettext } from "../../ui/js/words.js";

const root = document.querySelector("[data-player]");
const plan = JSON.parse(document.getElementById("plan").textContent);

const stages = [...document.querySelectorAll("template[data-stage]")];
const practice = new Practice(plan, {
  emergency: root.dataset.emergency,
  stages: new Map(stages.map((each) => [Number(each.dataset.stage), each.innerHTML])),
});

practice.tookBack = (goesOn, key) => withdrawStop(practice, goesOn, key);

/** A session and its last screen: Stop still asks what is wrong on any of them. */
async function session() {
  practice.session = practice.progress = null;
  practice.interrupt.arm();
  await begin(practice);
  if (practice.progress) {
    const leave = takeSession(practice);
    const letScreenGo = keepScreenOn();
    try {
      await runTasks(practice);
      await finish(practice);
    } finally {
      leave();
      letScreenGo();
    }
  }
  await practice.interrupt.arm();
}

/** Runs a step and waits on its last screen; Pause, Again and Skip do nothing there. */
async function runAndWait(act) {
  await act();
  for (;;) {
    try {
      await practice.interrupt.arm();
    } catch (reason) {
      if (!(reason instanceof Interrupted) || ["stop", "restart", "elsewhere"].includes(reason.what))
        throw reason;
      practice.interrupt.taken(reason);
    }
  }
}

/** An error of this page: shown with a way to continue; Stop still works. */
function faulted(error) {
  console.error(error);
  show(
    "fault",
    gettext("Something went wrong on this page"),
    ...lines([
      gettext("Your results are saved. Start again. If it happens again, tell your clinic."),
      filled(gettext("If you feel unwell, press Stop or call {emergency}."), {
        emergency: practice.emergency,
      }),
    ]),
    make(
      "div",
      {},
      button(gettext("Continue"), {
        key: " ",
        first: true,
        "data-go-on": "",
        on: () => practice.interrupt.with("restart"),
      }),
    ),
  );
}

/** Continues after any interruption; no event ends this loop. */
function after(reason) {
  if (!(reason instanceof Interrupted)) return () => runAndWait(() => faulted(reason));
  practice.interrupt.taken(reason);
  if (reason.what === "elsewhere") return () => runAndWait(() => showElsewhere(practice));
  return reason.what === "stop" ? () => runAndWait(() => stopSession(practice, reason)) : session;
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
practice.stops.retryNow();
practice.soFar = practice.plan.clinic ? Promise.resolve(null) : readSoFar();
prepareRecorder(practice.urls.worklet).catch(() => {});
root.dataset.ready = "";
run();
