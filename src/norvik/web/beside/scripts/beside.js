// Side by side: the first film leads, the others show the frames that the server gave for each of its frames.

import { clock } from "./stage.js";
import { SPEEDS, TRANSPORT_KEYS, connect, setLoop, showState, transportActions } from "./transport.js";
import { Player, openFilm, showTogether } from "./beside-films.js";
import { Places } from "./beside-place.js";
import { CycleRope } from "./beside-rope.js";
import { Drawn } from "./beside-drawn.js";
import { Keeping } from "./beside-keep.js";
import { chooseByKeys } from "./beside-choose.js";
import { TALK_KEYS, talkActions } from "./talk-bar.js";
import { talkBeside } from "./talk-on-page.js";

const root = document.getElementById("beside");
const host = document.getElementById("films");
const told = document.getElementById("told");
let state = JSON.parse(document.getElementById("beside-state").textContent);
const token = root.dataset.csrf;

function tell(sentence) {
  told.textContent = sentence;
}

const choose = /** @type {HTMLFormElement} */ (document.getElementById("choose"));

/** What is compared, as values of an address. */
function wish() {
  const [second, third] = state.others;
  return {
    with: root.dataset.with,
    ...(third ? { third: root.dataset.third, third_side: third.side, k: third.m } : {}),
    way: state.asked,
    side: state.side,
    event: state.event,
    n: state.n,
    other_side: second.side,
    m: second.m,
    ...(state.asked === "clock" || state.asked === "hand" ? held : {}),
  };
}

/** Fetches JSON of this comparison, or posts values to it. Null after an answer that refuses. */
async function ask(name, values, change = {}) {
  const address = new URL(name, new URL(root.dataset.url, window.location.href));
  const all = { ...wish(), ...change, ...values };
  try {
    const answer = values
      ? await fetch(address, {
          method: "POST",
          headers: { "X-CSRFToken": token, Accept: "application/json" },
          body: new URLSearchParams(all),
        })
      : await fetch(`${address}?${new URLSearchParams(/** @type {any} */ (all))}`, {
          headers: { Accept: "application/json" },
        });
    const said = await answer.json();
    if (answer.ok) return said;
    tell(said.sentence);
  } catch {
    tell("No connection: nothing was changed. Try again.");
  }
  return null;
}

/** Frames at which films were set together, for "clock" and "hand". */
let held = {};
const films = await Promise.all([...host.querySelectorAll(".beside-film")].map(openFilm));
const [one, ...others] = films;
const lead = one.stage;

// ---- in step ----

/** The frame of film n that belongs to one of the first. */
function pairOf(frame, n = 1) {
  const { frames } = state.others[n - 1];
  return frames[Math.min(frames.length - 1, Math.max(0, frame - state.first))];
}

/** While the coach holds one film and moves another they are not in step. */
let apart = false;
const wishes = (frame) => [
  [lead, frame],
  ...(apart ? [] : others.map((film, n) => [film.stage, pairOf(frame, n + 1)])),
];
const player = new Player(lead, (frame) => showTogether(wishes(frame)), playing);

function follow() {
  if (!apart && !player.on) others.forEach((film, n) => film.stage.goto(pairOf(lead.shown, n + 1)));
  moved();
}
lead.addEventListener("frame", follow);
for (const { stage } of others) stage.addEventListener("frame", moved);

async function change(to) {
  const said = await ask("frames.json", null, to);
  if (!said) return false;
  state = said;
  tell(state.others.map((other) => other.cannot).join(" "));
  drawState();
  drawn.load();
  return true;
}

function here() {
  const [second, third] = others;
  return {
    one_frame: lead.shown,
    other_frame: second.stage.shown,
    ...(third ? { third_frame: third.stage.shown } : {}),
  };
}

async function toWay(way) {
  if (others.every((film) => film.isFigure)) {
    tell("A drawn figure goes by phase alone. Choose the filmed model swimmer for the other ways.");
    return;
  }
  player.stop();
  apart = way === "hand";
  held = way === "clock" || way === "hand" ? here() : {};
  const event = choose.querySelector("[name=event]").value;
  if (!(await change({ way, event, ...held }))) return;
  state.asked = way;
  drawState();
  if (way === "hand") {
    tell(
      `By hand: Shift with the arrows moves the second film${others.length > 1 ? ", Ctrl the third" : ""}; Enter sets them.`,
    );
  } else await lead.goto(state.begin);
}

