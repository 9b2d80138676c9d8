// Sound from a source, through the worklet, into a take. Nothing here measures, and nothing waits for ever: a
// sleeping sound output or a missing script is reported by name.

const WAKES_MS = 2500;
const FETCHES_MS = 6000;
const DRAINS_MS = 800;

let context = null;
let worklet = null;

/** A promise that fails after a while, with an error of this name. */
export function withTimeout(promise, ms, name) {
  let timer;
  const late = new Promise((_, reject) => (timer = setTimeout(() => reject(new DOMException("", name)), ms)));
  return Promise.race([promise, late]).finally(() => clearTimeout(timer));
}

/** Loads the recorder in advance, so that a session continues offline; needs no key press. */
export function prepareRecorder(workletUrl) {
  context ??= new AudioContext({ latencyHint: "interactive" });
  worklet ??= context.audioWorklet.addModule(workletUrl).catch((error) => {
    worklet = null; // The next time there may be a network.
    throw error;
  });
  return worklet;
}

/**
 * The page's one audio context; first requested in a key press or a tap. Rejects with `AudioAsleep` if the
 * device does not let it run.
 */
export async function audioContext() {
  context ??= new AudioContext({ latencyHint: "interactive" });
  if (context.state !== "running") await withTimeout(context.resume(), WAKES_MS, "AudioAsleep");
  return context;
}

/** Closes a stream's tracks, which turns off the microphone's light. */
const closeAll = (stream) => stream.getTracks().forEach((each) => each.stop());

/** The real microphone, without any processing of the sound. */
export async function openMicrophone() {
  if (!navigator.mediaDevices?.getUserMedia) throw new DOMException("", "NotFoundError");
  const stream = await navigator.mediaDevices.getUserMedia({
    audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false, channelCount: 1 },
  });
  const track = stream.getAudioTracks()[0];
  // The browser's actual settings, which can differ from those requested.
  const { echoCancellation, noiseSuppression, autoGainControl } = track.getSettings();
  try {
    const context = await audioContext();
    return {
      node: context.createMediaStreamSource(stream),
      capture: {
        echoCancellation,
        noiseSuppression,
        autoGainControl,
        device: track.label,
        browser: navigator.userAgent,
      },
      start() {},
      close: () => closeAll(stream),
      whole: false, // If it ends by itself, it was taken away.
      onLost: (tell) => track.addEventListener("ended", tell),
      isMuted: () => track.muted,
      onMuted: (tell, signal) => track.addEventListener("mute", tell, { signal }),
    };
  } catch (error) {
    closeAll(stream);
    throw error;
  }
}

/** The simulated microphone: a voice made on the server, played into the same worklet. */
export async function openSimulated(url) {
  const context = await audioContext();
  const response = await fetch(url, { signal: AbortSignal.timeout(FETCHES_MS * 3) });
  if (!response.ok) throw new Error("no simulated voice");
  const node = context.createBufferSource();
  node.buffer = await context.decodeAudioData(await response.arrayBuffer());
  return {
    node,
    capture: { device: "simulated voice", browser: navigator.userAgent },
    start: () => node.start(),
    close() {},
    whole: true, // If it ends by itself, it is over.
    onLost: (tell) => node.addEventListener("ended", tell),
    isMuted: () => false,
    onMuted() {},
  };
}

/** Reports gaps in the sound: the page is in the background, or the device took the sound away. */
export function onGaps(tell, signal) {
  document.addEventListener("visibilitychange", () => document.hidden && tell(), { signal });
  context?.addEventListener("statechange", () => context.state !== "running" && tell(), { signal });
}

/** Records a source until `stop`; each block goes to `onBlock` as 16-bit samples. */
export async function record(source, workletUrl, onBlock) {
  const context = await audioContext();
  await withTimeout(prepareRecorder(workletUrl), FETCHES_MS, "NoRecorder");
  const node = new AudioWorkletNode(context, "recorder", {
    numberOfInputs: 1,
    numberOfOutputs: 1,
    channelCount: 1,
    channelCountMode: "explicit",
  });
  let allIn;
  const finished = new Promise((resolve) => (allIn = resolve));
  node.port.onmessage = ({ data }) => (data === null ? allIn() : onBlock(asIntegers(data)));
  source.node.connect(node);
  node.connect(context.destination); // Its output is silent, but unconnected it would not run.
  source.start();
  return {
    rate: context.sampleRate,
    beganAt: context.currentTime,
    // Output latency: how much later than scheduled a sound is audible.
    lateBy: context.outputLatency || context.baseLatency || 0,
    async stop() {
      node.port.postMessage("stop");
      await withTimeout(finished, DRAINS_MS, "Drained").catch(() => {}); // A sleeping output plays nothing.
      node.port.onmessage = null;
      source.node.disconnect();
      node.disconnect();
      source.close();
    },
  };
}

function asIntegers(floats) {
  const integers = new Int16Array(floats.length);
  for (let i = 0; i < floats.length; i++) {
    integers[i] = Math.round(Math.max(-1, Math.min(1, floats[i])) * 32767);
  }
  return integers;
}
