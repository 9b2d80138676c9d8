// Stop: what is wrong, the report to the clinic, and its withdrawal after a mistake.

import { startAgain } from "./beginning.js";
import { endSession } from "./ending.js";
import * as flags from "./flags.js";
import { Interrupted } from "./interrupt.js";
import { lines, make, show } from "./screens.js";
import { gettext } from "../../ui/js/words.js";

/** Asks again as long as Stop is pressed again; any other key leaves the question on the screen. */
async function askWhatIsWrong(practice) {
  for (;;) {
    try {
      practice.interrupt.arm();
      return await flags.askWhatIsWrong(practice);
    } catch (reason) {
      if (!(reason instanceof Interrupted)) throw reason;
      practice.interrupt.taken(reason);
    }
  }
}

/** Ends the session because Stop was pressed, or because of an answer. */
export async function stopSession(practice, { flag }) {
  const reported = flag ?? (await askWhatIsWrong(practice));
  if (reported === flags.GO_ON) {
    practice.goesOn = true; // Back to the try at which Stop was pressed, without another question.
    throw new Interrupted("restart", {});
  }
  if (!reported) {
    await endSession(practice, "left");
    show(
      "done",
      gettext("You ended the session"),
      ...lines([gettext("Your results are saved.")]),
      make("div", {}, startAgain(practice)),
    );
    return;
  }
  const { pauses, ends } = practice.plan.flags[reported];
  // The report to the clinic first; this device's own records after it.
  const key = practice.stops.say({ flags: [reported], session: practice.session?.key });
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
  flags.advise(practice, reported, {
    key,
    comment: (words) => practice.mark("comment", words),
    slip: () => offerWithdrawal(practice, { key, reported, kept, session, ended }),
  });
  if (pauses) await practice.outbox.remember("stopped", { key, flag: reported });
  else if (ends) await practice.day.end(reported);
  ended = await endSession(practice, "stopped", { held: true });
  await practice.outbox.remember("progress", null);
  setTimeout(() => ended && practice.outbox.release(ended), 31000);
}

/** Pressed by mistake: withdrawn unless people were alerted or it was an emergency. */
async function offerWithdrawal(practice, { key, reported, kept, session, ended }) {
  const goesOn = !practice.plan.flags[reported].urgent;
  practice.stops.withdrawStop(key);
  if (!goesOn) {
    practice.staysOn = key; // The advice and the number to call stay, with the note next to them.
    return;
  }
  await practice.outbox.remember("stopped", null);
  await practice.day.undoEnd();
  if (ended) await practice.outbox.done(ended);
  if (kept) await practice.saveProgress(kept, session);
  practice.interrupt.with("restart");
}

/** The clinic was alerted already: the pause stays. */
export async function withdrawStop(practice, goesOn, key) {
  if (goesOn || practice.staysOn === key) return;
  await practice.outbox.remember("stopped", { key, flag: "" });
  practice.interrupt.with("restart");
}
