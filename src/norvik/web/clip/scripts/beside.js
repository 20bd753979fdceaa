// Side by side: the first film leads, the second shows the frame that the server gave for each of its frames.

import { Stage, clock, loadFrames } from "./stage.js";
import { TRANSPORT_KEYS, connect, setLoop, showState, transportActions } from "./transport.js";

const root = document.getElementById("beside");
const films = document.getElementById("films");
let state = JSON.parse(document.getElementById("beside-state").textContent);

async function open(which) {
  const figure = films.querySelector(`[data-film="${which}"]`);
  const frames = await loadFrames(figure.dataset.frames);
  const stage = new Stage(figure.querySelector("video"), frames);
  await stage.decodeOn(figure.querySelector("canvas"));
  return { figure, stage };
}
/** The figure in place of a second film: its stances are its frames. */
class FigureStage extends EventTarget {
  constructor(figure) {
    super();
    this.stances = [...figure.querySelectorAll("[data-stance]")];
    this.last = this.stances.length - 1;
    this.shown = 0;
  }

  goto(n) {
    this.stances[this.shown].hidden = true;
    this.shown = n;
    this.stances[n].hidden = false;
    return Promise.resolve(n);
  }

  settled() {
    return Promise.resolve(this.shown);
  }

  /** It never moves alone. */
  step() {
    return this.settled();
  }
}

const figure = /** @type {HTMLElement} */ (films.querySelector(".beside-figure"));
const [one, other] = await Promise.all([
  open("one"),
  figure ? { figure, stage: new FigureStage(figure) } : open("other"),
]);

function tell(sentence) {
  document.getElementById("told").textContent = sentence;
}

// ---- in step ----

/** The second film's frame for one of the first. */
function pairOf(frame) {
  const at = Math.min(state.frames.length - 1, Math.max(0, frame - state.first));
  return state.frames[at];
}

/** While the coach holds one film and moves the other they are not in step. */
let apart = false;
function follow() {
  if (!apart && !player.on) other.stage.goto(pairOf(one.stage.shown));
  bars();
}

/** Both frames are decoded first, then drawn together: no painting shows half of a pair. */
async function showPair(frame) {
  const pairs = apart
    ? [[one.stage, frame]]
    : [
        [one.stage, frame],
        [other.stage, pairOf(frame)],
      ];
  try {
    await Promise.all(pairs.map(([stage, n]) => stage.decoder?.ready(n)));
  } catch {
    // What cannot be decoded here is shown by the film element.
  }
  await new Promise(requestAnimationFrame);
  await Promise.all(pairs.map(([stage, n]) => stage.goto(n)));
  for (const [stage, n] of pairs) stage.decoder?.prepare(Math.min(stage.last, n + 1));
}

/** Plays by a clock of its own: pair after pair, each shown together; late ones are left out. */
const player = {
  on: false,
  async start() {
    const { stage } = one;
    const { from, to } = stage.loop;
    const [first, last] = from === null ? [stage.first, stage.last] : [from, to ?? stage.last];
    if (stage.shown < first || stage.shown >= last) await stage.goto(first);
    player.on = true;
    playing();
    let [begun, since] = [stage.time(stage.shown), performance.now()];
    let { speed } = stage;
    while (player.on) {
      if (speed !== stage.speed) {
        [begun, since, speed] = [stage.time(stage.shown), performance.now(), stage.speed];
      }
      let frame = stage.frameAt(begun + ((performance.now() - since) / 1000) * speed);
      if (frame >= last && from === null) {
        player.on = false;
        frame = last;
      } else if (frame >= last) {
        [begun, since] = [stage.time(first), performance.now()];
        frame = first;
      }
      await showPair(frame);
    }
    playing();
  },
  toggle() {
    if (player.on) player.on = false;
    else player.start();
  },
};
one.stage.addEventListener("frame", follow);

async function ask(change) {
  if (figure) {
    // All cycles of the film lie on the figure's one.
    Object.assign(state, change);
    drawState();
    return true;
  }
  const wish = {
    with: root.dataset.other,
    way: state.asked,
    side: state.side,
    other_side: state.other_side,
    event: state.event,
    n: state.n,
    m: state.m,
    ...change,
  };
  try {
    const answer = await fetch(`${root.dataset.url}?${new URLSearchParams(wish)}`);
    const said = await answer.json();
    if (!answer.ok) {
      tell(said.sentence);
      return false;
    }
    state = said;
  } catch {
    tell("No connection: the films stay as they are.");
    return false;
  }
  tell(state.cannot);
  drawState();
  return true;
}

async function toWay(way) {
  if (figure) return;
  pause();
  apart = false;
  const set = { one_frame: one.stage.shown, other_frame: other.stage.shown };
  if (way === "hand") {
    apart = true;
    await ask({ way, ...set });
    tell("By hand: Shift with the arrows moves the second film, Enter sets the pair.");
    return;
  }
  if (await ask(way === "clock" ? { way, ...set } : { way })) await one.stage.goto(state.begin);
}

async function setByHand() {
  if (!apart) return;
  apart = false;
  await ask({ way: "hand", one_frame: one.stage.shown, other_frame: other.stage.shown });
  tell("Set. Both run in real time from here.");
}

async function toCycle(by) {
  pause();
  const [n, m] = [state.n + by, state.m + by];
  const [mine, theirs] = state.cycles;
  if (n < 0 || m < 0 || n >= mine.length || m >= theirs.length) {
    tell("There is no further cycle in both films.");
    return;
  }
  if (await ask({ n, m })) {
    if (looping()) loopCycle();
    await one.stage.goto(mine[n][0][2]);
  }
}

