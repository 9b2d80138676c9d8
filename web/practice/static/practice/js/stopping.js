// Stop: what is wrong, the way to the clinic, and what is taken back where it was a slip.

import { onceMore } from "./beginning.js";
import { endSession } from "./ending.js";
import * as flags from "./flags.js";
import { Interrupted } from "./interrupt.js";
import { lines, make, show } from "./screens.js";
import { gettext } from "../../ui/js/words.js";

/** Asked again for as long as Stop is pressed again; any other key leaves the question standing. */
async function whatIsWrong(practice) {
  for (;;) {
    try {
      practice.interrupt.arm();
      return await flags.whatIsWrong(practice);
    } catch (reason) {
      if (!(reason instanceof Interrupted)) throw reason;
      practice.interrupt.taken(reason);
    }
  }
}

/** Ends the session because Stop was pressed, or because an answer asked for it. */
export async function stopSession(practice, { flag }) {
  const said = flag ?? (await whatIsWrong(practice));
  if (said === flags.GO_ON) {
    practice.goesOn = true; // at the try where Stop was pressed, without being asked again
    throw new Interrupted("restart", {});
  }
  if (!said) {
    await endSession(practice, "left");
    show(
      "done",
      gettext("You ended the session"),
      ...lines([gettext("Your results are saved.")]),
      make("div", {}, onceMore(practice)),
    );
    return;
  }
  const { pauses, ends } = practice.plan.flags[said];
  // the way to the clinic before all else; what this device remembers comes after it
  const key = practice.stops.say({ flags: [said], session: practice.session?.key });
  practice.session ??= {
    key: crypto.randomUUID(),
    version: practice.plan.version,
    sort: "full",
    day: "usual",
    voice: "",
    begun_at: new Date().toISOString(),
    planned: 0,
    helper: practice.plan.helper ?? undefined,
  };
  const { session } = practice;
  const kept = practice.progress;
  let ended = null;
  flags.advise(practice, said, {
    key,
    comment: (words) => practice.mark("comment", words),
    slip: () => slipped(practice, { key, said, kept, session, ended }),
  });
  if (pauses) await practice.outbox.remember("stopped", { key, flag: said });
  else if (ends) await practice.day.end(said);
  ended = await endSession(practice, "stopped", { held: true });
  await practice.outbox.remember("progress", null);
  setTimeout(() => ended && practice.outbox.release(ended), 31000);
}

/** Pressed by mistake: taken back where nobody has been told and it was no emergency. */
async function slipped(practice, { key, said, kept, session, ended }) {
  const goesOn = !practice.plan.flags[said].urgent;
  practice.stops.takeBack(key);
  if (!goesOn) {
    practice.staysOn = key; // the advice and the number to call stay, with the note beside them
    return;
  }
  await practice.outbox.remember("stopped", null);
  await practice.day.unend();
  if (ended) await practice.outbox.done(ended);
  if (kept) await practice.went(kept, session);
  practice.interrupt.with("restart");
}

/** The clinic had been told already: the pause stands after all. */
export async function takeBack(practice, goesOn, key) {
  if (goesOn || practice.staysOn === key) return;
  await practice.outbox.remember("stopped", { key, flag: "" });
  practice.interrupt.with("restart");
}
