// The first screen of a task: instructions, a picture, and a mirror if one helps.

import { button, goOn, lines, make, say, show } from "./screens.js";
import { filled, gettext } from "../../ui/js/words.js";

/** The instructions, shown before any sound. */
export async function introduce(practice, block, words) {
  const parts = [make("p", { class: "where" }, words), ...lines(block.lines)];
  const rounds = block.turns[0].rounds?.length ?? 0;
  if (rounds > 1)
    parts.push(make("p", {}, filled(gettext("{rounds} rounds, one after the other."), { rounds })));
  if (practice.plan.helper && block.heard)
    parts.push(make("p", {}, gettext("Helper: please stay quiet while it listens.")));
  if (block.caution) parts.push(make("p", { class: "caution" }, block.caution));
  if (block.drawing)
    parts.push(make("img", { class: "drawing", src: block.drawing, alt: "", "data-drawing": "" }));
  if (block.props.length)
    parts.push(
      make(
        "p",
        {},
        [
          filled(gettext("You need: {props}."), { props: block.props.join(", ") }),
          block.washed ? gettext("Use only your own, and wash it.") : "",
        ]
          .filter(Boolean)
          .join(" "),
      ),
    );
  let depth = block.depth_cm;
  if (depth != null) {
    const shown = make("output", {}, `${depth} cm`);
    const by = (step) => (shown.textContent = `${(depth = Math.max(0, Math.min(20, depth + step)))} cm`);
    parts.push(
      make(
        "div",
        { class: "stepper" },
        make("span", {}, gettext("Depth in water")),
        button("−", { "aria-label": gettext("less deep"), on: () => by(-1) }),
        shown,
        button("+", { "aria-label": gettext("deeper"), on: () => by(1) }),
      ),
    );
  }
  if (block.mirror) parts.push(mirror(practice));
  if (block.faults.length) {
    parts.push(
      make(
        "details",
        { class: "faults" },
        make("summary", {}, gettext("If something is off")),
        ...block.faults.map(({ noticed, try: remedy }) =>
          make("p", {}, make("strong", {}, noticed), ` ${remedy}`),
        ),
      ),
    );
  }
  let target = null;
  if (practice.plan.clinic && block.turns[0].seconds && block.target_per_session) {
    target = make("input", {
      class: "input",
      inputmode: "decimal",
      value: String(block.turns[0].seconds),
      "data-target": "",
    });
    parts.push(
      make("label", { class: "field" }, make("span", {}, gettext("Target for this session, s")), target),
    );
  }
  const either =
    block.or &&
    new Promise((resolve) =>
      parts.push(
        make(
          "div",
          {},
          button(filled(gettext("{name} instead"), { name: block.or.name }), {
            key: "i",
            "data-either": "",
            on: () => resolve("either"),
          }),
        ),
      ),
    );
  show("task", block.name, ...parts);
  const begun = begins(practice, block);
  if ((await Promise.race([begun, either ?? begun])) === "either") return { instead: block.or };
  if (depth != null) await practice.mark("depth", depth, block);
  const typed = target && Number(target.value.replace(",", "."));
  return { target: typed >= 0.5 && typed <= 90 ? typed : null };
}

/** The button to continue; hands free, the task begins by itself after reading time. */
async function begins(practice, block) {
  const seconds = practice.readingTime(block.lines.join(" "));
  const interrupted = practice.interrupt.now;
  if (!seconds) return goOn(gettext("Begin"), { interrupted });
  if (practice.readsAloud) {
    const pressed = goOn(gettext("Begin"), { interrupted }).then(() => true);
    if (await Promise.race([pressed, practice.reading.over])) return;
    pressed.catch(() => {}); // The next screen is interrupted as well.
  }
  return goOn(gettext("Begin"), { seconds, counts: true, interrupted });
}

/** The device's own camera as a mirror: shown here, neither recorded nor sent. */
function mirror(practice) {
  const glass = make("video", {
    class: "mirror",
    playsinline: true,
    muted: true,
    hidden: true,
    "aria-label": gettext("your own picture"),
  });
  let over = false;
  const close = () => {
    over = true; // Also a camera that opens later.
    glass.srcObject?.getTracks().forEach((track) => track.stop());
    glass.srcObject = null;
  };
  const open = button(gettext("Use the camera as a mirror"), {
    on: async () => {
      open.disabled = true; // A second tap would open a second camera.
      try {
        const stream = await navigator.mediaDevices.getUserMedia({ video: true });
        if (over) return stream.getTracks().forEach((track) => track.stop());
        glass.srcObject = stream;
        glass.hidden = false;
        await glass.play();
        say(gettext("Your picture stays on this device."));
      } catch {
        open.disabled = false;
        say(gettext("The camera could not be opened. You can use a mirror."));
      }
    },
  });
  practice.closing = close;
  return make("div", {}, open, glass);
}
