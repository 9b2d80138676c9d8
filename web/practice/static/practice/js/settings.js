// The controls that are always there: pause, again, skip, slower, larger, stop, and where sound is from.

import { say } from "./screens.js";

/** Wires the controls to the kit, and gives what the outbox needs. */
export function prepare(kit, root) {
  const find = (name) => root.querySelector(`[data-${name}]`);
  const control = (name, act) => find(name).addEventListener("click", act);
  control("pause", () => kit.interrupt.with("pause"));
  control("again", () => (kit.canRepeat ? kit.interrupt.with("again") : kit.interrupt.with("repeat")));
  control("skip", () => kit.interrupt.with("skip"));
  control("stop", () => kit.interrupt.with("stop"));
  const toggled = (name, apply) => {
    const on = localStorage.getItem(`still-reed:${name}`) === "1";
    find(name).setAttribute("aria-pressed", String(on));
    apply(on);
    control(name, () => {
      const next = find(name).getAttribute("aria-pressed") !== "true";
      find(name).setAttribute("aria-pressed", String(next));
      localStorage.setItem(`still-reed:${name}`, next ? "1" : "0");
      apply(next);
    });
  };
  toggled("slower", (on) => (kit.pace = on ? 1.8 : 1));
  toggled("larger", (on) => document.documentElement.classList.toggle("larger", on));
  // a press anywhere is the big key, unless it was on something
  document.getElementById("screen").addEventListener("click", ({ target }) => {
    if (target.closest("button, a, input, select, textarea, label, details, video")) return;
    if (getSelection().toString()) return;
    document.querySelector("[data-go]")?.click();
  });
  control("comment", async () => {
    const words = find("comment-words").value.trim();
    if (!words || !kit.session) return say("Write it first, in a session.");
    await kit.mark("comment", words, kit.block);
    find("comment-words").value = "";
    say("Your comment is kept.");
  });
  sources(kit, root, find);
  kit.urls = {
    worklet: root.dataset.workletUrl,
    take: (task) => socket(task === "reference" ? "/practice/reference/take/" : `/practice/tasks/${task}/take/`),
  };
  remembered(root);
  return {
    owner: `${kit.plan.clinic ? "clinic" : "home"}:${kit.plan.client}`,
    url: root.dataset.entriesUrl,
    on: {
      changed: () => status(kit, find),
      arrived: () => {},
      refused: (_, sentence) => say(`One result could not be kept by the clinic: ${sentence}`),
      signedOut: () => status(kit, find),
    },
  };
}

const socket = (path) => `${location.protocol === "https:" ? "wss" : "ws"}://${location.host}${path}`;

function sources(kit, root, find) {
  const choose = (value) => {
    find("source").value = value;
    const manner = root.querySelector("[data-for-source]");
    if (manner) manner.hidden = value !== "simulated";
    localStorage.setItem("still-reed:source", value);
    kit.source = { kind: value, url: (task) => simulatedUrl(root, find, task) };
  };
  const kept = localStorage.getItem("still-reed:source");
  choose([...find("source").options].some((each) => each.value === kept) ? kept : "microphone");
  find("source").addEventListener("change", ({ target }) => choose(target.value));
  kit.chooseSource = choose;
}

function simulatedUrl(root, find, task) {
  const seed = crypto.getRandomValues(new Uint32Array(1))[0] >>> 1;
  const path = task === "reference" ? "/practice/reference/simulated-voice.wav" : `/practice/tasks/${task}/simulated-voice.wav`;
  return `${path}?manner=${find("manner")?.value ?? "even"}&seed=${seed}`;
}

/** "Saved here" against "sent", always in sight. */
function status(kit, find) {
  const box = kit.outbox;
  if (!box) return;
  const { waiting, sent, refused } = box;
  const parts = [`${sent} ${sent === 1 ? "try" : "tries"} sent`, waiting ? `${waiting} saved here, waiting to be sent` : "nothing waiting"];
  if (refused) parts.push(`${refused} could not be sent`);
  if (!box.keeps) parts.push("this browser keeps nothing when it is closed");
  find("status").textContent = parts.join(" · ");
  find("sign-in").hidden = !box.signedOut;
}

/** On a device that is to remember, the session opens without a network too; on others nothing stays. */
async function remembered(root) {
  if (!navigator.serviceWorker) return;
  root.querySelector("[data-sign-out]").addEventListener("submit", async (event) => {
    event.preventDefault();
    await forget();
    event.target.submit();
  });
  if (root.dataset.remembered === "1") {
    await navigator.serviceWorker.register("/practice/worker.js").catch(() => {});
    return;
  }
  await forget();
}

async function forget() {
  for (const each of await navigator.serviceWorker.getRegistrations()) await each.unregister();
  for (const name of await caches.keys()) await caches.delete(name);
}