async function setByHand() {
  if (!apart) return;
  apart = false;
  held = here();
  if (await change({ way: "hand", ...held })) tell("Set. All run in real time from here.");
}

async function toCycle(by) {
  player.stop();
  const [mine, second, third] = [state.cycles, ...state.others];
  const n = state.n + by;
  // All cycles of the film lie on the one of a figure or of the model.
  const steps = [second, third].map((other) => (other?.kind === "clip" ? other.m + by : 0));
  const beyond = (other, m) => other?.kind === "clip" && (m < 0 || m >= other.cycles.length);
  if (n < 0 || n >= mine.length || beyond(second, steps[0]) || beyond(third, steps[1])) {
    tell("There is no further cycle in all films.");
    return;
  }
  if (await change({ n, m: steps[0], k: steps[1] })) {
    if (looping) loop(looping);
    await lead.goto(state.cycles[n][0][2]);
  }
}

let looping = "";
function loop(what) {
  looping = what;
  const cycle = state.cycles[state.n];
  let span = { from: null, to: null };
  if (looping && cycle) {
    span = { from: cycle[0][2], to: cycle.at(-1)[2] };
    if (looping === "phase") {
      const edges = cycle.filter(([, , , phase], n) => phase || n === 0 || n === cycle.length - 1);
      const n = Math.max(
        0,
        edges.findLastIndex(([, , frame]) => frame <= lead.wish),
      );
      const at = Math.min(n, edges.length - 2);
      span = { from: edges[at][2], to: edges[at + 1][2] };
    }
  }
  setLoop(lead, span);
  pressed("loop-cycle", Boolean(looping));
  if (looping) tell(looping === "phase" ? "This phase is repeated." : "This cycle is repeated.");
}

// ---- drawing ----

const rope = new CycleRope(root.querySelector(".beside-rope"), (which, frame) => {
  player.stop();
  if (which === 0) lead.goto(frame);
  else {
    const { frames } = state.others[which - 1];
    const at = frames.indexOf(frame);
    const near = at < 0 ? frames.findIndex((f) => f >= frame) : at;
    if (near >= 0) lead.goto(state.first + near);
  }
});
let drawn = null;
const places = new Places(films, () => drawn?.draw());
drawn = new Drawn(films, places, document.getElementById("measures"), ask);
let matched = false;

function moved() {
  rope.move(films.map((film) => film.stage.shown));
  if (!drawn) return;
  if (matched) places.setLaid(drawn.laid());
  else drawn.draw();
}

function pressed(name, is) {
  for (const button of root.querySelectorAll(`[data-do="${name}"]`)) {
    button.setAttribute("aria-pressed", String(is));
  }
}

function drawState() {
  for (const button of root.querySelectorAll('[data-do="way"]')) {
    button.setAttribute("aria-pressed", String(button.dataset.way === state.asked));
  }
  choose.querySelector("[data-when=event]").hidden = state.asked !== "event";
  choose.querySelector("[name=way]").value = state.asked;
  for (const link of root.querySelectorAll("[data-strip]")) {
    const { rows, point } = link.dataset;
    const more = { ...(rows ? { rows } : {}), ...(point ? { point } : {}) };
    link.search = String(new URLSearchParams(/** @type {any} */ ({ ...wish(), ...more })));
  }
  const all = [state.cycles, ...state.others.map((other) => other.cycles)];
  const at = [state.n, ...state.others.map((other) => (other.kind === "clip" ? other.m : 0))];
  document.getElementById("cycle").textContent = all.every((cycles) => cycles.length)
    ? all
        .map((cycles, n) => [cycles, n])
        .filter(([, n]) => n === 0 || state.others[n - 1].kind === "clip")
        .map(([cycles, n]) => `${at[n] + 1} of ${cycles.length}`)
        .join(" · ")
    : "no cycle";
  rope.set(
    all.map((cycles, n) => cycles[at[n]]),
    {
      label: (n) => `Phases of the ${["first", "second", "third"][n]} film`,
      // A figure has no frames: its phases are shares of its cycle.
      long: (n, begin, end) => {
        const { stage, isFigure } = films[n];
        if (isFigure) return Array(2).fill(`${Math.round((100 * (end - begin)) / (stage.last + 1))} %`);
        const seconds = (stage.time(end) - stage.time(begin)).toFixed(2);
        const frames = end - begin;
        return [`${seconds} s, ${frames} frame${frames === 1 ? "" : "s"}`, String(frames)];
      },
    },
  );
  moved();
}

