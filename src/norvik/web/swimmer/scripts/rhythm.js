// The rhythm aid's page: rate, beep, flash, full screen.

import { Beats } from "./beats.js";

const root = document.getElementById("rhythm");
const perCycle = Number(root.dataset.perCycle);
const shown = document.getElementById("rate");
const unit = document.getElementById("unit");
const start = document.getElementById("start");
const halves = { left: document.getElementById("left"), right: document.getElementById("right") };
/** Cycles a minute. */
let rate = Number(root.dataset.begin);
let eachStroke = perCycle > 1;
let accents = perCycle > 1;
let context = null;
let beats = null;
let waiting = [];

const interval = () => 60 / (rate * (eachStroke ? perCycle : 1));
const sideOf = (n) => (!accents || !eachStroke ? "both" : n % 2 ? "right" : "left");

function show() {
  const per = eachStroke ? perCycle : 1;
  shown.textContent = (rate * per).toFixed(1);
  unit.textContent = eachStroke && perCycle > 1 ? "strokes/min" : "cycles/min";
  document.getElementById("interval").textContent = `a beat every ${interval().toFixed(2)} s`;
  start.querySelector("span").textContent = beats?.running ? "Stop" : "Start";
  start.setAttribute("aria-pressed", String(Boolean(beats?.running)));
  for (const box of root.querySelectorAll("[data-choice]")) {
    box.setAttribute(
      "aria-pressed",
      String(
        box.dataset.choice === "stroke" ? eachStroke : box.dataset.choice === "cycle" ? !eachStroke : accents,
      ),
    );
  }
  const low = Number(root.dataset.low);
  const band = document.getElementById("in-band");
  if (band)
    band.textContent =
      rate < low - 0.05
        ? "below the best stroke rate"
        : rate > Number(root.dataset.high) + 0.05
          ? "above the best stroke rate"
          : "within the best stroke rate";
}

function setRate(to) {
  rate = Math.min(90, Math.max(10, to));
  beats?.change(interval());
  show();
}

async function toggle() {
  if (beats?.running) {
    beats.stop();
    waiting = [];
  } else {
    context ??= new AudioContext({ latencyHint: "interactive" });
    await context.resume();
    beats ??= new Beats(
      context,
      (n) => sideOf(n),
      (n, at) => waiting.push([at, sideOf(n)]),
    );
    beats.start(interval());
    requestAnimationFrame(flash);
    // A screen that goes dark takes the flash away; the sound goes on.
    navigator.wakeLock?.request("screen").catch(() => {});
  }
  show();
}

/** The flash follows the audio clock, as it is heard. */
function flash() {
  if (!beats?.running) {
    for (const half of Object.values(halves)) half.classList.remove("lit");
    return;
  }
  const heard = context.currentTime - (context.outputLatency || 0);
  while (waiting.length && waiting[0][0] <= heard) {
    const [, side] = waiting.shift();
    for (const [name, half] of Object.entries(halves)) {
      if (side !== "both" && side !== name) continue;
      half.classList.add("lit");
      setTimeout(() => half.classList.remove("lit"), 110);
    }
  }
  requestAnimationFrame(flash);
}

root.addEventListener("click", (event) => {
  const button = event.target.closest("button");
  if (!button) return;
  if (button.dataset.by) setRate(rate + Number(button.dataset.by) / (eachStroke ? perCycle : 1));
  if (button.dataset.choice === "stroke") eachStroke = true;
  if (button.dataset.choice === "cycle") eachStroke = false;
  if (button.dataset.choice === "accents") accents = !accents;
  if (button.dataset.choice) setRate(rate);
  if (button.id === "start") toggle();
  if (button.id === "full") {
    if (document.fullscreenElement) document.exitFullscreen();
    else root.requestFullscreen?.();
  }
});
document.addEventListener("keydown", (event) => {
  if (event.target.matches("select, input")) return;
  const by = { ArrowUp: 1, ArrowDown: -1, ArrowRight: 0.5, ArrowLeft: -0.5 }[event.key];
  if (by) setRate(rate + by / (eachStroke ? perCycle : 1));
  else if (event.key === " " && !event.target.closest("button, a")) toggle();
  else return;
  event.preventDefault();
});
show();
root.dataset.ready = "true";
window.norvik = {
  get beats() {
    return beats;
  },
  get context() {
    return context;
  },
};
