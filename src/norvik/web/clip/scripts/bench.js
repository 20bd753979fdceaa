// The bench: stage, marking, rope. The server computes; this file shows and sends.

import { aboutNumbers } from "./about-numbers.js";
import { Stage, clock, loadFrames } from "./stage.js";
import { connect, showState, transportActions } from "./transport.js";
import { BENCH_KEYS } from "./bench-keys.js";
import { Filmstrip } from "./filmstrip.js";
import { Look } from "./look.js";
import { followLoop, takeLoop } from "./loops.js";
import { Outbox } from "./outbox.js";
import { Sound } from "./sound.js";
import { Drawing } from "./drawing.js";
import { keepPlace } from "./place.js";
import { Proposals } from "./proposals.js";
import { ReadMeasures } from "./read-measures.js";
import { RemarkDialog } from "./remark.js";
import { Rope } from "./rope.js";
import { replaceParts, sentenceOf } from "./parts.js";
import { followReading, showSwimmer } from "./reading.js";
import { talkActions } from "./talk-bar.js";
import { talkOnBench } from "./talk-on-page.js";
import { Topics } from "./topics.js";
import { Tracks } from "./tracks.js";
import { View } from "./view.js";
import { WallMenu } from "./wall.js";

const root = document.getElementById("bench");
const token = document.querySelector('meta[name="csrf-token"]').content;
const stage = new Stage(document.getElementById("film"), await loadFrames(root.dataset.frames));
const oneLane = root.dataset.arms === "both";
let arm = oneLane ? "both" : (sessionStorage.getItem("norvik-arm") ?? "right");
let breathSide = oneLane ? "front" : (sessionStorage.getItem("norvik-breath") ?? "right");
/** The side that an arm's mark is sent with: none where both arms move together. */
const armSide = () => (oneLane ? "" : arm);
let chosen = null;
/** Answers still to come that choose nothing: the coach has gone to another mark meanwhile. */
let overtaken = 0;

const surface = document.getElementById("main");
const view = new View(surface, document.getElementById("picture"), `norvik-look-${root.dataset.recording}`);
const topics = new Topics(root, () => reload("parts"));
const sound = new Sound(stage, root.querySelector('[data-do="sound"]'));
new Filmstrip(document.getElementById("filmstrip"), stage);

const state = () => JSON.parse(document.getElementById("bench-state").textContent);
let known = state();

// ---- what the server answers ----

function received(html, fine, values) {
  const late = overtaken > 0;
  if (late) overtaken -= 1;
  if (!fine) {
    // A refused move has been shown already.
    reload("parts").then(() => tell(sentenceOf(html), true));
    return;
  }
  show(html);
  const { mark, frame } = document.getElementById("told").dataset;
  if (mark && !late) chosen = Number(mark);
  else if (!known.marks.some(([, id]) => id === chosen)) chosen = null;
  // Who has gone to another mark meanwhile is not taken back.
  if (values.follow && frame !== undefined && !late) stage.goto(Number(frame));
  if (values.confirmed) proposals.next();
  refresh();
}

function show(html) {
  replaceParts(html);
  known = state();
  applyMoves();
  topics.show();
  rope.showLanes();
}

/** Marks stand where waiting moves lead: a quick hand presses again before the answer comes. */
function applyMoves() {
  for (const { url, values } of outbox.items) {
    const id = Number(/\/marks\/(\d+)\/move$/.exec(url)?.[1]);
    const found = known.marks.find(([, mark]) => mark === id);
    if (found) found[0] = values.frame;
  }
  known.marks.sort(([a], [b]) => a - b);
}

/** How long a message stays in the corner of the film. What went wrong stays until the next one. */
const TOLD_MS = 9000;
let fading;

function tell(sentence, bad = false) {
  const told = document.getElementById("told");
  told.textContent = sentence;
  told.classList.toggle("text-caution-light", bad);
  clearTimeout(fading);
  if (!bad) fading = setTimeout(() => told.textContent === sentence && told.replaceChildren(), TOLD_MS);
}

const outbox = new Outbox(`clip-${root.dataset.clip}`, token, {
  received,
  told: (sentence) => tell(sentence, true),
  also: wishes,
});

