// Settings of this device: pace, text size, footer side. Stored on the device and never sent.

const TEXT_STEPS = ["", "large", "larger", "largest"];

/** Stores a value; returns false if the browser refuses (full or blocked). Everything else still works. */
export function remember(name, value) {
  try {
    localStorage.setItem(`still-reed:${name}`, value);
    return true;
  } catch {
    return false;
  }
}

export function remembered(name) {
  try {
    return localStorage.getItem(`still-reed:${name}`);
  } catch {
    return null;
  }
}

/** Connects the switches of the page's settings, and applies the stored values. */
export function deviceSettings(practice, root) {
  const find = (name) => root.querySelector(`[data-${name}]`);
  const toggled = (name, apply) => {
    const control = find(name);
    const set = (on) => {
      control.setAttribute("aria-pressed", String(on));
      apply(on);
    };
    set(remembered(name) === "1");
    control.addEventListener("click", () => {
      const on = control.getAttribute("aria-pressed") !== "true";
      remember(name, on ? "1" : "0");
      set(on);
    });
  };
  toggled("slower", (on) => (practice.pace = on ? 1.8 : 1));
  toggled("hands-free", (on) => (practice.handsFree = on));
  toggled("read-aloud", (on) => {
    practice.readsAloud = on;
    find("read").hidden = !on;
  });
  toggled("left-handed", (on) => root.toggleAttribute("data-left", on));
  toggled("one-switch", (on) => practice.oneSwitch.turn(on));
  toggled("sound-switch", (on) => practice.oneSwitch.listen(on));
  textSize(find);
}

/** Text in four sizes; the label between the two buttons names the current one. */
function textSize(find) {
  const old = remembered("larger") === "1" ? "2" : "0"; // Stored by the previous version.
  let step = Number(remembered("text-step") ?? old) || 0;
  const [smaller, bigger] = [find("text-smaller"), find("text-bigger")];
  const set = (to) => {
    step = Math.max(0, Math.min(TEXT_STEPS.length - 1, to));
    for (const each of TEXT_STEPS.slice(1))
      document.documentElement.classList.toggle(each, TEXT_STEPS[step] === each);
    smaller.disabled = step === 0;
    bigger.disabled = step === TEXT_STEPS.length - 1;
  };
  const by = (steps) => () => {
    set(step + steps);
    remember("text-step", String(step));
  };
  smaller.addEventListener("click", by(-1));
  bigger.addEventListener("click", by(1));
  set(step);
}
