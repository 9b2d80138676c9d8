// A take: its key, its sound so far, and its connection to the server, however often that breaks.

const HEADER_BYTES = 4;
const LARGEST_CHUNK = 16384; // samples
const SENT_EVERY_S = 0.06; // A message costs the same at any length.
const FROZEN_MS = 5000; // Without an answer for this long, the server counts as away.
const ANSWERS_MS = 20000; // Maximum time to measure the whole take.
const FIRST_WAIT_MS = 400;
const LONGEST_WAIT_MS = 8000;

/** The recording, kept here until the server has it. */
export class Take {
  constructor(rate) {
    this.key = crypto.randomUUID();
    this.rate = rate;
    this.blocks = [];
    this.samples = 0;
  }

  add(block) {
    this.blocks.push({ from: this.samples, block });
    this.samples += block.length;
  }

  /** The next chunk from a sample on, with its number in front; null when all is sent. */
  chunkFrom(sample) {
    if (sample >= this.samples) return null;
    const parts = [];
    let count = 0;
    for (const { from, block } of this.blocks) {
      if (from + block.length <= sample) continue;
      const part = block.subarray(Math.max(0, sample - from));
      if (count && count + part.length > LARGEST_CHUNK) break;
      parts.push(part);
      count += part.length;
    }
    const chunk = new ArrayBuffer(HEADER_BYTES + 2 * count);
    new DataView(chunk).setUint32(0, sample, true);
    const samples = new Int16Array(chunk, HEADER_BYTES);
    let at = 0;
    for (const part of parts) {
      samples.set(part, at);
      at += part.length;
    }
    return { chunk, next: sample + count };
  }
}

/** Sends a take to the server. `on` has ready, frames, saved, refused, busy, lost and closed. */
export class TakeLine {
  constructor(url, take, details, on) {
    this.url = url;
    /** @type {Take} */
    this.take = take;
    this.details = details;
    this.on = on;
    this.wait = FIRST_WAIT_MS;
    this.over = false;
    this.stopping = false;
    this.open();
  }

  open() {
    this.isReady = false;
    this.sent = 0;
    this.stopSaid = false;
    this.answeredAt = performance.now();
    this.socket = new WebSocket(this.url);
    this.socket.binaryType = "arraybuffer";
    this.socket.onopen = () =>
      this.say({ type: "begin", key: this.take.key, rate: this.take.rate, ...this.details });
    this.socket.onmessage = ({ data }) => this.heard(JSON.parse(data));
    this.socket.onclose = ({ code }) => this.closed(code);
  }

  /** Sends new samples; called whenever sound was added. */
  flush() {
    if (this.over) return;
    // The socket may be open while the server is frozen: then the connection counts as away.
    if (this.socket && performance.now() - this.answeredAt > FROZEN_MS) return this.drop();
    if (!this.isReady) return;
    if (!this.stopping && this.take.samples - this.sent < SENT_EVERY_S * this.take.rate) return;
    for (let next; (next = this.take.chunkFrom(this.sent)); this.sent = next.next) {
      this.socket.send(next.chunk);
    }
    if (this.stopping && !this.stopSaid) {
      this.stopSaid = true;
      this.say({ type: "stop", samples: this.take.samples });
    }
  }

  /** The sound is complete: save it. */
  stop() {
    this.stopping = true;
    this.answeredAt = performance.now();
    this.flush();
    clearInterval(this.watching);
    this.watching = setInterval(() => this.watch(), 1000);
  }

  /** After the last sound, nothing else checks whether the server still answers. */
  watch() {
    if (this.over) clearInterval(this.watching);
    else if (this.socket && performance.now() - this.answeredAt > ANSWERS_MS) this.drop();
  }

  /** Treat it as a broken connection: a frozen server does not even close it. */
  drop() {
    const socket = this.socket;
    socket.onclose = socket.onmessage = null;
    socket.close();
    this.closed(0);
  }

  /** Discards the take; nothing is saved. */
  abandon() {
    this.over = true;
    clearInterval(this.watching);
    this.socket?.close();
  }

  say(message) {
    this.socket.send(JSON.stringify(message));
  }

  heard(message) {
    if (this.over) return;
    this.answeredAt = performance.now();
    if (message.type === "ready") {
      this.isReady = true;
      this.wait = FIRST_WAIT_MS;
      this.on.ready();
      this.flush();
    } else if (message.type === "frames") {
      this.on.frames(message);
    } else if (message.type === "resend") {
      this.sent = message.from;
      this.stopSaid = false;
      this.flush();
    } else {
      this.over = true;
      this.on[message.type](message); // Saved, rejected or busy.
      this.socket.close();
    }
  }

  closed(code) {
    this.socket = null;
    this.isReady = false;
    if (this.over) return;
    if (code === 4404 || code === 4400 || code === 4413) {
      this.over = true;
      this.on.closed();
      return;
    }
    this.on.lost();
    setTimeout(() => this.over || this.open(), this.wait);
    this.wait = Math.min(this.wait * 2, LONGEST_WAIT_MS);
  }
}