/** What every answer depends on: the stretch of the rope, the open topic, how is proposed. */
function wishes() {
  return {
    frame: stage.shown,
    topic: topics.open,
    have: rope.tags,
    ...(rope.span === null ? {} : { span: rope.span }),
    ...(rope.wide === null ? {} : { wide: rope.wide }),
    ...(proposals.copying ? { copy: "1" } : {}),
    ...(proposals.doubtFirst ? { order: "doubt" } : {}),
  };
}

/** A step is kept with the frame on which it was pressed, however late it can be sent. */
const send = (path, values) => outbox.send(`${root.dataset.url}${path}`, { frame: stage.shown, ...values });

// ---- marking ----

/** The frame that is seen: a mark pressed while frames still arrive waits for the last wish. */
async function seenFrame() {
  return stage.playing ? stage.shown : stage.settled();
}

/** How the rope calls the lane of a mark. */
function laneName(lane, side) {
  if (lane === "arm") return side || "both";
  return { leg: "legs", course: "wall" }[lane] ?? lane;
}

/** Marks that were pressed and still wait for their frame. */
let pressed = 0;

async function mark(lane, side, event, more = {}) {
  pressed += 1;
  const frame = await seenFrame();
  const name = laneName(lane, side);
  if (rope.hidden.includes(name)) rope.toggleLane(name, true);
  const sent = send("marks", { frame, lane, side, event, ...more });
  pressed -= 1;
  await sent;
}

function expectedAt(list, frame) {
  let event = list[0][1];
  for (const [from, next] of list) if (from <= frame) event = next;
  return event;
}

/** While marks are still on their way the server knows better than this page what comes next. */
const nextOf = (expected) => (outbox.items.length || pressed ? "next" : expected());
const expectedArm = () => expectedAt(known.expected[`arm-${arm}`], stage.shown);
const expectedBreath = () => expectedAt(known.expected.breath, stage.shown);

function setArm(side) {
  arm = side;
  sessionStorage.setItem("norvik-arm", side);
  refresh();
}

function setBreath(side) {
  breathSide = side;
  sessionStorage.setItem("norvik-breath", side);
  refresh();
}

const proposals = new Proposals(stage, () => known.proposals, {
  tell,
  nameOf: (event) => nameOf(event),
  seen: seenFrame,
  measures: () => readMeasures.list.length,
  marked: () => known.marks.length > 0 || tracks.list.length > 0,
  reload: () => reload("parts"),
  // After a cycle the next one is looked at; after the whole clip nothing is left.
  take: (what) => send("reading/take", { what, ...(what === "cycle" ? { confirmed: "1" } : {}) }),
  mark: (frame, side, event, lane) =>
    send("marks", { frame, lane, side: side === "both" ? "" : side, event, confirmed: "1" }),
});

const drawing = new Drawing(root, stage, token, {
  tell,
  side: () => (oneLane ? "" : arm),
});

const readMeasures = new ReadMeasures(stage, drawing, { tell, reload: () => reload("parts") });

/** Enter: the measure on the picture, else the next mark that is proposed, and then the measures. */
function confirm() {
  if (readMeasures.active) return readMeasures.confirm();
  return proposals.open.length || !readMeasures.list.length ? proposals.confirm() : readMeasures.next();
}

const tracks = new Tracks(root, stage, drawing, {
  tell,
  side: () => (oneLane ? "" : arm),
  changed: () => reload("parts"),
});

const expectedWall = () => expectedAt(known.expected.wall, stage.shown);
const wall = new WallMenu(root, stage, () => known, {
  expected: expectedWall,
  nameOf: (event) => nameOf(event),
  pass: (metres) => mark("course", "", "pass", { metres }),
});

/** Bubbles begin when none are under way before this frame, else they end. */
function bubbles() {
  const before = known.marks.filter(([f, , , , e]) => f <= stage.shown && e.startsWith("bubbles"));
  const last = before.at(-1)?.[4];
  return mark("breath", "", last === "bubbles-on" ? "bubbles-off" : "bubbles-on");
}

/** A beat of the leg whose turn it is; of both in strokes whose legs move together. */
function beat() {
  if (oneLane) return mark("leg", "", "beat");
  const before = known.marks.filter(([f, , lane]) => f <= stage.shown && lane === "leg");
  return mark("leg", before.at(-1)?.[3] === "right" ? "left" : "right", "beat");
}

