// Controls that are always available: pause, again, skip, slower, larger, stop, the sound source, and the
// state of entries: sent, kept here, or rejected.

import { deviceSettings, remember, remembered as remembers } from "./device_settings.js";
import { leaving, linkIsClosed, remembered } from "./leaving.js";
import { OneSwitch } from "./one_switch.js";
import { ReadingAloud } from "./reading_aloud.js";
import { offerReminders } from "./reminders.js";
import { Receipts } from "./receipts.js";
import { showRefused } from "./refused.js";
import { say } from "./screens.js";
import { Seal } from "./seal.js";
import { filled, gettext, ngettext } from "../../ui/js/words.js";

export const STORE_WORDS = {
  none: gettext("this browser deletes everything when it closes"),
  blocked: gettext("another page uses this browser’s storage: results are lost when this page closes"),
  full: gettext("this device is full: results are lost when this page closes"),
};
const TAPPED_TWICE_MS = 400;

/** Connects the controls to the practice, and returns what the connections to the clinic need. */
export function prepare(practice, root) {
  const find = (name) => root.querySelector(`[data-${name}]`);
  const control = (name, act) =>
    root.querySelectorAll(`[data-${name}]`).forEach((each) => each.addEventListener("click", act));
  const once = (act) => {
    let last = -Infinity; // One tap of a trembling hand counts once.
    return ({ timeStamp }) => {
      if (timeStamp - last <= TAPPED_TWICE_MS) return;
      last = timeStamp;
      sheet.close();
      act();
    };
  };
  const sheet = find("more");
  control(
    "pause",
    once(() => practice.interrupt.with("pause")),
  );
  control(
    "again",
    once(() => (practice.canRepeat ? practice.interrupt.with("again") : practice.interrupt.with("repeat"))),
  );
  control(
    "skip",
    once(() => practice.interrupt.with("skip")),
  );
  control("stop", () => {
    sheet.close();
    practice.interrupt.with("stop");
  });
  control("open-more", () => {
    find("status-too").textContent = find("status").textContent; // A small screen has no room for it.
    sheet.showModal();
  });
  sheet.addEventListener("close", () => (find("status-too").textContent = ""));
  control("close-more", () => sheet.close());
  // A press anywhere is the big key, unless it hits a control, or a hand only rests on the picture.
  document.getElementById("screen").addEventListener("click", ({ target }) => {
    if (document.body.dataset.state === "listening") return;
    if (target.closest("button, a, input, select, textarea, label, details, video")) return;
    if (getSelection().toString()) return;
    document.querySelector("[data-go]")?.click();
  });
  control("comment", async () => {
    const words = find("comment-words").value.trim();
    if (!words || !practice.session) return say(gettext("Start a session first, then write the comment."));
    await practice.mark("comment", words, practice.block);
    find("comment-words").value = "";
    sheet.close();
    say(gettext("Your comment is saved."));
  });
  sources(practice, root, find);
  practice.urls = {
    worklet: root.dataset.workletUrl,
    take: (task) =>
      socket(task === "reference" ? "/practice/reference/take/" : `/practice/tasks/${task}/take/`),
  };
  practice.oneSwitch = new OneSwitch(practice);
  practice.reading = new ReadingAloud(practice, find("read"));
  deviceSettings(practice, root);
  const shown = () => status(practice, find);
  practice.store.trouble = (trouble) => {
    practice.storeTrouble = trouble;
    shown();
  };
  const owner = `${practice.plan.clinic ? "clinic" : "home"}:${practice.plan.client}`;
  const { entriesUrl: url, openedUrl, stopUrl, page, sealingKey, epoch } = root.dataset;
  const seal = new Seal(sealingKey);
  const days = Number(root.dataset.keepsDays);
  const receipts = new Receipts({ owner, days, seal });
  const closed = (words, keeps) => linkIsClosed(practice, words, keeps);
  leaving(practice, root, find);
  return {
    outbox: {
      owner,
      url,
      openedUrl,
      page,
      seal,
      receipts,
      epoch,
      on: {
        changed: shown,
        closed,
        arrived: (kept, answer) => practice.onAnswer?.(kept.key, answer),
        unkept: () => shown(),
        elsewhere: (session) => session === practice.session?.key && practice.interrupt.with("elsewhere"),
        refused: (_, sentence) =>
          say(filled(gettext("The clinic could not save one result: {sentence}"), { sentence })),
      },
    },
    stops: {
      owner,
      url: stopUrl,
      page,
      seal,
      days,
      epoch,
      on: {
        changed: () => (shown(), practice.tellsOf?.()),
        closed,
        tookBack: (goesOn, key) => practice.tookBack(goesOn, key),
      },
    },
    ready: () => {
      shown(); // Entries of earlier pages are known now, and nothing else may happen for a while.
      remembered(practice, root)
        .then(() => offerReminders(root))
        .catch(() => {});
    },
  };
}

const socket = (path) => `${location.protocol === "https:" ? "wss" : "ws"}://${location.host}${path}`;

function sources(practice, root, find) {
  const choose = (value, { kept = true } = {}) => {
    find("source").value = value;
    const manner = root.querySelector("[data-for-source]");
    if (manner) manner.hidden = value !== "simulated";
    if (kept) remember("source", value);
    practice.source = { kind: value, url: (task, number) => simulatedUrl(root, find, task, number) };
  };
  const kept = remembers("source");
  choose([...find("source").options].some((each) => each.value === kept) ? kept : "microphone", {
    kept: false,
  });
  find("source").addEventListener("change", ({ target }) => choose(target.value));
  practice.chooseSource = choose;
}

function simulatedUrl(root, find, task, number) {
  const seed = crypto.getRandomValues(new Uint32Array(1))[0] >>> 1;
  const path =
    task === "reference"
      ? "/practice/reference/simulated-voice.wav"
      : `/practice/tasks/${task}/simulated-voice.wav`;
  const round = number ? `&number=${number}` : "";
  return `${path}?manner=${find("manner")?.value ?? "even"}&seed=${seed}${round}`;
}

/** Entries sent, kept here and rejected: each shown as it is, always visible. */
function status(practice, find) {
  const { outbox: box, stops } = practice;
  if (!box || !stops) return;
  const { waiting, sent, refused, line } = box;
  const parts = [filled(ngettext("{sent} try sent", "{sent} tries sent", sent), { sent })];
  if (waiting) parts.push(filled(gettext("{waiting} saved here, waiting to be sent"), { waiting }));
  else if (!stops.waiting) parts.push(gettext("all sent"));
  if (stops.waiting) parts.unshift(gettext("your stop report has not reached the clinic yet"));
  if (waiting && line === "away") parts.push(gettext("no connection to the clinic"));
  if (line === "signed_out") parts.push(gettext("signed out"));
  if (refused.length)
    parts.push(filled(gettext("{count} not saved by the clinic: see More"), { count: refused.length }));
  if (practice.storeTrouble) parts.push(STORE_WORDS[practice.storeTrouble]);
  find("status").textContent = parts.join(" · ");
  find("sign-in").hidden = line !== "signed_out";
  if (line === "signed_out") navigator.serviceWorker?.controller?.postMessage("signed out");
  showRefused(find("refused"), box);
}
