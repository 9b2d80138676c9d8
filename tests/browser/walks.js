// A hand that taps at random over a session: quick, twice, three times, dragging, keys held down. Time
// runs twenty times as fast; microphone, line and clinic are stand-ins with moods of their own.

(() => {
  const FASTER = 20;
  const real = { now: performance.now.bind(performance), timeout: setTimeout.bind(window), interval: setInterval.bind(window) };
  const from = real.now();
  const began = Date.now();
  const now = () => from + (real.now() - from) * FASTER;
  performance.now = now;
  Date.now = () => began + (now() - from);
  window.setTimeout = (act, ms = 0, ...more) => real.timeout(act, ms / FASTER, ...more);
  window.setInterval = (act, ms = 0, ...more) => real.interval(act, ms / FASTER, ...more);
  AbortSignal.timeout = (ms) => {
    const control = new AbortController();
    setTimeout(() => control.abort(), ms);
    return control.signal;
  };
  const stamps = new WeakMap();
  Object.defineProperty(Event.prototype, "timeStamp", { get() {
    if (!stamps.has(this)) stamps.set(this, now());
    return stamps.get(this);
  } });
  const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

  let state = 1;
  const random = () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  const between = (low, high) => low + random() * (high - low);
  const oneOf = (list) => list[Math.floor(random() * list.length)];
  const faults = [];
  console.error = (...said) => faults.push(said.map(String).join(" "));
  addEventListener("unhandledrejection", ({ reason }) => faults.push(String(reason)));
  const seen = (window.walks = { stops: new Set(), asked: 0, accepted: 0, early: [], tracks: [], screens: new Set() });

  // the clinic: takes what comes, or is away, or has a fault
  const fetched = window.fetch.bind(window);
  const answer = (body, status = 200) => new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });
  window.fetch = async (url, how = {}) => {
    const path = String(url);
    if (!path.includes("/practice/stop/") && !path.includes("/practice/entries/")) return fetched(url, how);
    await wait(between(5, 400));
    const fate = random();
    if (path.includes("/practice/stop/")) {
      const said = JSON.parse(how.body);
      if (said.flags) seen.stops.add(said.key);
      if (fate < 0.15) throw new TypeError("no network");
      return answer({ kept: true, state: "open", goes_on: random() < 0.7 });
    }
    if (fate < 0.1) throw new TypeError("no network");
    if (fate < 0.15) return answer({}, 500);
    return answer({ sentence: "Kept." });
  };

  // the line for live sound: answers, stays silent, breaks, or has too much to do
  window.WebSocket = class {
    constructor() {
      this.mood = oneOf(["well", "well", "well", "frozen", "broken", "busy", "refuses"]);
      setTimeout(() => (this.mood === "broken" ? this.close(1006) : this.onopen?.()), between(5, 300));
    }

    tell(message, ms = between(5, 200)) {
      setTimeout(() => this.onmessage?.({ data: JSON.stringify(message) }), ms);
    }

    send(data) {
      if (this.mood === "frozen") return;
      if (typeof data !== "string") {
        this.heard = (this.heard ?? 0) + 1;
        const over = this.heard > 6;
        return this.tell({ type: "frames", cents: [0], level: null, hold: { seconds: this.heard / 2, ended: over, silent_s: over ? 5 : 0 } });
      }
      const { type } = JSON.parse(data);
      if (type === "begin") this.tell({ type: this.mood === "busy" ? "busy" : "ready" });
      else if (this.mood === "refuses") this.tell({ type: "refused", sentence: "That was not taken." });
      else this.tell({ type: "saved", sentence: "3 seconds.", outcome: "met", more: [], stage: "<p>drawn</p>" });
    }

    close(code = 1000) {
      setTimeout(() => this.onclose?.({ code }));
    }
  };

  // the microphone: given, given late, never answered, refused, or taken away in the middle
  const sounding = new AudioContext();
  navigator.mediaDevices.getUserMedia = async () => {
    seen.asked += 1;
    const fate = random();
    if (fate < 0.08) throw new DOMException("", "NotAllowedError");
    if (fate < 0.12) throw new DOMException("", "NotFoundError");
    if (fate < 0.3) await wait(between(100, 9000));
    else if (fate < 0.36) await new Promise(() => {});
    const { stream } = sounding.createMediaStreamDestination();
    const [track] = stream.getAudioTracks();
    seen.tracks.push(track);
    if (fate > 0.9) setTimeout(() => track.readyState === "live" && (track.stop(), track.dispatchEvent(new Event("ended"))), between(200, 4000));
    return stream;
  };
  const live = () => seen.tracks.filter((each) => each.readyState === "live").length;

  // what raises a flag: when it came to stand there, and whether the press that took it began after that
  let shownAt = Infinity;
  let pressedAt = 0;
  addEventListener("pointerdown", () => (pressedAt = now()), true);
  addEventListener("keydown", (event) => event.repeat || (pressedAt = now()), true);
  addEventListener("DOMContentLoaded", () => {
    const place = document.getElementById("confirm");
    if (!place) return;
    place.replaceChildren = (...parts) => {
      Element.prototype.replaceChildren.apply(place, parts);
      shownAt = place.querySelector("[data-confirm]") ? now() : Infinity;
    };
    place.addEventListener("click", ({ target }) => {
      if (!target.closest("[data-confirm]")) return;
      seen.accepted += 1;
      if (pressedAt < shownAt + 240) seen.early.push(`a press of ${Math.round(pressedAt)} took what stood there from ${Math.round(shownAt)}, at ${Math.round(now())}`); // 400 ms, less what drawing takes
    });
  });

  // with one switch a key means what lights up, and the microphone is open between tries: other hands have that
  const switches = "[data-one-switch], [data-sound-switch]";
  addEventListener("click", (event) => event.target.closest?.(switches) && event.stopImmediatePropagation(), true);

  const screen = () => document.querySelector("[data-screen]")?.dataset.screen ?? "";
  const shown = (each) => !each.disabled && each.checkVisibility() && !each.closest("[data-sign-out]") && !each.matches("a, select, [data-drop-refused]");
  const inHand = () => {
    const dialog = document.querySelector("dialog[open]");
    const all = [...(dialog ?? document).querySelectorAll("button, input")];
    const seldom = (each) => !each.matches("[data-stop], [data-open-more]") || random() < 0.15;
    return all.filter((each) => shown(each) && seldom(each) && (dialog || !each.closest("dialog")));
  };
  const middle = (each) => {
    each.scrollIntoView({ block: "nearest" });
    const { left, top, width, height } = each.getBoundingClientRect();
    return [left + width / 2 + between(-5, 5), top + height / 2 + between(-5, 5)];
  };
  const under = (x, y) => document.elementFromPoint(x, y) ?? document.body;
  const event = (name, target, x, y) => target.dispatchEvent(new PointerEvent(name, { bubbles: true, cancelable: true, composed: true, clientX: x, clientY: y }));

  async function tap([x, y], { to = [x, y] } = {}) {
    const first = under(x, y);
    event("pointerdown", first, x, y);
    await wait(between(5, 120));
    const last = under(...to);
    event("pointerup", last, ...to);
    const same = to[0] === x && to[1] === y;
    if (!same || last.closest("a, summary, [data-sign-out]")) return;
    const pressed = last.closest("button, input, label"); // whatever lies under the finger by then
    if (pressed) pressed.click();
    else event("click", last, x, y);
  }

  async function press(key, repeats = 0) {
    const target = document.activeElement ?? document.body;
    for (let count = 0; count <= repeats; count++) {
      target.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true, repeat: count > 0 }));
      if (repeats) await wait(30);
    }
    document.body.dispatchEvent(new KeyboardEvent("keyup", { key, bubbles: true }));
  }

  const KEYS = [" ", " ", "Enter", "s", "p", "r", "k", "n", "y", "d", "e", "t", "f", "i", "0", ..."123456789"];
  async function something() {
    const found = inHand();
    const what = random();
    const onward = document.querySelector("#go button") ?? oneOf([...document.querySelectorAll("#screen .button-first, #screen .options button")]);
    if (onward && random() < 0.4) return tap(middle(onward)); // so that the walk gets somewhere
    if (what < 0.18 || !found.length) return press(oneOf(KEYS), random() < 0.25 ? Math.floor(between(3, 20)) : 0);
    const point = middle(oneOf(found));
    if (what < 0.24) return tap(point, { to: middle(oneOf(found)) });
    await tap(point);
    for (let again = what > 0.9 ? 2 : what > 0.6 ? 1 : 0; again; again--) {
      await wait(between(20, 300));
      await tap(point);
    }
  }

  /** Whether something comes to be so within ten seconds. */
  async function within10s(so) {
    for (const ends = now() + 10000; now() < ends; await wait(50)) if (so()) return true;
    return so();
  }

  /** Stop is in reach, asks what is wrong, and lets one end. */
  async function wayOut(trouble) {
    const here = screen();
    document.querySelector("dialog[open]")?.close();
    const stop = document.querySelector("[data-stop]");
    const { left, top, width, height } = stop.getBoundingClientRect();
    if (!under(left + width / 2, top + height / 2).closest("[data-stop]")) trouble.push(`Stop is out of reach on ${here}`);
    stop.click();
    if (!(await within10s(() => screen() === "stop"))) return trouble.push(`no way out of ${here}`);
    for (let tries = 0; tries < 5 && screen() === "stop"; tries++) {
      await wait(600); // the screen may have been drawn again
      await press("0");
    }
    if (!(await within10s(() => screen() === "done"))) trouble.push(`it does not end after ${here}`);
    if (!(await within10s(() => live() === 0))) trouble.push(`${live()} live tracks after ${here}`);
  }

  window.walk = async (seed, steps) => {
    state = seed;
    const trouble = [];
    const asleep = random() < 0.08;
    if (asleep) {
      AudioContext.prototype.resume = () => new Promise(() => {});
      Object.defineProperty(AudioContext.prototype, "state", { get: () => "suspended" });
    }
    for (let step = 0; step < steps; step++) {
      seen.screens.add(screen());
      await something();
      await wait(random() < 0.3 ? between(20, 300) : between(300, 1500));
      if (random() < 0.04) await wayOut(trouble);
    }
    await wayOut(trouble);
    await wait(10000); // a microphone that is prescribed late
    if (live()) trouble.push(`${live()} live tracks after the end`);
    if (seen.stops.size > seen.accepted) trouble.push(`${seen.stops.size} flags for ${seen.accepted} confirmed presses`);
    trouble.push(...faults);
    trouble.push(...seen.early);
    return { trouble, flags: seen.stops.size, asked: seen.asked, screens: [...seen.screens] };
  };
})();