function choose(id) {
  chosen = id;
  overtaken = outbox.items.length;
  const found = known.marks.find(([, mark]) => mark === id);
  if (found) tell(`${found[3]} ${nameOf(found[4])}, frame ${found[0]}`.trim());
  refresh();
}

/** Chosen at once: the next key is for this mark, however long its frame takes to come. */
function goToMark([frame, id]) {
  choose(id);
  stage.goto(frame).then(refresh);
}

function neighbour(direction) {
  const seen = known.marks.filter((m) => rope.shows(m[5]));
  if (direction < 0) seen.reverse();
  // Two marks may share a frame: from the chosen one on, the other comes before the next frame.
  const here = seen.findIndex(([f, id]) => f === stage.wish && id === chosen);
  const next = here < 0 ? seen.find(([f]) => (f - stage.wish) * direction > 0) : seen[here + 1];
  if (!next) {
    tell(direction > 0 ? "No mark after this frame." : "No mark before this frame.");
    return;
  }
  goToMark(next);
}

/** The next mark of the chosen one's kind: the same event of the same lane and side. */
function sameKind(direction) {
  needChosen(([, , lane, side, event]) => {
    const same = known.marks.filter(([, , l, s, e]) => l === lane && s === side && e === event);
    const later = same.filter(([f]) => (direction > 0 ? f > stage.wish : f < stage.wish));
    const next = direction > 0 ? later[0] : later.at(-1);
    if (next) goToMark(next);
    else tell(`No ${side} ${nameOf(event)} ${direction > 0 ? "after" : "before"} this frame.`);
  });
}

function needChosen(then) {
  if (chosen === null) tell("Select a mark first: press it on the timeline, or go to it with [ and ].");
  else then(known.marks.find(([, id]) => id === chosen));
}

async function nudge(frames) {
  needChosen(async (found) => {
    const to = stage.clamp(found[0] + frames);
    const sent = send(`marks/${found[1]}/move`, { frame: to });
    applyMoves();
    stage.goto(to);
    await sent;
  });
}

const removeMark = () => needChosen(([, id]) => send(`marks/${id}/delete`, {}));

/** Click on a number: show the frames it rests on, one after the other. */
function walk(button) {
  const frames = button.dataset.frames.split(" ").filter(Boolean).map(Number);
  if (!frames.length) return;
  const next = frames.find((f) => f > stage.shown) ?? frames[0];
  stage.goto(next);
  tell(`${button.dataset.name}: ${frames.indexOf(next) + 1} of ${frames.length}, frame ${next}`);
}

