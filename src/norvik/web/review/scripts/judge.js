// The judge screen: a stage to look again, and ticks that remember the frame they were made on.

import { Stage, clock, loadFrames } from "./stage.js";
import { TRANSPORT_KEYS, connect, showState, transportActions } from "./transport.js";

const root = document.getElementById("judge-stage");
const stage = new Stage(document.getElementById("film"), await loadFrames(root.dataset.frames));

document.body.addEventListener("htmx:configRequest", (event) => {
  if (/\/(seen|still|remarks\/)$/.test(event.detail.path)) event.detail.parameters.frame = stage.shown;
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
  [...document.querySelectorAll(".sheet-line:not([hidden])")].filter(
    (l) => !l.closest("details:not([open])"),
  );
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
// Search as you type: by name, and by what other coaches call it. Folded parts open meanwhile.
let searched = "";
function search(text) {
  searched = text.trim().toLowerCase();
  const words = searched.split(/\s+/).filter(Boolean);
  let found = 0;
  for (const l of document.querySelectorAll(".sheet-line")) {
    const fits = words.every((w) => l.dataset.words.includes(w));
    l.hidden = !fits;
    found += Number(fits);
  }
  for (const d of document.querySelectorAll("#sheet details")) {
    d.dataset.was ??= String(d.open);
    d.open = searched ? true : d.dataset.was === "true";
  }
  document.getElementById("sheet-none").hidden = !searched || found > 0;
  line = 0;
  showLine();
}
document.addEventListener("input", (event) => {
  if (event.target.id === "sheet-search") search(event.target.value);
});
document.addEventListener("keydown", (event) => {
  if (event.target.id !== "sheet-search") return;
  // From the field back to the sheet: what was found first is under the keys.
  if (event.key === "Enter" || event.key === "ArrowDown") event.target.blur();
  else if (event.key === "Escape") {
    event.target.value = "";
    search("");
    event.target.blur();
  } else return;
  event.preventDefault();
});
document.body.addEventListener("htmx:afterSettle", () => {
  const field = /** @type {HTMLInputElement} */ (document.getElementById("sheet-search"));
  if (field && searched && !field.value) {
    const kept = line;
    field.value = searched;
    search(searched);
    line = kept;
  }
  showLine();
});

const actions = {
  ...transportActions(stage),
  line: toLine,
  arm: (side) => {
    arm = side;
    showLine();
  },
  tick,
  another: () => document.querySelector("[data-another]")?.click(),
  find: () => document.getElementById("sheet-search")?.focus(),
  say: () => document.getElementById("remark-text")?.focus(),
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
  n: ["say"],
  "/": ["find"],
  "Shift+/": ["find"],
});
showLine();
showState(stage, root, clock);
stage.setSpeed(stage.speed);
await stage.open(document.getElementById("still"));
const asked = new URLSearchParams(location.search).get("frame");
await stage.goto(Number(asked ?? root.dataset.place) || stage.first);
root.dataset.ready = "true";
window.norvik = { stage };
