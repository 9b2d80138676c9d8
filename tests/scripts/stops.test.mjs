// Stop reports: stored at once, readable until encrypted, and never given up for the encryption.

import assert from "node:assert/strict";
import { afterEach, beforeEach, test } from "node:test";

import { Clock, settled } from "./page.mjs";
import { Stops } from "../../web/practice/static/practice/js/stops.js";

const NAME = "still-reed:stops";
let clock, kept, asked;
beforeEach(() => {
  [clock, kept, asked] = [new Clock(), new Map(), []];
  globalThis.localStorage = {
    getItem: (name) => kept.get(name) ?? null,
    setItem: (name, text) => kept.set(name, text),
  };
});
afterEach(() => clock.stop());

/** A clinic that gives these answers in turn, and then repeats the last one. */
function clinic(...answers) {
  globalThis.fetch = async (_, { body }) => {
    asked.push(JSON.parse(body));
    const given = answers.length > 1 ? answers.shift() : answers[0];
    if (given === "gone") throw new TypeError("no network");
    const { status = 200, body: said = {} } = given;
    return { ok: status < 300, status, json: async () => said };
  };
}

const seal = { asText: async ({ flags }) => `sealed ${flags.length}` };
const opened = (with_ = seal, epoch = "first") =>
  new Stops({
    owner: "home:1",
    url: "/stop/",
    page: "token",
    days: 14,
    epoch,
    seal: with_,
    on: { changed() {}, closed() {} },
  });
const lying = () => JSON.parse(kept.get(NAME));

test("it lies there at once, then sealed, and goes from the next page as it lies", async () => {
  clinic("gone");
  opened().say({ flags: ["new_pain"], session: "s" });
  assert.deepEqual(lying()[0].flags, ["new_pain"]); // It did not wait for the encryption.
  await settled();
  const [row] = lying();
  assert.deepEqual([row.flags, row.session, row.sealed], [undefined, undefined, "sealed 1"]);
  assert.deepEqual(asked[0].flags, ["new_pain"]); // This page knows it, and sends it in the open.

  clinic({});
  opened().retryNow();
  await settled();
  assert.deepEqual([asked.at(-1).sealed, asked.at(-1).flags], ["sealed 1", undefined]);
  assert.deepEqual(lying(), []);
});

test("where nothing can be sealed it stays as it is, and arrives", async () => {
  clinic("gone", {});
  opened({ asText: () => Promise.reject(new Error("no key")) }).say({ flags: ["strain"] });
  await settled();
  assert.deepEqual(lying()[0].flags, ["strain"]);
  clock.tick(1000);
  await settled();
  assert.deepEqual(lying(), []);
});

test("a server that knows no seal has refused nothing; one that opened it has", async () => {
  const row = { owner: "home:1", page: "token", key: "k", at: "2026-11-27T08:00:00Z", sealed: "x" };
  kept.set(NAME, JSON.stringify([row]));
  clinic({ status: 422, body: { sentence: "Nothing was said to be wrong." } }, {});
  const stops = opened();
  stops.retryNow();
  await settled();
  assert.equal(stops.waiting, 1);
  clock.tick(1000);
  await settled();
  assert.deepEqual([stops.waiting, asked.length], [0, 2]);

  kept.set(NAME, JSON.stringify([row]));
  clinic({ status: 422, body: { state: "refused" } });
  const refused = opened();
  refused.retryNow();
  await settled();
  assert.deepEqual([refused.waiting, refused.list[0].refused], [0, 422]);
});

test("after a restore a stop that had arrived goes once more, sealed", async () => {
  clinic({ body: { epoch: "first" } });
  opened().say({ flags: ["new_pain"], session: "s" });
  await settled();
  assert.equal(asked.length, 1);
  clinic({ body: { epoch: "second" } });
  const later = opened(seal, "second");
  later.retryNow();
  await settled();
  assert.deepEqual([asked.length, asked[1].sealed, asked[1].key], [2, "sealed 1", asked[0].key]);
  opened(seal, "second").retryNow();
  await settled();
  assert.equal(asked.length, 2);
});
