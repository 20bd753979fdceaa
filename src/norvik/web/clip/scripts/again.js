// Marking again, blind: a stage that is put near each event in turn, and one key that marks it.

import { Stage, clock, loadFrames } from "./stage.js";
import { TRANSPORT_KEYS, connect, showState, transportActions } from "./transport.js";

const root = document.getElementById("judge-stage");
const stage = new Stage(document.getElementById("film"), await loadFrames(root.dataset.frames));

document.body.addEventListener("htmx:configRequest", (event) => {
  if (event.detail.path.endsWith("/again/mark")) event.detail.parameters.frame = stage.shown;
});
document.body.addEventListener("htmx:afterSettle", () => {
  const { place } = document.getElementById("ask").dataset;
  if (place) stage.goto(Number(place));
});

connect(
  { ...transportActions(stage), mark: () => document.getElementById("mark-here")?.click() },
  { ...TRANSPORT_KEYS, f: ["mark"] },
);
showState(stage, root, clock);
stage.setSpeed(stage.speed);
await stage.open(document.getElementById("still"));
await stage.goto(Number(root.dataset.place) || stage.first);
root.dataset.ready = "true";
window.norvik = { stage };