const looping = () => one.stage.loop.from !== null;
function loopCycle() {
  const cycle = state.cycles[0][state.n];
  setLoop(one.stage, cycle ? { from: cycle[0][2], to: cycle.at(-1)[2] } : { from: null, to: null });
}

// ---- drawing ----

function bars() {
  const shown = [one.stage.shown, apart ? other.stage.shown : pairOf(one.stage.shown)];
  for (const bar of root.querySelectorAll("[data-bar]")) {
    const which = Number(bar.dataset.bar);
    const cycle = state.cycles[which][which ? state.m : state.n];
    if (!cycle) {
      bar.replaceChildren();
      continue;
    }
    const [from, to] = [cycle[0][2], cycle.at(-1)[2]];
    const share = (frame) => (100 * (frame - from)) / Math.max(1, to - from);
    const parts = cycle.slice(0, -1).map(([, name, frame], n) => {
      const part = document.createElement("span");
      part.style.left = `${share(frame)}%`;
      part.style.width = `${share(cycle[n + 1][2]) - share(frame)}%`;
      const long = cycle[n + 1][2] - frame;
      // The figure has no frames: its phases are shares of its cycle.
      const words = figure && which ? `${Math.round((100 * long) / (to - from))} %` : `${long} frames`;
      part.textContent = `${name}: ${words}`;
      part.title = part.textContent;
      return part;
    });
    const head = document.createElement("i");
    head.style.left = `${Math.min(100, Math.max(0, share(shown[which])))}%`;
    bar.replaceChildren(...parts, head);
  }
}

function drawState() {
  for (const button of root.querySelectorAll('[data-do="way"]')) {
    button.setAttribute("aria-pressed", String(button.dataset.way === state.asked));
  }
  const strip = /** @type {HTMLAnchorElement} */ (document.getElementById("strip"));
  if (strip) {
    const { side, other_side, n, m } = state;
    const wish = { with: root.dataset.other, side, other_side, n, m };
    strip.search = String(new URLSearchParams(/** @type {any} */ (wish)));
  }
  const [mine, theirs] = state.cycles;
  document.getElementById("cycle").textContent =
    mine.length && theirs.length
      ? `${state.n + 1} of ${mine.length} · ${state.m + 1} of ${theirs.length}`
      : "no cycle";
  bars();
}

const LAID = ["beside", "over", "difference"];
function lay(laid) {
  films.dataset.laid = laid;
  for (const button of root.querySelectorAll('[data-do="lay"]')) {
    button.setAttribute("aria-pressed", String(button.dataset.laid === laid));
  }
}

const blend = /** @type {HTMLInputElement} */ (document.getElementById("blend"));
const blended = () => films.style.setProperty("--blend", String(Number(blend.value) / 100));
blend.addEventListener("input", blended);
blended();

function pressed(button, is) {
  root.querySelector(`[data-do="${button}"]`).setAttribute("aria-pressed", String(is));
}

function playing() {
  const play = root.querySelector('[data-do="toggle"]');
  play.setAttribute("aria-label", player.on ? "Pause" : "Play");
  play.toggleAttribute("data-playing", player.on);
}

const pause = () => {
  player.on = false;
};
const transport = transportActions(one.stage);
const actions = {
  ...transport,
  toggle: player.toggle,
  step: (by) => {
    pause();
    return transport.step(by);
  },
  way: (_, button) => toWay(button.dataset.way),
  phase: () => toWay("phase"),
  event: () => toWay("event"),
  clock: () => toWay("clock"),
  hand: () => toWay("hand"),
  set: setByHand,
  "other-step": (by) => {
    if (apart) other.stage.step(by).then(bars);
    else tell("Press H first: then the second film moves alone.");
  },
  cycle: toCycle,
  "loop-cycle": () => {
    if (looping()) setLoop(one.stage, { from: null, to: null });
    else loopCycle();
    pressed("loop-cycle", looping());
  },
  lay: (_, button) => lay(button.dataset.laid),
  "lay-next": () => lay(LAID[(LAID.indexOf(films.dataset.laid) + 1) % LAID.length]),
  mirror: () => pressed("mirror", other.figure.classList.toggle("mirrored")),
};
connect(actions, {
  ...TRANSPORT_KEYS,
  "Shift+ArrowLeft": ["other-step", -1],
  "Shift+ArrowRight": ["other-step", 1],
  Enter: ["set"],
  p: ["phase"],
  e: ["event"],
  c: ["clock"],
  h: ["hand"],
  n: ["cycle", 1],
  "]": ["cycle", 1],
  "[": ["cycle", -1],
  l: ["loop-cycle"],
  o: ["lay-next"],
  m: ["mirror"],
});

showState(one.stage, one.figure, clock);
if (!figure) showState(other.stage, other.figure, clock);
one.stage.addEventListener("state", () => {
  const words = { 0.0625: "1/16", 0.125: "⅛", 0.25: "¼", 0.5: "½" };
  root.querySelector('.speed [data-show="speed"]').textContent = words[one.stage.speed] ?? one.stage.speed;
});
one.stage.setSpeed(0.25);
drawState();
await one.stage.goto(state.begin);
await other.stage.settled();
root.dataset.ready = "true";
window.norvik = { stage: one.stage, other: other.stage, pairOf, player };
