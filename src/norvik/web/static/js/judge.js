// The judge screen: a stage to look again, and ticks that remember the frame they were made on.

import { Stage, clock, loadFrames } from "./stage.js";
import { TRANSPORT_KEYS, connect, showState, transportActions } from "./transport.js";

const root = document.getElementById("judge-stage");
const stage = new Stage(document.getElementById("film"), await loadFrames(root.dataset.frames));

document.body.addEventListener("htmx:configRequest", (event) => {
  if (/\/(seen|still)$/.test(event.detail.path)) event.detail.parameters.frame = stage.shown;
});

// A picture of the evidence shows its frame on the stage here; opened in a new tab it is the bench.
document.addEventListener("click", (event) => {
  const link = event.target.closest("a[data-frame]");
  if (!link || event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  stage.goto(Number(link.dataset.frame));
});

connect(transportActions(stage), TRANSPORT_KEYS);
showState(stage, root, clock);
stage.setSpeed(stage.speed);
await stage.decodeOn(document.getElementById("still"));
if (stage.video.readyState < 1) {
  await new Promise((resolve) => stage.video.addEventListener("loadedmetadata", resolve, { once: true }));
}
const asked = new URLSearchParams(location.search).get("frame");
await stage.goto(Number(asked ?? root.dataset.place) || stage.first);
root.dataset.ready = "true";
window.norvik = { stage };
