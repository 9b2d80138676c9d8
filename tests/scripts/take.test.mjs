// A take keeps every sample until the server has all of them, however often the connection breaks.

import assert from "node:assert/strict";
import { afterEach, beforeEach, mock, test } from "node:test";

import { Take, TakeLine } from "../../web/sound/static/sound/js/take.js";
import { withTimeout } from "../../web/sound/static/sound/js/recorder.js";
import { Clock, settled } from "./page.mjs";

const sockets = [];
let clock;
class Socket {
  constructor(url) {
    Object.assign(this, { url, out: [] });
    sockets.push(this);
  }
  send(data) {
    this.out.push(typeof data === "string" ? JSON.parse(data) : data);
  }
  close() {
    this.isClosed = true;
  }
  hears(message) {
    this.onmessage({ data: JSON.stringify(message) });
  }
  /** Samples sent, by the number before each chunk. */
  get samples() {
    return this.out
      .filter((each) => each instanceof ArrayBuffer)
      .map((each) => [new DataView(each).getUint32(0, true), ...new Int16Array(each, 4)]);
  }
}

beforeEach(() => {
  sockets.length = 0;
  globalThis.WebSocket = Socket;
  clock = new Clock();
  let now = 0;
  mock.method(performance, "now", () => (now += 1));
});
afterEach(() => {
  clock.stop();
  mock.restoreAll();
});

function line(rate = 10) {
  const heard = [];
  const names = ["ready", "frames", "saved", "refused", "busy", "lost", "closed"];
  const on = Object.fromEntries(names.map((name) => [name, (message) => heard.push([name, message])]));
  const take = new Take(rate);
  return { take, heard, line: new TakeLine("wss://here/take/", take, { role: "" }, on) };
}

const block = (...values) => Int16Array.from(values);

test("chunks follow one another without a gap, and never hold more than they may", () => {
  const take = new Take(48_000);
  take.add(block(1, 2, 3));
  take.add(block(4, 5));
  const { chunk, next } = take.chunkFrom(2);
  assert.deepEqual([...new Int16Array(chunk, 4)], [3, 4, 5]);
  assert.equal(new DataView(chunk).getUint32(0, true), 2);
  assert.equal(next, 5);
  assert.equal(take.chunkFrom(5), null);
  take.add(new Int16Array(16_384));
  assert.ok(take.chunkFrom(0).next <= 5 + 16_384);
});

test("after a break everything that the server has not is sent again", () => {
  const { take, line: way } = line();
  sockets[0].onopen();
  assert.equal(sockets[0].out[0].key, take.key);
  take.add(block(1, 2, 3));
  way.flush();
  assert.deepEqual(sockets[0].samples, []); // No server answers yet.
  sockets[0].hears({ type: "ready" });
  assert.deepEqual(sockets[0].samples, [[0, 1, 2, 3]]);
  sockets[0].onclose({ code: 1006 });
  take.add(block(4));
  clock.tick(400);
  assert.equal(sockets.length, 2);
  sockets[1].hears({ type: "ready" });
  assert.deepEqual(sockets[1].samples, [[0, 1, 2, 3, 4]]);
  sockets[1].hears({ type: "resend", from: 3 });
  assert.deepEqual(sockets[1].samples.at(-1), [3, 4]);
});

test("the stop says how many samples there are, once, and after the last of them", () => {
  const { take, line: way } = line();
  sockets[0].hears({ type: "ready" });
  take.add(block(7));
  way.stop();
  way.flush();
  const said = sockets[0].out.filter((each) => each.type === "stop");
  assert.deepEqual(said, [{ type: "stop", samples: 1 }]);
  assert.ok(sockets[0].out.at(-1).type === "stop");
});

test("a server that answers nothing is as good as away", () => {
  const { take, line: way, heard } = line();
  sockets[0].hears({ type: "ready" });
  performance.now.mock.mockImplementation(() => 60_000);
  take.add(block(1));
  way.flush();
  assert.ok(sockets[0].isClosed);
  assert.deepEqual(heard.at(-1)[0], "lost");
});

test("a door that is closed is not knocked at again", () => {
  const { heard } = line();
  sockets[0].onclose({ code: 4404 });
  clock.tick(60_000);
  assert.equal(sockets.length, 1);
  assert.equal(heard.at(-1)[0], "closed");
});

test("what was saved ends the line, and a word after it is not heard", () => {
  const { heard } = line();
  sockets[0].hears({ type: "saved", trial: 1 });
  sockets[0].hears({ type: "frames" });
  assert.deepEqual(
    heard.map(([name]) => name),
    ["saved"],
  );
  assert.ok(sockets[0].isClosed);
});

test("nothing of the recorder is waited for for ever", async () => {
  let failed = null;
  withTimeout(new Promise(() => {}), 2500, "AudioAsleep").catch((error) => (failed = error.name));
  clock.tick(2499);
  await settled();
  assert.equal(failed, null);
  clock.tick(1);
  await settled();
  assert.equal(failed, "AudioAsleep");
});