const LAID = ["beside", "over", "difference"];
function lay(laid) {
  host.dataset.laid = laid;
  for (const button of root.querySelectorAll('[data-do="lay"]')) {
    button.setAttribute("aria-pressed", String(button.dataset.laid === laid));
  }
  places.apply();
}

const blend = document.getElementById("blend");
const blended = () => host.style.setProperty("--blend", String(Number(blend.value) / 100));
blend.addEventListener("input", blended);
blended();

function playing() {
  const play = root.querySelector('[data-do="toggle"]');
  play.setAttribute("aria-label", player.on ? "Pause" : "Play");
  play.toggleAttribute("data-playing", player.on);
}

function mirror(is) {
  others.forEach((_, n) => {
    const own = n === 0 || state.others[n].mirror !== null;
    if (own) places.setMirrored(n + 1, n === 0 ? is : Boolean(state.others[n].mirror));
  });
  pressed("mirror", is);
}

function match() {
  if (!matched && !drawn.laid()) {
    tell("Set shoulder and hip in both films first: press T.");
    return;
  }
  matched = !matched;
  places.setLaid(matched ? drawn.laid() : null);
  pressed("match", matched);
}

// ---- the review, two cameras ----

const keeping = new Keeping(document.getElementById("keep"), async (what, caption) => {
  const values = { what, caption, frame: lead.shown, at: others[0].stage.shown };
  const said = await ask("keep", values);
  if (!said) return;
  tell(`${said.sentence} `);
  const link = document.createElement("a");
  link.href = said.review;
  link.className = "underline";
  link.textContent = "See it in the review";
  told.append(link);
});
function keep() {
  player.stop();
  if (others[0].isFigure) {
    tell("The review shows the drawn figure beside your frame by itself. Choose a film to add a pair.");
  } else keeping.open();
}

async function tie(name, values = {}) {
  player.stop();
  const said = await ask(name, { frame: lead.shown, at: others[0].stage.shown, ...values });
  if (!said) return;
  sessionStorage.setItem("beside-told", said.sentence);
  const to = new URL(window.location.href);
  to.searchParams.set("with", root.dataset.with);
  to.searchParams.set("way", "clock");
  to.searchParams.set("one_frame", String(lead.shown));
  window.location.assign(to);
}

async function bySound() {
  const said = await ask("by-sound.json");
  if (!said) return;
  apart = true;
  await Promise.all([lead.goto(said.frame), others[0].stage.goto(said.at)]);
  tell(said.sentence);
}

// ---- the talk ----

const talk = talkBeside({ root, films, host, blend, player, lead, token, tell, drawn: () => drawn });

// ---- keys ----

