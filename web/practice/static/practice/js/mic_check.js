// Is the microphone there, and does it hear? Shown as bars, measured and kept nowhere.

import { openMicrophone, record } from "../../sound/js/recorder.js";
import { troubleWith } from "../../sound/js/listening.js";
import { goOn, make, say, show } from "./screens.js";
import { gettext } from "../../ui/js/words.js";

const HEARS = 0.02; // of full scale: quieter than any voice an arm's length away
const BARS = 20;

/** Shows what comes in until somebody goes on. */
export async function checkMicrophone(practice) {
  const bars = make("p", { class: "meter", "data-meter": "" }, "▯".repeat(BARS));
  const found = make(
    "p",
    { class: "lead", role: "status" },
    gettext("Say a few words: the bars move when it hears you."),
  );
  show("mic_check", gettext("The microphone"), bars, found);
  let recording = null;
  let most = 0;
  try {
    const source = await openMicrophone();
    recording = await record(source, practice.urls.worklet, (block) => {
      const peak = block.reduce((high, value) => Math.max(high, Math.abs(value)), 0) / 32768;
      const on = Math.round(BARS * Math.min(1, Math.sqrt(peak)));
      bars.textContent = "▮".repeat(on) + "▯".repeat(BARS - on);
      if (peak > HEARS && most <= HEARS) found.textContent = gettext("It hears you.");
      most = Math.max(most, peak);
    });
    await goOn(gettext("Continue"), { interrupted: practice.interrupt.now });
  } catch (error) {
    if (!(error instanceof DOMException)) throw error;
    say(troubleWith("microphone", error));
    await goOn(gettext("Continue"), { interrupted: practice.interrupt.now });
  } finally {
    await recording?.stop();
  }
}
