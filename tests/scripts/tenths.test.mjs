// A clock on the device shows the same tenths as the server's sentence.

import assert from "node:assert/strict";
import { execFileSync } from "node:child_process";
import { test } from "node:test";

import { tenths } from "../../web/ui/static/ui/js/tenths.js";

test("each hundredth of forty seconds is written as Python writes it", () => {
  const script = "print('\\n'.join(f'{n / 100:.1f}' for n in range(4001)))";
  const told = execFileSync("python3", ["-c", script], { encoding: "utf-8" }).trim().split("\n");
  told.forEach((words, n) => assert.equal(tenths(n / 100), words, `${n / 100}`));
  assert.equal(told.length, 4001);
});
