// The metronome's instants: counted from the first by multiplying, so that no error adds up.
import assert from "node:assert/strict";
import test from "node:test";

import { beatAt } from "../../src/norvik/web/clip/scripts/beats.js";

test("the first beat is at nought and each comes one interval later", () => {
  assert.equal(beatAt(0, 0.8), 0);
  assert.equal(beatAt(1, 0.8), 0.8);
});

test("after ten minutes a beat is where multiplying puts it, to the last bit", () => {
  const interval = 60 / 57;
  for (const n of [1, 100, 569]) assert.equal(beatAt(n, interval), n * interval);
});
