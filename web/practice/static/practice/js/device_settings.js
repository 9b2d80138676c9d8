// How this device practises: its pace, its text, its hands. Chosen here, remembered here, sent nowhere.

const TEXT_STEPS = ["", "large", "larger", "largest"];

/** Remembers something; false where the browser refuses (full or forbidden), and all else goes on. */
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

/** Wires the switches of the page's settings, and puts what is remembered in force. */
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

/** The text in four sizes; the words between the two buttons say which. */
function textSize(find) {
  const old = remembered("larger") === "1" ? "2" : "0"; // as the version before kept it
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