const actions = {
  ...transportActions(stage),
  next: () => mark("arm", armSide(), nextOf(expectedArm)),
  event: (_, button) => mark("arm", armSide(), button.dataset.event),
  leg: (_, button) => mark("leg", "", button.dataset.event),
  breath: () => breathEvent(nextOf(expectedBreath)),
  "breath-event": (_, button) => breathEvent(button.dataset.event),
  bubbles,
  beat,
  arm: (_, button) => setArm(button.dataset.side),
  "breath-side": (_, button) => setBreath(button.dataset.side),
  undo: () => (drawing.open ? drawing.send("undo", {}) : send("undo", { follow: "1" })),
  redo: () => (drawing.open ? drawing.send("redo", {}) : send("redo", { follow: "1" })),
  "mark-before": () => neighbour(-1),
  "mark-after": () => neighbour(1),
  nudge,
  remove: () => (drawing.open && drawing.item ? drawing.send(`${drawing.item.id}/delete`, {}) : removeMark()),
  "remove-cycle": () => needChosen(([, id]) => send(`marks/${id}/delete-cycle`, {})),
  walk: (_, button) => walk(button),
  zoom: (by) => rope.zoom(by),
  lane: (_, link) => toggleLane(link.dataset.name),
  "hide-lane": () => toggleLane(laneOfChosen()),
  keys: () => document.getElementById("keys").showModal(),
  "about-numbers": () => aboutNumbers(topics.open, tell),
  "same-before": () => sameKind(-1),
  "same-after": () => sameKind(1),
  closer: (by) => view.zoom(by),
  whole: () => view.whole(),
  mirror: () =>
    tell(view.toggle("mirror") ? "Mirrored: left is right. The stored film is unchanged." : "As filmed."),
  clear: () =>
    tell(view.toggle("clear") ? "Colour and contrast enhanced. The stored film is unchanged." : "As filmed."),
  light: () => look.toggle(),
  "light-off": () => look.reset(),
  sound: () => sound.toggle(),
  loops: () => document.getElementById("loops").showModal(),
  remark: () => remark?.open(),
  "remark-off": () => remark?.close(),
  "take-loop": (_, button) => takeLoop(stage, button.dataset),
  ...drawing.actions(),
  ...tracks.actions(),
  measure: () => drawing.toggle(),
  "draw-panel": () => drawing.toggle("draw"),
  still: () => keepStill(),
  "open-still": (_, { dataset }) => window.open(`${root.dataset.url}stills/${stage.shown}.${dataset.kind}`),
  "open-series": () => window.open(`${root.dataset.url}stills/series.png?frame=${stage.shown}&side=${arm}`),
  time: () => toggleTime(),
  "time-here": (_, button) => timeHere(button.dataset.into),
  "go-frame": (frame) => stage.goto(frame),
  "wall-menu": () => wall.toggle(),
  wall: (_, button) => {
    wall.toggle(false);
    return mark("wall", "", button.dataset.event);
  },
  "wall-next": () => mark("wall", "", nextOf(expectedWall)),
  pass: () => wall.askForPass(),
  confirm,
  "skip-proposal": () => (readMeasures.active ? readMeasures.skip() : proposals.skip()),
  "check-measures": (_, { dataset }) => readMeasures.next(dataset.name ?? null),
  "breath-left": () => oneLane || setBreath("left"),
  "breath-right": () => oneLane || setBreath("right"),
  "copy-forward": () => proposals.copyForward(),
  "take-cycle": () => proposals.take("cycle"),
  "take-all": () => proposals.take("clip"),
  "doubt-first": () => proposals.turnOrder(),
  "show-swimmer": () => showSwimmer(drawing, tell),
  topic: (_, button) => topics.choose(button.dataset.topic),
  "rate-unit": () => topics.turnRate(),
  "plus-minus": () => topics.turnPlusMinus(),
  ...talkActions(() => talk),
};

function breathEvent(event) {
  const side = event === "down" ? "" : breathSide;
  return mark("breath", side, event);
}

const keyActions = {
  ...actions,
  ...Object.fromEntries(
    ["turn", "air", "down"].map((event) => [`breath-${event}`, () => breathEvent(event)]),
  ),
};

connect(keyActions, BENCH_KEYS);
followReading(() => reload("parts"));
// The card comes alone, too, and then does not know the order.
document.body.addEventListener("htmx:afterSettle", () => press("doubt-first", () => proposals.doubtFirst));
followLoop(stage);
const look = new Look(surface, view, press, () => drawing.overlay.draw());

const words = document.getElementById("remark");
/** Whoever may only mark writes no remarks. */
const remark = words && new RemarkDialog(words, drawing.token, { frame: () => stage.settled(), told: tell });

/** Keeps the shown frame, with what is drawn on it, for the review. */
async function keepStill() {
  const html = await drawing.post("POST", "../stills/", { frame: await stage.settled() });
  tell(html ?? "No connection: the still was not saved. Try again.", html === null);
}

// ---- the talk ----

const talk = talkOnBench({ root, stage, drawing, token, tell });

// ---- the time base ----

const time = document.getElementById("timebase");

async function toggleTime() {
  time.hidden = !time.hidden;
  if (!time.hidden) htmx.ajax("GET", `${root.dataset.url}time/`, { target: "#timebase", swap: "innerHTML" });
}

/** Puts the shown frame into a field of the time base. */
function timeHere(name) {
  time.querySelector(`[name="${name}"]`).value = stage.shown;
}

document.body.addEventListener("timebase-changed", async () => {
  await stage.extend(await loadFrames(root.dataset.frames));
  await reload("parts");
  stage.show(stage.shown);
});

// ---- a recording whose copy is still being made ----

async function grow() {
  if (stage.frames.whole) return;
  try {
    const longer = await loadFrames(root.dataset.frames);
    if (longer.last !== stage.last || longer.whole) {
      const whole = longer.whole;
      await stage.extend(longer);
      await reload("parts");
      tell(
        whole ? "All of the recording can be watched now." : `You can now watch up to frame ${stage.last}.`,
      );
    }
  } catch {
    // No connection, or the preparation failed: what is there stays.
  }
  setTimeout(grow, 2000);
}

