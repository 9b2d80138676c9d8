// The outbox: each entry is sent, kept or rejected on its own, and none is lost.

import assert from "node:assert/strict";
import { afterEach, beforeEach, test } from "node:test";

import { Clock, Clinic, Kept, settled } from "./page.mjs";
import { Outbox } from "../../web/practice/static/practice/js/outbox.js";

let clock;
beforeEach(() => (clock = new Clock()));
afterEach(() => clock.stop());

/** Encrypts like the real one, as far as a caller can see: returns a new blob. */
const seal = {
  of: async (entry, sound) => new Blob([`sealed ${JSON.stringify(entry).length} ${sound?.size ?? 0}`]),
};

/** Entries that the clinic has acknowledged, as the store of receipts keeps them. */
class Acknowledged {
  rows = [];
  async add({ kind, key, at }, { receipt, epoch }) {
    if (receipt) this.rows.push({ id: key, kind, key, at, epoch, sealed: new Blob([receipt]) });
  }
  async fromOtherEpochs(epoch) {
    return this.rows.filter((each) => each.epoch !== epoch);
  }
  async remove(id) {
    this.rows = this.rows.filter((each) => each.id !== id);
  }
}

async function opened(store = new Kept(), { receipts = new Acknowledged(), epoch = "first" } = {}) {
  const told = { refused: [], arrived: [], closed: [], unkept: [] };
  const on = {
    changed() {},
    arrived: (kept) => told.arrived.push(kept.key),
    refused: (kept, sentence) => told.refused.push([kept.key, sentence]),
    closed: (sentence) => told.closed.push(sentence),
    unkept: (kept) => told.unkept.push(kept.key),
  };
  const urls = { url: "/entries/", openedUrl: "/entries/opened/" };
  const own = { owner: "home:1", page: "token", store, seal, receipts, epoch, on };
  const box = await new Outbox({ ...urls, ...own }).open();
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

test("an entry counts as waiting at once, while it is still being sealed", async () => {
  new Clinic({});
  const { box } = await opened();
  const seen = [];
  box.on.changed = () => seen.push(box.waiting);
  const put = box.put(told("a"));
  assert.deepEqual(seen, [1]);
  await put;
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
  box.retryNow(); // The browser reports that it is online.
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
  assert.deepEqual(said.refused, [["s", "It is too large to send."]]);
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
  box.retryNow();
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

/** The content of a store, as a person with the device could read it. */
const lying = (store) => JSON.stringify([...store.rows.values()]);

test("what waits on the device is sealed; an earlier page's goes as it lies there", async () => {
  const clinic = new Clinic("gone");
  const { box, store } = await opened();
  await box.put({ ...told("a"), figures: { minutes: 12 }, at: "2026-11-27T08:00:00Z" });
  await box.put({ kind: "sound", key: "s", at: "2026-11-27T08:01:00Z" }, sound);
  await settled();
  assert.doesNotMatch(lying(store), /figures|minutes/);
  assert.equal(store.rows.size, 2);
  for (const row of store.rows.values()) assert.deepEqual([row.entry, row.recording], [undefined, undefined]);
  assert.deepEqual(clinic.asked[0].entry.figures, { minutes: 12 }); // This page knows it, and sends it in the open.

  const after = new Clinic({});
  const entries = [...store.rows.values()];
  const { box: next, told: said } = await opened(new Kept({ entries }));
  assert.deepEqual(said.arrived.sort(), ["a", "s"]);
  assert.deepEqual([next.waiting, next.sent], [0, 2]);
  const sent = await Promise.all(after.asked.map(({ how }) => how.body.get("sealed").text()));
  assert.ok(sent.every((each) => each.startsWith("sealed ")));
  assert.ok(after.asked.every(({ how }) => !how.body.has("entry") && !how.body.has("recording")));
});

test("what the version before left readable is sealed, and goes", async () => {
  const old = {
    owner: "home:1",
    entry: { ...told("old"), figures: { minutes: 3 } },
    recording: null,
    held: false,
  };
  new Clinic("gone");
  const store = new Kept({ entries: [old] });
  const { box } = await opened(store);
  assert.doesNotMatch(lying(store), /minutes/);
  assert.equal(box.waiting, 1);
  new Clinic({});
  box.retryNow();
  await settled();
  assert.equal(store.rows.size, 0);
});

test("what cannot be sealed is not left there, and that is said", async () => {
  new Clinic("gone");
  const { box, told: said, store } = await opened();
  box.seal = { of: () => Promise.reject(new Error("no")) };
  await box.put(told("a"));
  assert.deepEqual([said.unkept, store.rows.size, box.waiting], [["a"], 0, 1]);
});

test("what was refused on an earlier page is opened by the clinic, or not at all", async () => {
  const entries = [{ owner: "home:1", kind: "sound", key: "s", refused: "No.", sealed: new Blob(["x"]) }];
  const clinic = new Clinic("gone");
  const { box } = await opened(new Kept({ entries }));
  assert.equal(await box.opened(box.refused[0]), undefined);
  new Clinic({ body: { entry: '{"kind": "sound"}', recording: "UklGRg==" } });
  assert.deepEqual(await box.opened(box.refused[0]), {
    entry: { kind: "sound" },
    recording: "data:audio/wav;base64,UklGRg==",
  });
  assert.equal(clinic.asked[0].url, "/entries/opened/");
});

test("a server that knows no seal has refused nothing; one that opened it has", async () => {
  const left = { owner: "home:1", kind: "told", key: "a", sounds: false, sealed: new Blob(["x"]), tries: 0 };
  new Clinic({ status: 422, body: { sentence: "This field is required." } }, {});
  const { box, told: said } = await opened(new Kept({ entries: [{ ...left }] }));
  assert.deepEqual([said.refused.length, box.waiting], [0, 1]);
  await pass(60_000);
  assert.deepEqual(said.arrived, ["a"]);

  new Clinic({ status: 422, body: { state: "refused", sentence: "No." } });
  const { told: after } = await opened(new Kept({ entries: [{ ...left }] }));
  assert.deepEqual(after.refused, [["a", "No."]]);
});

test("what the clinic had before a restore goes once more, as its receipt, and is counted once", async () => {
  const clinic = new Clinic({ body: { receipt: "r", epoch: "first" } });
  const { box, store } = await opened();
  const { receipts } = box;
  await box.put(told("a"));
  await settled();
  assert.deepEqual(
    receipts.rows.map(({ key, epoch }) => [key, epoch]),
    [["a", "first"]],
  );
  clinic.answers = [{ body: { receipt: "r", epoch: "second" } }];
  await box.put(told("b"));
  await settled();
  assert.equal(clinic.asked.length, 3); // a, b, and a once more.
  assert.equal(await clinic.asked.at(-1).how.body.get("sealed").text(), "r");
  assert.deepEqual(
    receipts.rows.map(({ epoch }) => epoch),
    ["second", "second"],
  );
  assert.deepEqual([box.waiting, box.sent, store.rows.size], [0, 2, 0]);
});

test("a page made after a restore offers what an earlier one had sent", async () => {
  const clinic = new Clinic({ body: { receipt: "r", epoch: "second" } });
  const receipts = new Acknowledged();
  await receipts.add(told("a"), { receipt: "r", epoch: "first" });
  const { box } = await opened(new Kept(), { receipts, epoch: "second" });
  assert.equal(clinic.asked.length, 1);
  assert.deepEqual([box.waiting, box.sent], [0, 0]);
});
