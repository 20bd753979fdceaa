// The figure in the hand: turned by dragging, and played at a rate of one's choice.

const form = /** @type {HTMLFormElement} */ (document.getElementById("stroke"));
const step = /** @type {HTMLInputElement} */ (document.getElementById("step"));
const rate = /** @type {HTMLInputElement} */ (document.getElementById("rate"));
const play = /** @type {HTMLButtonElement} */ (form.querySelector("[data-play]"));
const turn = /** @type {HTMLInputElement} */ (form.elements.namedItem("round"));
const over = /** @type {HTMLInputElement} */ (form.elements.namedItem("over"));
const steps = Number(step.max) + 1;
/** Degrees for a pixel of dragging. */
const TURN = 0.6;

const figure = () => /** @type {HTMLElement} */ (document.getElementById("figure"));
const eye = () => [Number(figure().dataset.round), Number(figure().dataset.over)];

/** @param {number} round @param {number} above */
function look(round, above) {
  turn.value = String(Math.round(round));
  over.value = String(Math.max(-90, Math.min(90, Math.round(above))));
  for (const named of form.querySelectorAll('input[name="view"]')) {
    /** @type {HTMLInputElement} */ (named).checked = false;
  }
  void redraw();
}

let asked = false;
let waiting = false;
/** The figure as the form says now. While one is under way, only the newest wish comes after it. */
async function redraw() {
  asked = true;
  if (waiting) return;
  waiting = true;
  while (asked) {
    asked = false;
    await draw();
  }
  waiting = false;
}

/** Ask for the figure and show it; false where none came. */
async function draw() {
  const query = new URLSearchParams(/** @type {any} */ (new FormData(form)));
  const answer = await fetch(`${form.getAttribute("hx-get")}?${query}`).catch(() => null);
  if (!answer?.ok) return false;
  figure().outerHTML = await answer.text();
  return true;
}

// A named view is one again where it is chosen.
form.addEventListener(
  "change",
  (event) => {
    if (/** @type {HTMLInputElement} */ (event.target).name === "view") turn.value = over.value = "";
  },
  true,
);

/** @type {{ x: number, y: number, from: number[] } | null} */
let held = null;
form.addEventListener("pointerdown", (event) => {
  if (!(/** @type {Element} */ (event.target).closest("#figure svg"))) return;
  event.preventDefault();
  held = { x: event.clientX, y: event.clientY, from: eye() };
});
addEventListener("pointermove", (event) => {
  if (!held) return;
  look(held.from[0] - TURN * (event.clientX - held.x), held.from[1] + TURN * (event.clientY - held.y));
});
for (const end of ["pointerup", "pointercancel"]) addEventListener(end, () => (held = null));

const KEYS = { ArrowLeft: [15, 0], ArrowRight: [-15, 0], ArrowUp: [0, 15], ArrowDown: [0, -15] };
form.addEventListener("keydown", (event) => {
  const by = KEYS[/** @type {keyof KEYS} */ (event.key)];
  if (!by || !(/** @type {Element} */ (event.target).closest("#turn"))) return;
  event.preventDefault();
  const [round, above] = eye();
  look(round + by[0], above + by[1]);
});

/** Seconds of a cycle at the rate that is typed; the usual ones where it is none. */
function seconds() {
  const typed = Number(rate.value.replace(",", "."));
  return typed >= 10 && typed <= 200
    ? (60 * Number(form.dataset.perCycle)) / typed
    : Number(form.dataset.seconds);
}

let playing = false;
async function run() {
  const begun = performance.now();
  const first = Number(step.value);
  while (playing) {
    const now = first + ((performance.now() - begun) / 1000 / seconds()) * steps;
    step.value = String(Math.floor(now) % steps);
    if (!(await draw())) break;
    await new Promise((next) => requestAnimationFrame(next));
  }
  stop();
}
function stop() {
  playing = false;
  play.textContent = "Play";
  play.setAttribute("aria-pressed", "false");
}
play.addEventListener("click", () => {
  if (playing) return stop();
  playing = true;
  play.textContent = "Stop";
  play.setAttribute("aria-pressed", "true");
  void run();
});

export {};
