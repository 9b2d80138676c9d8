// Leads one client through one task: cue, listen, show, again. Sound and drawing live in their modules.

import { Listening } from "../../sound/js/listening.js";
import { Pond } from "../../sound/js/pond.js";
import { postUntilHeard } from "../../sound/js/post.js";
import { audioContext } from "../../sound/js/recorder.js";

const BREATH_MS = 1500;
const ENDS_AFTER_SILENCE_S = 1.0;
const SHORTEST_HOLD_S = 1.0;

const root = document.querySelector("[data-player]");
const find = (name) => root.querySelector(`[data-${name}]`);
const stage = document.getElementById("stage");
const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

let pond = new Pond(stage);
let state = "idle"; // idle, cue, listening, timing, saving
let current = null; // a Listening, while there is one
let startedAt = 0;
let unsaved = false;

const WORDS = { idle: "Start", cue: "Breathe in", listening: "Done", timing: "Stop", saving: "One moment" };
const SAYS = {
  cue: "Breathe in",
  listening: "Hold now. It stops by itself when you stop.",
  timing: "Timing. Press again the moment the sound ends.",
  saving: "Measuring",
};

function enter(next, says = SAYS[next] ?? "") {
  state = next;
  const words = next === "idle" && find("result") ? "Next try" : WORDS[next];
  const forFile = next === "idle" && find("source").value === "file";
  find("main-words").textContent = forFile ? "Measure the file" : words;
  find("main").disabled = next === "cue" || next === "saving";
  find("again").hidden = next !== "listening" && next !== "timing";
  find("source").disabled = next !== "idle";
  find("says").textContent = says;
  root.dataset.state = next;
}

function problem(words, { stopwatch = false } = {}) {
  find("problem").hidden = !words;
  find("problem-words").textContent = words;
  find("use-stopwatch").hidden = !stopwatch;
}

function show(stageHtml) {
  unsaved = false;
  stage.innerHTML = stageHtml;
  pond = new Pond(stage);
  enter("idle");
  find("sentence")?.focus({ preventScroll: true }); // a screen reader says the result
}

async function listen(kind) {
  enter("cue");
  unsaved = true;
  pond.clear();
  current = new Listening({
    kind,
    workletUrl: root.dataset.workletUrl,
    simulatedUrl: simulatedUrl(),
    takeUrl: takeUrl(),
    ready: () => {
      pond.clear(); // after a break everything is measured anew
      find("says").textContent = SAYS[state] ?? "";
    },
    frames: heardFrames,
    saving: () => enter("saving"),
    saved: (html) => finished(() => show(html)),
    failed: (words, { noSource } = {}) => finished(() => give_up(words, { stopwatch: noSource })),
    lost: () => {
      find("says").textContent = "The connection broke. Your sound is kept here and is sent when it is back.";
    },
  });
  await current.begin();
  if (kind === "microphone") await pause(BREATH_MS);
  if (state === "cue") enter("listening");
}

function heardFrames({ cents, hold, full }) {
  pond.add(cents, hold);
  find("seconds").textContent = hold.seconds.toFixed(1);
  const over = hold.ended && hold.seconds >= SHORTEST_HOLD_S && hold.silent_s >= ENDS_AFTER_SILENCE_S;
  if (state === "listening" && (over || full)) current.stop();
}

function finished(then) {
  current = null;
  unsaved = false;
  then();
}

function give_up(words, how) {
  enter("idle");
  problem(words, how);
}

async function again() {
  if (state === "listening") {
    const abandoned = current;
    current = null;
    await abandoned.abandon();
  }
  unsaved = false;
  pond.clear();
  find("seconds").textContent = "0.0";
  enter("idle", "That one was not kept.");
}

function tick() {
  if (state !== "timing") return;
  find("seconds").textContent = ((performance.now() - startedAt) / 1000).toFixed(1);
  requestAnimationFrame(tick);
}

async function send(url, fields) {
  unsaved = true;
  enter("saving");
  const answer = await postUntilHeard(url, { key: crypto.randomUUID(), ...fields }, () => {
    find("says").textContent = "No connection. Your try is kept here and is sent when it is back.";
  });
  unsaved = false;
  if (answer.ok) show(answer.stage);
  else give_up(answer.sentence);
}

async function main() {
  problem("");
  const kind = find("source").value;
  if (state === "listening") return current.stop();
  if (state === "timing") return send(root.dataset.byHandUrl, { seconds: (performance.now() - startedAt) / 1000 });
  if (state !== "idle") return;
  find("seconds").textContent = "0.0";
  if (kind === "file") {
    const file = find("file").files[0];
    return file ? send(root.dataset.recordingUrl, { recording: file }) : problem("Choose a WAV file first.");
  }
  if (kind === "stopwatch") {
    startedAt = performance.now();
    enter("timing");
    return tick();
  }
  return listen(kind);
}

async function hearTone() {
  if (state !== "idle") return; // the note must not sound into the measurement
  const context = await audioContext();
  const response = await fetch(find("hear").dataset.hear).catch(() => null);
  if (!response?.ok) return problem("The note could not be fetched. Check the connection and try again.");
  const node = context.createBufferSource();
  node.buffer = await context.decodeAudioData(await response.arrayBuffer());
  node.connect(context.destination);
  node.start();
}

const takeUrl = () => `${location.protocol === "https:" ? "wss" : "ws"}://${location.host}${root.dataset.takeUrl}`;

function simulatedUrl() {
  const seed = crypto.getRandomValues(new Uint32Array(1))[0] >>> 1;
  return `${root.dataset.simulatedUrl}?manner=${find("manner").value}&seed=${seed}`;
}

function chooseSource(value) {
  find("source").value = value;
  for (const part of root.querySelectorAll("[data-for-source]")) part.hidden = part.dataset.forSource !== value;
  problem("");
  enter("idle");
}

find("main").addEventListener("click", main);
find("again").addEventListener("click", again);
find("hear")?.addEventListener("click", hearTone);
find("source").addEventListener("change", (event) => chooseSource(event.target.value));
find("use-stopwatch").addEventListener("click", () => chooseSource("stopwatch"));
window.addEventListener("beforeunload", (event) => unsaved && event.preventDefault());
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
  if (event.target.closest("button, input, select, a")) return;
  const press = { " ": "main", r: "again", f: "hear" }[event.key.toLowerCase()];
  const button = press && find(press);
  if (!button || button.hidden || button.disabled) return;
  event.preventDefault();
  button.click();
});
chooseSource(find("source").value);
