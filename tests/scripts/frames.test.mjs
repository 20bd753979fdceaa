// Frames and seconds of a clip: what is asked for is what is found, also where times are uneven.
import assert from "node:assert/strict";
import test from "node:test";

import { Frames } from "../../src/norvik/web/static/js/frames.js";

const even = new Frames({
  first: 10,
  last: 20,
  whole: true,
  rate: { num: 60, den: 1 },
  start: 0.5,
  interval: 0.1,
  stretches: [[0, 1]],
  media_start: 2,
});
const uneven = new Frames({
  first: 0,
  last: 4,
  whole: true,
  rate: { num: 30, den: 1 },
  times: [0, 0.1, 0.15, 0.4, 0.5],
  stretches: [
    [0, 4],
    [2, 1],
  ],
  media_start: 0,
});

test("the nearest frame is nearer than its neighbours", () => {
  for (const frames of [even, uneven]) {
    for (let s = -0.2; s < 2; s += 0.013) {
      const found = frames.nearest(s);
      for (let f = frames.first; f <= frames.last; f += 1) {
        assert.ok(Math.abs(frames.time(found) - s) <= Math.abs(frames.time(f) - s) + 1e-12);
      }
    }
  }
});

test("frames outside the clip are its ends", () => {
  assert.equal(even.clamp(3), 10);
  assert.equal(even.clamp(99), 20);
  assert.equal(even.time(99), even.time(20));
});

test("slow motion stretches the file's own clock where it is in force", () => {
  assert.equal(uneven.factor(1), 4);
  assert.equal(uneven.factor(3), 1);
  assert.ok(Math.abs(uneven.media(2) - 0.15 * 4) < 1e-12);
  assert.ok(Math.abs(uneven.media(4) - (0.15 * 4 + 0.35)) < 1e-12);
});
