// The short review: a stage under the thumb, and taps that carry the frame they were made on.

import { Stage, clock, loadFrames } from "./stage.js";
import { TRANSPORT_KEYS, connect, showState, transportActions } from "./transport.js";

const root = document.getElementById("short-stage");
const stage = new Stage(document.getElementById("film"), await loadFrames(root.dataset.frames));

// The frame of the press itself: by the time the answer is asked for the film has gone on.
let pressed = stage.first;
const remember = () => {
  pressed = stage.shown;
};
document.addEventListener("pointerdown", remember, true);
document.addEventListener("keydown", remember, true);
document.body.addEventListener("htmx:configRequest", (event) => {
  const { path, parameters } = /** @type {CustomEvent} */ (event).detail;
  if (!/\/short\/(tap|seen)$/.test(path)) return;
  parameters.frame = pressed;
});

const tap = () => {
  /** @type {HTMLElement | null} */ (document.querySelector('[data-do="tap"]'))?.click();
};
// The button itself is htmx's; only its key is handled here.
connect({ ...transportActions(stage), "tap-now": tap, tap: () => {} }, { ...TRANSPORT_KEYS, f: ["tap-now"] });
showState(stage, root, clock);
stage.setSpeed(0.5);
await stage.open(document.getElementById("still"));
await stage.goto(stage.first);
root.dataset.ready = "true";
window.norvik = { stage };
