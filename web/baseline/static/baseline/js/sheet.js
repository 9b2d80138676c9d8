// The baseline sheet by keyboard, one step at a time. Other modules handle sound and drawing.

import "../../ui/js/clinic.js";
import { onKeys } from "../../ui/js/onkeys.js";
import { LiveTrace } from "../../sound/js/live_trace.js";
import { postUntilHeard } from "../../sound/js/post.js";
import { Listening } from "../../sound/js/listening.js";
import { wavOf } from "../../sound/js/wav.js";
import { tenths } from "../../ui/js/tenths.js";
import { filled, gettext } from "../../ui/js/words.js";

const SHORTEST_HOLD_S = 0.5;
const ENDS_AFTER_SILENCE_S = 0.8;
const REMEMBERED = "sheet-source";

const root = document.querySelector("[data-baseline]");
const stage = document.getElementById("stage");
const source = document.querySelector("[data-source]");
const file = document.querySelector("[data-file]");
const part = () => stage.firstElementChild.dataset;
const find = (name) => stage.querySelector(`[data-${name}]`);
const url = (path) => root.dataset.base + path;
let trace = new LiveTrace(stage);
let listening = null;
let busy = false;

function say(words) {
  root.querySelector("[data-says]").textContent = words;
}

function show(html) {
  busy = false;
  listening = null;
  stage.innerHTML = html;
  trace = new LiveTrace(stage);
  say("");
  prepare();
}

/** Focus the first empty field of a step without sound, or the step itself. */
function prepare() {
  for (const form of stage.querySelectorAll("form[data-post]")) {
    form.addEventListener("submit", (event) => {
      event.preventDefault();
      send(form.dataset.post, new FormData(/** @type {HTMLFormElement} */ (form)), form);
    });
  }
  const form = stage.querySelector("form[data-post]:not([data-typed])");
  const wrong = stage.querySelector("[aria-invalid=true]");
  const first = wrong ?? form?.querySelector("input:not([type=hidden]), button");
  (part().step === "volume" ? find("title") : (first ?? find("title"))).focus({ preventScroll: true });
  history.replaceState(null, "", `?step=${part().step}`);
}

async function send(path, fields, form) {
  if (busy) return;
  busy = true;
  const entries = fields instanceof FormData ? Object.fromEntries(fields) : fields;
  const to = path.startsWith("/") ? path : url(path);
  const answer = await postUntilHeard(to, { key: crypto.randomUUID(), ...entries }, () =>
    say(gettext("No connection. The value is saved here and sent later.")),
  );
  busy = false;
  if (answer.stage) return show(answer.stage);
  const problem = form?.matches("[data-typed]") ? find("typed-problem") : null;
  if (!problem) return say(answer.sentence);
  problem.hidden = false;
  problem.textContent = answer.asks
    ? filled(gettext("{sentence} Press Enter again to confirm."), { sentence: answer.sentence })
    : answer.sentence;
  if (answer.asks) form.insertAdjacentHTML("beforeend", '<input type="hidden" name="confirmed" value="1">');
}

async function go(step) {
  if (busy || listening) return;
  const response = await fetch(`${url("")}?part=1&step=${step}`);
  if (response.ok) show((await response.json()).stage);
  else say(gettext("The step could not be loaded. Check the connection and try again."));
}

async function listen() {
  if (listening) return listening.stop();
  if (busy || !part().heard) return;
  if (source.value === "file") {
    if (!file.files[0]) return file.click();
    return send(`${part().step}/recording/`, { recording: file.files[0] });
  }
  const seed = crypto.getRandomValues(new Uint32Array(1))[0] >>> 1;
  const takeUrl = url(`${part().step}/take/`);
  const endsItself = part().endsItself;
  trace.clear();
  say(gettext("Listening."));
  const step = part().step;
  let unheard = false; // The server is busy: it measures the recording afterwards.
  listening = new Listening({
    kind: source.value,
    workletUrl: root.dataset.workletUrl,
    simulatedUrl: url(`${part().step}/simulated.wav?seed=${seed}`),
    takeUrl: `${location.protocol === "https:" ? "wss" : "ws"}://${location.host}${takeUrl}`,
    ready: () => trace.clear(),
    frames: ({ cents, hold, full }) => {
      trace.add(cents, hold);
      find("seconds").textContent = tenths(hold.seconds);
      const over = hold.ended && hold.seconds >= SHORTEST_HOLD_S && hold.silent_s >= ENDS_AFTER_SILENCE_S;
      if (full || (endsItself && over)) listening?.stop();
    },
    saving: () => say(gettext("Measuring.")),
    saved: show,
    busy: () => {
      unheard = true;
      say(gettext("The server is busy. The recording continues and is measured when you stop."));
    },
    recorded: (take) => {
      if (!unheard) return;
      listening = null;
      send(`${step}/recording/`, {
        key: take.key,
        recording: new File([wavOf(take.blocks, take.rate)], "take.wav", { type: "audio/wav" }),
      });
    },
    failed: (words) => {
      listening = null;
      say(words);
    },
    lost: () => say(gettext("The connection was lost. The recording is saved here and sent later.")),
  });
  listening.begin();
}

function ask(path, words) {
  const form = find("words");
  form.hidden = false;
  form.querySelector("[data-words-label]").textContent = words;
  form.onsubmit = (event) => {
    event.preventDefault();
    send(`/clients/baseline-trials/${path}`, { words: form.elements.words.value });
  };
  form.elements.words.focus();
}

function typeByHand() {
  const form = find("typed");
  if (!form) return;
  form.hidden = false;
  form.querySelector("input:not([type=hidden])").focus();
}

function nextSource() {
  source.selectedIndex = (source.selectedIndex + 1) % source.options.length;
  source.dispatchEvent(new Event("change"));
}

stage.addEventListener("click", ({ target }) => {
  const button = target.closest("button");
  if (!button) return;
  const { go: step, do: path, ask: confirmation, question } = button.dataset;
  if (step) go(step);
  if (path) send(`/clients/baseline-trials/${path}`, {});
  if (confirmation) ask(confirmation, question);
});
source.addEventListener("change", () => {
  file.hidden = source.value !== "file";
  localStorage.setItem(REMEMBERED, source.value);
});
window.addEventListener("beforeunload", (event) => listening && event.preventDefault());

const KEYS = {
  " ": listen,
  n: () => go(part().next),
  p: () => go(part().before),
  d: () => part().last && send(`/clients/baseline-trials/${part().last}/discard/`, {}),
  u: () => [...stage.querySelectorAll('[data-do$="/restore/"]')].at(-1)?.click(),
  t: () => part().last && ask(`${part().last}/note/`, gettext("Note on the last trial")),
  y: typeByHand,
  v: () => find("spirometer")?.click(),
  m: nextSource,
  f: () => document.querySelector("[data-finish]").click(),
};
onKeys(
  (key, { target }) =>
    key === " " && target.closest("button:not([data-go]), a, summary") ? null : KEYS[key],
  { repeats: false },
);

const remembered = localStorage.getItem(REMEMBERED);
if ([...source.options].some(({ value }) => value === remembered)) source.value = remembered;
source.dispatchEvent(new Event("change"));
prepare();
