// Microphone check, before the first session on a device and after a change: is it working, is the room
// quiet, is the voice close enough, and does the device process the sound? Stored with the session.

import { remember, remembered } from "./device_settings.js";
import { InputLevels, wordsFor } from "../../sound/js/input_levels.js";
import { openMicrophone, record } from "../../sound/js/recorder.js";
import { openingProblem } from "../../sound/js/listening.js";
import { goOn, make, say, show } from "./screens.js";
import { gettext } from "../../ui/js/words.js";

const BARS = 20;

/** Shows the input until the client continues, and stores the findings. */
export async function checkMicrophone(practice) {
  const bars = make("p", { class: "meter", "data-meter": "" }, "▯".repeat(BARS));
  const found = make(
    "p",
    { class: "lead", role: "status" },
    gettext("Say a few words, then stay quiet for a moment."),
  );
  show("mic_check", gettext("The microphone"), bars, found);
  let source = null;
  let recording = null;
  let levels = null;
  let processed = false;
  try {
    source = await openMicrophone();
    const { echoCancellation, noiseSuppression, autoGainControl, device } = source.capture;
    processed = !!(echoCancellation || noiseSuppression || autoGainControl);
    levels = new InputLevels(source.node.context.sampleRate);
    recording = await record(source, practice.urls.worklet, (block) => {
      levels.add(block);
      const peak = block.reduce((high, value) => Math.max(high, Math.abs(value)), 0) / 32768;
      const on = Math.round(BARS * Math.min(1, Math.sqrt(peak)));
      bars.textContent = "▮".repeat(on) + "▯".repeat(BARS - on);
      if (levels.found) found.textContent = wordsFor(levels.found, processed).join(" ");
    });
    await goOn(gettext("Continue"), { interrupted: practice.interrupt.now });
    remember("microphone", device);
  } catch (error) {
    if (!(error instanceof DOMException)) throw error;
    say(openingProblem("microphone", error));
    await goOn(gettext("Continue"), { interrupted: practice.interrupt.now });
  } finally {
    if (recording) await recording.stop();
    else source?.close();
  }
  if (levels?.found) await practice.mark("microphone", { ...levels.found, processed });
}

/** Before the first session with a microphone on this device, or with a different one. */
export async function checkOnce(practice) {
  if (practice.source.kind !== "microphone" || practice.plan.clinic || practice.isQuick) return;
  const devices = await navigator.mediaDevices?.enumerateDevices().catch(() => []);
  const labels = (devices ?? []).filter((each) => each.kind === "audioinput").map((each) => each.label);
  const known = remembered("microphone");
  // Labels are hidden until the microphone is allowed: then assume the previous device.
  if (known !== null && (!labels.some(Boolean) || labels.includes(known))) return;
  // A device that stores nothing would be asked at every session.
  if (!remember("microphone-offered", "1")) return;
  await checkMicrophone(practice);
}
