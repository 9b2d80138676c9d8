// A gentler day asks for the seconds that the rules give, in steps of half a second.

import assert from "node:assert/strict";
import { execFileSync } from "node:child_process";
import { test } from "node:test";

import { secondsToday } from "../../web/practice/static/practice/js/gentler.js";

const RULE = { share: 0.8, step_s: 0.5 };
const asked = (seconds, rest = {}) =>
  secondsToday({ day: "gentler", inSeconds: true, seconds, ...rest }, RULE);

test("each tenth up to ninety seconds is as the core has it", () => {
  const script =
    "from reedcore.dose.today import gentler_s; print(*(gentler_s(n / 10) for n in range(5, 901)))";
  const told = execFileSync("python3", ["-c", script], { encoding: "utf-8" }).trim().split(" ");
  told.forEach((s, at) => assert.equal(asked((at + 5) / 10), Number(s), `${(at + 5) / 10} s`));
});

test("any other day, and what is not asked in seconds, stays as it is", () => {
  assert.equal(asked(10, { day: "usual" }), 10);
  assert.equal(asked(10, { inSeconds: false }), 10);
  assert.equal(asked(null), null);
});
