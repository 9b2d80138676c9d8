// The strength of a password, in words.

import assert from "node:assert/strict";
import { test } from "node:test";

import { strength } from "../../web/accounts/static/accounts/js/passwords.js";

test("a password says what it lacks", () => {
  assert.equal(strength(""), "");
  assert.match(strength("reed"), /8 more characters/);
  assert.match(strength("aaaaaaaaaaaaaa"), /too few different/);
  assert.match(strength("quiet-water1"), /fair/);
  assert.equal(strength("quiet-water-reeds"), "good");
  assert.equal(strength("harbour lantern seven reeds"), "strong");
});
