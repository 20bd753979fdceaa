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
import { Marking } from "./marking.js";
import { NextEvent } from "./next-event.js";
import { keepPlace } from "./place.js";
import { Proposals } from "./proposals.js";
import { ReadMeasures } from "./read-measures.js";
import { RemarkDialog } from "./remark.js";
import { Rope } from "./rope.js";
import { replaceParts, sentenceOf } from "./parts.js";
import { followReading, showSwimmer } from "./reading.js";
import { talkActions } from "./talk-bar.js";
import { talkOnBench } from "./talk-on-page.js";
import { TimeBase } from "./time-base.js";
import { Told } from "./told.js";
import { Topics } from "./topics.js";
import { Tracks } from "./tracks.js";
import { View } from "./view.js";
import { WallMenu } from "./wall.js";

const root = document.getElementById("bench");
const part = (id) => root.querySelector(`#${id}`);
const token = document.querySelector('meta[name="csrf-token"]').content;
const stage = new Stage(part("film"), await loadFrames(root.dataset.frames));
const oneLane = root.dataset.arms === "both";

const surface = part("main");
const view = new View(surface, part("picture"), `norvik-look-${root.dataset.recording}`);
const topics = new Topics(root, () => reload("parts"));
const sound = new Sound(stage, root.querySelector('[data-do="sound"]'));
new Filmstrip(part("filmstrip"), stage);
const nextEvent = new NextEvent(root);
const nameOf = (event) => nextEvent.nameOf(event);
const { tell } = new Told(() => part("told"));

const state = () => JSON.parse(part("bench-state").textContent);
let known = state();

// ---- what the server answers ----

function received(html, fine, values) {
  const late = marking.takeOvertaken();
  if (!fine) {
    // A refused move has been shown already.
    reload("parts").then(() => tell(sentenceOf(html), true));
    return;
  }
  show(html);
  const { mark, frame } = part("told").dataset;
  marking.answered(mark, late);
  // Who has gone to another mark meanwhile is not taken back.
  if (values.follow && frame !== undefined && !late) stage.goto(Number(frame));
  if (values.confirmed) proposals.next();
  refresh();
}

function show(html) {
  replaceParts(html);
  known = state();
  marking.applyMoves();
  topics.show();
  rope.showLanes();
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

const marking = new Marking(stage, outbox, () => known, oneLane, {
  send,
  tell,
  nameOf,
  changed: () => refresh(),
  rope: () => rope,
});

const proposals = new Proposals(stage, () => known.proposals, {
  tell,
  nameOf,
  seen: () => marking.seenFrame(),
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
  side: () => marking.armSide,
});

const readMeasures = new ReadMeasures(stage, drawing, { tell, reload: () => reload("parts") });

/** Enter: the measure on the picture, else the next mark that is proposed, and then the measures. */
function confirm() {
  if (readMeasures.active) return readMeasures.confirm();
  return proposals.open.length || !readMeasures.list.length ? proposals.confirm() : readMeasures.next();
}

const tracks = new Tracks(root, stage, drawing, {
  tell,
  side: () => marking.armSide,
  changed: () => reload("parts"),
});

const wall = new WallMenu(root, stage, () => known, {
  expected: () => marking.expected("wall"),
  nameOf,
  pass: (metres) => marking.mark("course", "", "pass", { metres }),
});

const timeBase = new TimeBase(root, stage, { tell, reload: () => reload("parts") });

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
  next: () => marking.nextArm(),
  event: (_, button) => marking.armEvent(button.dataset.event),
  leg: (_, button) => marking.mark("leg", "", button.dataset.event),
  breath: () => marking.nextBreath(),
  "breath-event": (_, button) => marking.breathEvent(button.dataset.event),
  bubbles: () => marking.bubbles(),
  beat: () => marking.beat(),
  arm: (_, button) => marking.setArm(button.dataset.side),
  "breath-side": (_, button) => marking.setBreath(button.dataset.side),
  undo: () => (drawing.open ? drawing.send("undo", {}) : send("undo", { follow: "1" })),
  redo: () => (drawing.open ? drawing.send("redo", {}) : send("redo", { follow: "1" })),
  "mark-before": () => marking.neighbour(-1),
  "mark-after": () => marking.neighbour(1),
  nudge: (frames) => marking.nudge(frames),
  remove: () =>
    drawing.open && drawing.item ? drawing.send(`${drawing.item.id}/delete`, {}) : marking.remove(),
  "remove-cycle": () => marking.removeCycle(),
  walk: (_, button) => walk(button),
  zoom: (by) => rope.zoom(by),
  lane: (_, link) => toggleLane(link.dataset.name),
  "hide-lane": () => toggleLane(marking.lane),
  keys: () => document.getElementById("keys").showModal(),
  "about-numbers": () => aboutNumbers(topics.open, tell),
  "same-before": () => marking.sameKind(-1),
  "same-after": () => marking.sameKind(1),
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
  "open-series": () =>
    window.open(`${root.dataset.url}stills/series.png?frame=${stage.shown}&side=${marking.arm}`),
  time: () => timeBase.toggle(),
  "time-here": (_, button) => timeBase.here(button.dataset.into),
  "go-frame": (frame) => stage.goto(frame),
  "wall-menu": () => wall.toggle(),
  wall: (_, button) => {
    wall.toggle(false);
    return marking.mark("wall", "", button.dataset.event);
  },
  "wall-next": () => marking.nextWall(),
  pass: () => wall.askForPass(),
  confirm,
  "skip-proposal": () => (readMeasures.active ? readMeasures.skip() : proposals.skip()),
  "check-measures": (_, { dataset }) => readMeasures.next(dataset.name ?? null),
  "breath-left": () => marking.setBreath("left"),
  "breath-right": () => marking.setBreath("right"),
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

const keyActions = {
  ...actions,
  ...Object.fromEntries(
    ["turn", "air", "down"].map((event) => [`breath-${event}`, () => marking.breathEvent(event)]),
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

keepPlace(stage, `${root.dataset.url}place`, token);

// ---- the rope ----

const rope = new Rope(part("rope-frame"), stage, () => known.marks, {
  fetch: () => reload("rope"),
  moved: (id, frame) => marking.moved(id, frame),
  chosen: (id) => marking.goToId(id),
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

function refresh() {
  nextEvent.show({
    event: marking.expectedArm,
    side: marking.armSide,
    breath: marking.expected("breath"),
    playing: stage.playing,
  });
  for (const place of root.querySelectorAll("[data-arm-now]")) place.textContent = marking.arm;
  press("arm", (d) => d.side === marking.arm);
  press("breath-side", (d) => d.side === marking.breathSide);
  // An answer asked for before the order was turned may come after it.
  press("doubt-first", () => proposals.doubtFirst);
  rope.choose(marking.chosen);
  for (const button of root.querySelectorAll('[data-do="nudge"], [data-do="remove"]')) {
    button.disabled = marking.chosen === null;
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
await stage.open(part("still"));
await stage.goto(Number.isFinite(start) ? start : stage.first);
look.show();
if (query.has("panel")) drawing.toggle(query.get("panel"));
root.dataset.ready = "true";
timeBase.grow();
outbox.start();
drawing.outbox.start();
// For tests and for whoever looks at the page from the console.
window.norvik = { stage, outbox, view, sound, drawing };
