// The outbox: each entry has a fate of its own, and none is lost.

import assert from "node:assert/strict";
import { afterEach, beforeEach, test } from "node:test";

import { Clock, Clinic, Kept, settled } from "./page.mjs";
import { Outbox } from "../../web/practice/static/practice/js/outbox.js";

let clock;
beforeEach(() => (clock = new Clock()));
afterEach(() => clock.stop());

async function opened(store = new Kept()) {
  const told = { refused: [], arrived: [], closed: [], unkept: [] };
  const on = {
    changed() {},
    arrived: (entry) => told.arrived.push(entry.key),
    refused: (entry, sentence) => told.refused.push([entry.key, sentence]),
    closed: (sentence) => told.closed.push(sentence),
    unkept: (entry) => told.unkept.push(entry.key),
  };
  const box = await new Outbox({ owner: "home:1", url: "/entries/", page: "token", store, on }).open();
  await settled();
  return { box, told, store };
}

const told = (key) => ({ kind: "told", key });
const sound = { recording: new Blob(["sound"]) };

async function pass(ms) {
  clock.tick(ms);
  await settled();
}

test("what the clinic has is off the device, and counted once", async () => {
  new Clinic({});
  const { box, told: said, store } = await opened();
  await box.put(told("a"));
  await settled();
  assert.deepEqual(said.arrived, ["a"]);
  assert.equal(store.rows.size, 0);
  assert.deepEqual([box.waiting, box.sent], [0, 1]);
});

test("without a network it waits, longer each time, and goes as soon as the line is back", async () => {
  const clinic = new Clinic("gone", "gone", {});
  const { box } = await opened();
  await box.put(told("a"));
  await settled();
  assert.deepEqual([box.line, box.waiting, clinic.asked.length], ["away", 1, 1]);
  await pass(799);
  assert.equal(clinic.asked.length, 1);
  await pass(1);
  assert.equal(clinic.asked.length, 2);
  box.hurry(); // the browser says that it is online
  await settled();
  assert.deepEqual([box.line, box.waiting], ["open", 0]);
});

test("words do not wait for a sound that the clinic cannot take now", async () => {
  const clinic = new Clinic({ status: 503 }, {});
  const { box, told: said } = await opened();
  await box.put({ kind: "sound", key: "s" }, sound);
  await settled();
  await box.put(told("a"));
  await settled();
  assert.deepEqual(said.arrived, ["a"]);
  assert.equal(box.waiting, 1);
  await pass(60_000);
  assert.deepEqual(said.arrived, ["a", "s"]);
  assert.equal(clinic.asked.at(-1).how.headers["X-CSRFToken"], "token");
});

test("a pause that the clinic asks for holds for all of a kind", async () => {
  const clinic = new Clinic({ status: 429, headers: { "Retry-After": "20" } }, {});
  const { box } = await opened();
  await box.put(told("a"));
  await settled();
  await box.put(told("b"));
  await pass(19_000);
  assert.equal(clinic.asked.length, 1);
  await pass(2_000);
  assert.equal(box.waiting, 0);
});

test("what is refused stays here with its sentence, and nothing after it is held up", async () => {
  new Clinic({ status: 422, body: { sentence: "No such task." } }, {});
  const { box, told: said, store } = await opened();
  await box.put(told("bad"));
  await box.put(told("good"));
  await settled();
  assert.deepEqual(said.refused, [["bad", "No such task."]]);
  assert.deepEqual(said.arrived, ["good"]);
  assert.equal([...store.rows.values()][0].refused, "No such task.");
  await box.dropRefused();
  assert.equal(store.rows.size, 0);
});

test("a sound that is too large says so", async () => {
  new Clinic({ status: 413 });
  const { box, told: said } = await opened();
  await box.put({ kind: "sound", key: "s" }, sound);
  await settled();
  assert.deepEqual(said.refused, [["s", "It is too large to be sent."]]);
});

test("signed out, nothing is refused; after the next sign-in it goes", async () => {
  new Clinic({ status: 200, type: "opaqueredirect", body: null }, {});
  const { box, told: said } = await opened();
  await box.put(told("a"));
  await settled();
  assert.deepEqual([box.line, box.waiting, said.refused.length], ["signed_out", 1, 0]);
  await pass(30_000);
  assert.deepEqual(said.arrived, ["a"]);
});

test("a closed link ends the sending, and what waits stays", async () => {
  const clinic = new Clinic({ status: 410, body: { state: "closed", sentence: "Closed." } });
  const { box, told: said } = await opened();
  await box.put(told("a"));
  await settled();
  box.hurry();
  await pass(120_000);
  assert.deepEqual(said.closed, ["Closed."]);
  assert.equal(clinic.asked.length, 1);
  assert.equal(box.waiting, 1);
});

test("a full store costs nobody the result: it goes from memory, and is said", async () => {
  new Clinic({});
  const { box, told: said } = await opened(new Kept({ full: true }));
  await box.put(told("a"));
  await settled();
  assert.deepEqual([said.unkept, said.arrived], [["a"], ["a"]]);
});

test("what is held waits for its release; held by a page that is gone, it goes at once", async () => {
  new Clinic({});
  const { box, told: said } = await opened();
  const kept = await box.put({ kind: "ended", key: "e" }, { held: true });
  await settled();
  assert.deepEqual([said.arrived.length, box.waiting], [0, 0]);
  box.release(kept);
  await settled();
  assert.deepEqual(said.arrived, ["e"]);
  const entries = [{ owner: "home:1", entry: told("old"), held: true, tries: 0, next: 0 }];
  const { told: later } = await opened(new Kept({ entries }));
  assert.deepEqual(later.arrived, ["old"]);
});

test("another person's entries on the same device are left alone", async () => {
  const clinic = new Clinic({});
  const entries = [{ owner: "home:2", entry: told("theirs"), held: false, tries: 0, next: 0 }];
  const { store } = await opened(new Kept({ entries }));
  assert.equal(clinic.asked.length, 0);
  assert.equal(store.rows.size, 1);
});
