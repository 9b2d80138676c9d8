// The course of a session: a stop is never lost, and an interrupted part does nothing more.

import assert from "node:assert/strict";
import { test } from "node:test";

import { Interrupted } from "../../web/practice/static/practice/js/interrupt.js";
import { Practice } from "../../web/practice/static/practice/js/practice.js";
import { Kept, settled } from "./page.mjs";

function practising() {
  const practice = new Practice({ paused: false }, { emergency: "112", stages: new Map() });
  const store = new Kept();
  const put = [];
  practice.session = { key: "s" };
  practice.outbox = {
    put: async (entry) => put.push(entry),
    remember: (name, value) => store.remember(name, value),
  };
  practice.day = { endLoud: async () => put.push({ kind: "day" }) };
  practice.progress = {
    order: [],
    place: 0,
    at: { turn: 0, try: 0 },
    asked: false,
    safe: true,
    done: 0,
    skipped: 0,
  };
  return { practice, put, store };
}

const what = (promise) =>
  promise.then(
    () => "went on",
    (reason) => reason.what,
  );

test("an entry carries its session, its time and a key of its own", async () => {
  const { practice, put } = practising();
  await practice.mark("comment", "tired", { turns: [{ task: 7 }] });
  await practice.mark("bother", 3);
  assert.deepEqual(
    put.map(({ kind, mark, value, task, session }) => [kind, mark, value, task, session.key]),
    [
      ["mark", "comment", "tired", 7, "s"],
      ["mark", "bother", 3, null, "s"],
    ],
  );
  assert.notEqual(put[0].key, put[1].key);
  assert.ok(Date.parse(put[0].at));
});

test("how far it went is remembered with its session", async () => {
  const { practice, store } = practising();
  await practice.reached({ turn: 1, try: 2 });
  assert.deepEqual(store.state.get("progress").at, { turn: 1, try: 2 });
  assert.equal(store.state.get("progress").session.key, "s");
  await practice.saveProgress(null);
  assert.equal(store.state.get("progress"), null);
});

test("a part that is interrupted keeps what it had begun and goes no further", async () => {
  const { practice, put } = practising();
  practice.interrupt.arm();
  const part = practice.forPart();
  const going = (async () => {
    await part.mark("felt", "easy");
    await part.mark("effort", 3);
  })();
  practice.interrupt.with("pause");
  practice.interrupt.arm(); // The pause continues, and can be interrupted itself.
  assert.equal(await what(going), "pause");
  assert.deepEqual(
    put.map(({ mark }) => mark),
    ["felt"],
  );
  assert.equal(await what(part.reached({ turn: 0, try: 1 })), "pause");
});

test("what a part sets is the practice's own", () => {
  const { practice } = practising();
  const part = practice.forPart();
  part.canRepeat = true;
  assert.equal(practice.canRepeat, true);
});

test("a stop on the heels of a pause is not lost, and is answered once", async () => {
  const { practice } = practising();
  const first = practice.interrupt.arm();
  practice.interrupt.with("pause");
  practice.interrupt.with("stop", { flag: "new_pain" });
  assert.equal(await what(first), "pause");
  const next = practice.interrupt.arm();
  const reason = await next.catch((each) => each);
  assert.ok(reason instanceof Interrupted);
  assert.deepEqual([reason.what, reason.flag], ["stop", "new_pain"]);
  practice.interrupt.taken(reason);
  const after = practice.interrupt.arm();
  assert.equal(await Promise.race([after, settled().then(() => "quiet")]), "quiet");
});
