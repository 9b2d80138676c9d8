// The task that a user means comes first for the words typed.

import assert from "node:assert/strict";
import { test } from "node:test";

import { search } from "../../web/programmes/static/programmes/js/palette.js";

const TASKS = [
  { name: "Straw in air, one note", also: "semi-occluded voicing straw straw 6mm straw hold" },
  { name: "Puffed cheeks, one note", also: "semi-occluded voicing puffed cheek hold" },
  { name: "Growing numbers", also: "range voice pattern growing numbers" },
  { name: "One to ten, getting louder", also: "loudness growing count" },
  { name: "Descending hum", also: "cool-down hum down" },
  { name: "Hum, one note", also: "semi-occluded voicing hum hum hold" },
];
const names = (typed) => search(TASKS, typed).map(({ task }) => task.name);

test("the word itself comes before a word that begins so, and the name before the rest", () => {
  assert.deepEqual(names("growing"), ["Growing numbers", "One to ten, getting louder"]);
  assert.deepEqual(names("hum"), ["Hum, one note", "Descending hum"]);
  assert.equal(names("puff")[0], "Puffed cheeks, one note");
});

test("every word has to be found, by the name, the sound or the family", () => {
  assert.deepEqual(names("straw 6mm"), ["Straw in air, one note"]);
  assert.deepEqual(names("semi hum"), ["Hum, one note"]);
  assert.deepEqual(names("straw growing"), []);
});

test("nothing typed finds all, as the catalogue has them", () => {
  assert.deepEqual(
    names("  "),
    TASKS.map(({ name }) => name),
  );
});

const CALLED = [
  { name: "Strong “ah”", also: "loudness ah", synonyms: ["loud ah", "projection"] },
  { name: "Hum, one note", also: "hum hold", synonyms: ["humming", "nasal hum"] },
  { name: "Soft descending hum", also: "cool-down hum", synonyms: ["cool down"] },
];

test("a phrase that practitioners use comes first, and says so", () => {
  const [first] = search(CALLED, "humming");
  assert.equal(first.task.name, "Hum, one note");
  assert.equal(first.by, "humming");
  assert.equal(search(CALLED, "Cool  Down")[0].task.name, "Soft descending hum");
  assert.equal(search(CALLED, "loud")[0].by, "loud ah");
});

test("a task that is found by its own name needs no explanation", () => {
  assert.deepEqual(
    search(CALLED, "hum").map(({ by }) => by),
    ["", ""],
  );
});