keepPlace(stage, `${root.dataset.url}place`, token);

// ---- the rope ----

const rope = new Rope(document.getElementById("rope-frame"), stage, () => known.marks, {
  fetch: () => reload("rope"),
  moved: async (id, frame) => {
    choose(id);
    await send(`marks/${id}/move`, { frame, follow: "1" });
  },
  chosen: (id) => {
    const found = known.marks.find(([, mark]) => mark === id);
    if (found) goToMark(found);
  },
});

// Somebody, or another tab, may have marked meanwhile.
document.addEventListener("visibilitychange", () => {
  if (!document.hidden && !outbox.items.length) reload("parts");
});

let fetching = false;
/** Fetches the rope, or all parts, for the shown frame. */
async function reload(what) {
  fetching = true;
  try {
    const query = new URLSearchParams(/** @type {any} */ (wishes()));
    const answer = await fetch(`${root.dataset.url}${what}?${query}`, { headers: { "HX-Request": "true" } });
    if (answer.ok) {
      show(await answer.text());
      refresh();
    }
  } catch {
    tell("No connection: the timeline is unchanged.", true);
  } finally {
    fetching = false;
  }
}

/** The lane of the chosen mark, else of the arm that is marked. */
function laneOfChosen() {
  const found = known.marks.find(([, id]) => id === chosen);
  return found ? laneName(found[2], found[3]) : arm;
}

function toggleLane(name) {
  const shown = rope.toggleLane(name);
  tell(`${name === "both" ? "Arms" : name[0].toUpperCase() + name.slice(1)}: ${shown ? "shown" : "hidden"}.`);
}

// ---- keeping the page true ----

function press(action, matches) {
  for (const button of root.querySelectorAll(`[data-do="${action}"]`)) {
    const pressed = String(matches(button.dataset));
    if (button.getAttribute("aria-pressed") !== pressed) button.setAttribute("aria-pressed", pressed);
  }
}

const definitions = JSON.parse(root.dataset.definitions);
const names = JSON.parse(root.dataset.names);
/** What an event is called on the page; its token is what the server knows it by. */
const nameOf = (event) => names[event] ?? event;

/** What the event on the amber button is: where its mark belongs. */
function means(event) {
  for (const figure of document.getElementById("means-figures").children) {
    figure.hidden = figure.dataset.figure !== event;
  }
  document.getElementById("means-event").textContent =
    `${nameOf(event).charAt(0).toUpperCase()}${nameOf(event).slice(1)}:`;
  document.getElementById("means").textContent =
    `${definitions[event] ?? ""}${stage.playing ? " Keys mark while it plays, too." : ""}`;
}

function refresh() {
  document.getElementById("next-event").textContent = nameOf(expectedArm());
  document.getElementById("next-side").textContent = armSide();
  document.getElementById("next-breath").textContent = nameOf(expectedBreath());
  means(expectedArm());
  for (const place of root.querySelectorAll("[data-arm-now]")) place.textContent = arm;
  press("arm", (d) => d.side === arm);
  press("breath-side", (d) => d.side === breathSide);
  // An answer asked for before the order was turned may come after it.
  press("doubt-first", () => proposals.doubtFirst);
  rope.choose(chosen);
  for (const button of root.querySelectorAll('[data-do="nudge"], [data-do="remove"]')) {
    button.disabled = chosen === null;
  }
  if (!rope.follow() && !fetching) reload("rope");
}

stage.addEventListener("frame", () => {
  for (const link of root.querySelectorAll("a[data-with-frame]")) {
    link.search = `?frame=${stage.shown}`;
  }
  refresh();
});

showState(stage, root, clock);
stage.setSpeed(stage.speed);

const query = new URLSearchParams(location.search);
const asked = query.get("frame");
const start = Number(asked ?? root.dataset.place);
await stage.open(document.getElementById("still"));
await stage.goto(Number.isFinite(start) ? start : stage.first);
look.show();
if (query.has("panel")) drawing.toggle(query.get("panel"));
root.dataset.ready = "true";
grow();
outbox.start();
drawing.outbox.start();
// For tests and for whoever looks at the page from the console.
window.norvik = { stage, outbox, view, sound, drawing };
