// Strokes and lengths counted at the wall.
import assert from "node:assert/strict";
import test from "node:test";

import { LapCounter } from "../../src/norvik/web/swimmer/scripts/lap-counter.js";

function swum() {
  const counter = new LapCounter();
  counter.wall(1000);
  for (let n = 0; n < 18; n += 1) counter.stroke();
  counter.wall(22_400);
  for (let n = 0; n < 19; n += 1) counter.stroke();
  counter.wall(44_400);
  return counter;
}

test("each touch ends a length with its strokes and seconds", () => {
  assert.deepEqual(swum().lengths, [
    { seconds: 21.4, strokes: 18 },
    { seconds: 22, strokes: 19 },
  ]);
  assert.equal(swum().lines(), "21.4 18\n22.0 19");
  assert.equal(swum().testLines(), "18 21.4\n19 22.0");
});

test("strokes before the push-off and after the finish count for nothing", () => {
  const counter = new LapCounter();
  counter.stroke();
  assert.equal(counter.strokes, 0);
  const done = swum();
  done.finish();
  done.stroke();
  done.wall(60_000);
  assert.equal(done.lengths.length, 2);
  assert.equal(done.strokes, 0);
});

test("undo takes back a stroke, a touch and the push-off", () => {
  const counter = swum();
  counter.undo();
  assert.equal(counter.lengths.length, 1);
  assert.equal(counter.strokes, 19);
  assert.equal(counter.running(23_400), 1);
  counter.undo();
  assert.equal(counter.strokes, 18);
  while (counter.presses.length) counter.undo();
  assert.deepEqual([counter.lengths.length, counter.begun, counter.strokes], [0, null, 0]);
  counter.undo();
  assert.equal(counter.begun, null);
});

test("what was counted is the same after the page was closed", () => {
  const counter = swum();
  const again = LapCounter.restore(JSON.parse(JSON.stringify(counter.save())));
  again.stroke();
  again.wall(66_400);
  assert.equal(again.lines(), "21.4 18\n22.0 19\n22.0 1");
});
