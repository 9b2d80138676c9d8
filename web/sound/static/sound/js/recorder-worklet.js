// Runs on the audio thread: gathers what comes in and passes it on, untouched.

const BLOCK = 1024; // about 21 ms at 48 kHz: a part of what the reed may lag behind the voice

class Recorder extends AudioWorkletProcessor {
  constructor() {
    super();
    this.block = new Float32Array(BLOCK);
    this.filled = 0;
    this.port.onmessage = () => {
      this.port.postMessage(this.block.slice(0, this.filled));
      this.filled = 0;
      this.port.postMessage(null); // nothing comes after this
      this.over = true;
    };
  }

  process(inputs) {
    const channel = inputs[0][0];
    if (!channel) return !this.over;
    for (let at = 0; at < channel.length;) {
      const part = channel.subarray(at, at + BLOCK - this.filled);
      this.block.set(part, this.filled);
      this.filled += part.length;
      at += part.length;
      if (this.filled === BLOCK) {
        this.port.postMessage(this.block.slice());
        this.filled = 0;
      }
    }
    return !this.over;
  }
}

registerProcessor("recorder", Recorder);
