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

// The sheet by keys: a line at a time, an arm, a degree. The line stays when the sheet is redrawn.
let line = 0;
let arm = "left";
// What lies in a folded part of the sheet is passed over.
const lines = () =>
  [...document.querySelectorAll(".sheet-line")].filter((l) => !l.closest("details:not([open])"));
function toLine(by) {
  const all = lines();
  line = Math.min(all.length - 1, Math.max(0, line + by));
  showLine();
}
function showLine() {
  for (const [n, l] of lines().entries()) {
    l.classList.toggle("at-line", n === line);
    for (const b of l.querySelectorAll("[data-side]")) {
      b.classList.toggle("at-arm", n === line && b.dataset.side === arm);
    }
  }
  lines()[line]?.scrollIntoView({ block: "nearest" });
}
function tick(degree) {
  const here = lines()[line];
  const button = here?.querySelector(`[data-side="${arm}"]`) ?? here?.querySelector('[data-side=""]');
  if (!button) return;
  const { what, side } = button.dataset;
  window.htmx.ajax("POST", `/clips/${root.dataset.clip}/judge/seen`, {
    target: "#judge-body",
    swap: "outerHTML",
    values: { what, side, degree },
  });
}
document.body.addEventListener("htmx:afterSettle", showLine);

const actions = {
  ...transportActions(stage),
  line: toLine,
  arm: (side) => {
    arm = side;
    showLine();
  },
  tick,
  another: () => document.querySelector("[data-another]")?.click(),
};
connect(actions, {
  ...TRANSPORT_KEYS,
  ArrowDown: ["line", 1],
  ArrowUp: ["line", -1],
  l: ["arm", "left"],
  r: ["arm", "right"],
  s: ["tick", "slight"],
  c: ["tick", "clear"],
  x: ["tick", ""],
  a: ["another"],
});
showLine();
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
