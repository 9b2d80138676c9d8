// Runs on the audio thread: collects the input and passes it on unchanged.

const BLOCK = 1024; // About 21 ms at 48 kHz: part of the delay between voice and reed.

class Recorder extends AudioWorkletProcessor {
  constructor() {
    super();
    this.block = new Float32Array(BLOCK);
    this.filled = 0;
    this.port.onmessage = () => {
      this.port.postMessage(this.block.slice(0, this.filled));
      this.filled = 0;
      this.port.postMessage(null); // Nothing comes after this.
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