const transport = transportActions(lead);
const otherStep = (n, by) => {
  if (!apart) tell("Press H first: then one film moves alone.");
  else others[n]?.stage.step(by);
};
const actions = {
  ...transport,
  toggle: () => player.toggle(),
  step: (by) => {
    player.stop();
    return transport.step(by);
  },
  way: (_, button) => toWay(button.dataset.way),
  phase: () => toWay("phase"),
  event: () => toWay("event"),
  clock: () => toWay("clock"),
  hand: () => toWay("hand"),
  set: setByHand,
  "other-step": (by) => otherStep(0, by),
  "third-step": (by) => otherStep(1, by),
  cycle: toCycle,
  "loop-cycle": () => loop(looping === "cycle" ? "" : "cycle"),
  "loop-phase": () => loop(looping === "phase" ? "" : "phase"),
  lay: (_, button) => lay(button.dataset.laid),
  "lay-next": () => lay(LAID[(LAID.indexOf(host.dataset.laid) + 1) % LAID.length]),
  mirror: () => mirror(!places.mirrored[1]),
  trunk: () => {
    player.stop();
    tell(drawn.toggleTaking());
    pressed("trunk", Boolean(drawn.taking));
  },
  match,
  together: () => {
    places.setTogether(!places.together);
    pressed("together", places.together);
  },
  drawings: () => {
    drawn.on = !drawn.on;
    drawn.draw();
    pressed("drawings", drawn.on);
  },
  outline: async () => {
    pressed("outline", await drawn.toggleOutline());
    if (drawn.outline && !drawn.trunk(0, lead.shown)) tell("Set shoulder and hip first: press T.");
  },
  measure: (frame) => lead.goto(frame),
  keep,
  tie: () => tie("tie"),
  "tie-second": () => tie("tie", { as: "second" }),
  untie: () => tie("untie"),
  "by-sound": bySound,
  keys: () => /** @type {HTMLDialogElement} */ (document.getElementById("keys")).showModal(),
  choose: () => document.querySelector("#choose select").focus(),
  strip: () => document.querySelector("[data-strip]")?.click(),
  closer: (by) => places.zoom(0, by > 0 ? 1.25 : 0.8),
  whole: () => places.films.forEach((_, n) => places.whole(n)),
  ...talkActions(() => talk),
};
connect(actions, {
  ...TRANSPORT_KEYS,
  ...TALK_KEYS,
  "Shift+ArrowLeft": ["other-step", -1],
  "Shift+ArrowRight": ["other-step", 1],
  "Ctrl+ArrowLeft": ["third-step", -1],
  "Ctrl+ArrowRight": ["third-step", 1],
  Enter: ["set"],
  p: ["phase"],
  e: ["event"],
  c: ["clock"],
  h: ["hand"],
  n: ["cycle", 1],
  "]": ["cycle", 1],
  "[": ["cycle", -1],
  l: ["loop-cycle"],
  "Shift+L": ["loop-phase"],
  "Shift+l": ["loop-phase"],
  o: ["lay-next"],
  m: ["mirror"],
  t: ["trunk"],
  y: ["match"],
  b: ["together"],
  d: ["drawings"],
  g: ["outline"],
  k: ["keep"],
  x: ["tie"],
  f: ["choose"],
  s: ["strip"],
  ".": ["closer", 1],
  ",": ["closer", -1],
  "?": ["keys"],
  0: ["whole"],
});
root.addEventListener("taken", (/** @type {CustomEvent} */ event) => {
  tell(event.detail || "Set. Y lays trunk on trunk.");
  pressed("trunk", Boolean(drawn.taking));
});
chooseByKeys(choose);

// ---- at the beginning ----

for (const film of films) if (!film.isFigure) showState(film.stage, film.figure, clock);
lead.addEventListener("state", () => {
  const words = SPEEDS.find(([speed]) => speed === lead.speed)?.[1] ?? String(lead.speed);
  root.querySelector('.speed [data-show="speed"]').textContent = words;
});
lead.setSpeed(0.25);
if (state.others[0].mirror) {
  mirror(true);
  tell("Mirrored: the two swim in opposite directions. M shows it as filmed.");
}
drawState();
const before = sessionStorage.getItem("beside-told");
if (before) tell(before);
sessionStorage.removeItem("beside-told");
const asked = new URL(window.location.href).searchParams;
if (state.asked === "clock" || state.asked === "hand") {
  held = Object.fromEntries(
    ["one_frame", "other_frame", "third_frame"].filter((k) => asked.has(k)).map((k) => [k, asked.get(k)]),
  );
}
await Promise.all([lead.goto(state.begin), drawn.load()]);
await Promise.all(others.map((film) => film.stage.settled()));
root.dataset.ready = "true";
window.norvik = {
  stage: lead,
  other: others[0].stage,
  third: others[1]?.stage,
  pairOf,
  player,
  places,
  drawn,
};
