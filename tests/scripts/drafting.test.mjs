// Edits that the composer sends: in order, each once, none lost.

import assert from "node:assert/strict";
import { afterEach, beforeEach, test } from "node:test";

import { drafting } from "../../web/programmes/static/programmes/js/drafting.js";
import { Clock, settled } from "./page.mjs";

let clock;
beforeEach(() => (clock = new Clock()));
afterEach(() => clock.stop());

function desk(...answers) {
  const sent = [];
  const seen = { stages: [], words: [], not: [], looks: 0 };
  let look = { ok: true, status: 204, body: null };
  const way = {
    send: async (body) => {
      sent.push(body.edits.map((each) => [each.number, each.seen, each.edit.do]));
      const given = answers.length > 1 ? answers.shift() : answers[0];
      return typeof given === "function" ? given() : given;
    },
    look: async () => (seen.looks++, look),
    show: (stage) => seen.stages.push(stage),
    tell: (words) => seen.words.push(words),
    busy: (on) => (seen.busy = on),
    notMade: (edit, why) => seen.not.push([edit.do, why.sentence]),
  };
  return { draft: drafting(way, 5), sent, seen, looksLike: (next) => (look = next) };
}

const taken = (edition, not_made = []) => ({
  ok: true,
  status: 200,
  body: { edition, stage: `<stage ${edition}>`, not_made },
});

test("edits made while one is on its way go together after it, with what stood when they were made", async () => {
  let answer;
  const slow = () => new Promise((resolve) => (answer = resolve));
  const { draft, sent, seen } = desk(slow, taken(8));
  draft.make({ do: "a" });
  draft.make({ do: "b" });
  draft.make({ do: "c" });
  answer(taken(6));
  assert.equal(await draft.settle(), true);
  assert.deepEqual(sent, [
    [[1, 5, "a"]],
    [
      [2, 5, "b"],
      [3, 5, "c"],
    ],
  ]);
  assert.deepEqual(seen.stages, ["<stage 8>"]); // No state older than the edits being sent.
  assert.deepEqual([draft.edition, draft.waits, seen.busy], [8, 0, false]);
});

test("without a connection they wait, are said, and go by themselves with the same numbers", async () => {
  const { draft, sent, seen } = desk(null, { ok: false, status: 502, body: null }, taken(7));
  assert.equal(await draft.make({ do: "a" }), false);
  assert.match(seen.words.at(-1), /^No connection: 1 change is waiting on this page/);
  clock.tick(3000);
  await settled();
  assert.match(seen.words.at(-1), /^The server is not available: 1 change is waiting/);
  clock.tick(3000);
  await settled();
  assert.deepEqual(sent, [[[1, 5, "a"]], [[1, 5, "a"]], [[1, 5, "a"]]]);
  assert.deepEqual([seen.words.at(-1), draft.waits], ["", 0]);
});

test("what cannot be read is told and not sent again", async () => {
  const { draft, sent, seen } = desk({ ok: false, status: 422, body: { sentence: "Torn." } }, taken(6));
  assert.equal(await draft.make({ do: "a" }), false);
  assert.equal(await draft.make({ do: "b" }), true);
  assert.deepEqual(sent, [[[1, 5, "a"]], [[2, 5, "b"]]]);
  assert.ok(seen.words.includes("Torn."));
});

test("what was not made is told with its edit", async () => {
  const why = [{ number: 1, sentence: "Somebody has moved it." }];
  const { draft, seen } = desk(taken(6, why));
  await draft.make({ do: "a" });
  assert.deepEqual(seen.not, [["a", "Somebody has moved it."]]);
});

test("a quiet page looks now and then, and shows what others have changed", async () => {
  const { seen, draft, looksLike } = desk(taken(6));
  clock.tick(4000);
  await settled();
  assert.deepEqual([seen.looks, seen.stages.length], [1, 0]);
  looksLike(taken(9));
  clock.tick(4000);
  await settled();
  assert.deepEqual([seen.stages, draft.edition], [["<stage 9>"], 9]);
});

test("to be drawn again needs no edit", async () => {
  const { draft, sent, seen } = desk(taken(5));
  await draft.drawn();
  assert.deepEqual([sent, seen.stages], [[[]], ["<stage 5>"]]);
});
