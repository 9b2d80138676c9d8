// The comfortable voice on this device: levels are judged relative to it.

import { MeasuredTrial } from "./measured_trial.js";
import { ask, goOn, lines, make, say, show } from "./screens.js";
import { gettext } from "../../ui/js/words.js";

const VOWEL = {
  feedback: "none",
  cue: true,
  cues: false,
  ends_after_s: 1,
  contrast: false,
  lines: [],
  phases: [],
};
const TURN = {
  task: "reference",
  title: gettext("Say “ah”, as you would speak"),
  tone: [],
  rounds: [],
  note: "",
  seconds: 0,
};

class Vowel extends MeasuredTrial {
  /** @returns {any} */
  entry(key) {
    return this.practice.entry("reference", key);
  }
}

/** Three vowels the first time on a device, one each time after; a shift asks about the distance. */
export async function reference(practice) {
  show(
    "reference",
    gettext("Your comfortable voice"),
    ...lines([
      gettext("The device measures your easy voice. Then it can tell soft from strong."),
      gettext("Keep the microphone 30 cm away."),
    ]),
  );
  await goOn(gettext("Begin"), { interrupted: practice.interrupt.now });
  for (let more = 1; more > 0;) {
    const vowel = new Vowel(practice, VOWEL, TURN, {
      target: 0,
      words: gettext("easy, two or three seconds"),
      number: 0,
    });
    const answer = await vowel.run();
    if (answer.noSource || answer.refused) {
      show(
        "reference_failed",
        answer.sentence,
        make("p", { class: "lead" }, gettext("Level is not judged in this session.")),
      );
      await goOn(gettext("Continue"), { interrupted: practice.interrupt.now });
      return;
    }
    if (answer.waiting) return; // Judged when it arrives.
    say(answer.sentence);
    if (answer.asks) {
      const reply = await ask(
        "distance",
        answer.sentence,
        [
          { value: "right", words: gettext("It is"), first: true },
          { value: "changed", words: gettext("I have moved it now") },
        ],
        { interrupted: practice.interrupt.now },
      );
      await practice.mark("distance", reply);
    }
    more = answer.more;
  }
}
