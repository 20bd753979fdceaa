// The bench: stage, marking, rope. The server computes; this file shows and sends.

import { Stage, clock, loadFrames } from "./stage.js";
import { TRANSPORT_KEYS, connect, showState, transportActions } from "./transport.js";
import { Outbox } from "./outbox.js";

const root = document.getElementById("bench");
const token = document.querySelector('meta[name="csrf-token"]').content;
const stage = new Stage(document.getElementById("film"), await loadFrames(root.dataset.frames));
const place = `norvik-frame-${root.dataset.clip}`;

const oneLane = root.dataset.arms === "both";
let arm = oneLane ? "both" : (sessionStorage.getItem("norvik-arm") ?? "right");
let breathSide = oneLane ? "front" : (sessionStorage.getItem("norvik-breath") ?? "right");
/** The side that an arm's mark is sent with: none where both arms move together. */
const armSide = () => (oneLane ? "" : arm);
let chosen = null;
let span = null;

const state = () => JSON.parse(document.getElementById("bench-state").textContent);
let known = state();

// ---- what the server answers ----

function received(html, fine, values) {
  if (!fine) {
    const sentence = new DOMParser().parseFromString(html, "text/html").body.textContent.trim();
    tell(sentence, true);
    return;
  }
  replaceParts(html);
  const { mark, frame } = document.getElementById("told").dataset;
  if (mark) chosen = Number(mark);
  else if (!known.marks.some(([, id]) => id === chosen)) chosen = null;
  if (values.follow && frame !== undefined) stage.goto(Number(frame));
  refresh();
}

/** Brings the page to what the server answered; what is alike stays as it is, unpainted. */
function replaceParts(html) {
  const answer = document.createElement("template");
  answer.innerHTML = html;
  for (const fresh of [...answer.content.children]) bring(document.getElementById(fresh.id), fresh);
  known = state();
}

function bring(old, fresh) {
  const parts = [...fresh.querySelectorAll("[data-part]")];
  if (!parts.length) {
    old.replaceWith(fresh);
    return;
  }
  for (const holder of [fresh, ...fresh.querySelectorAll(":scope > svg")]) {
    const there = holder === fresh ? old : old.querySelector(":scope > svg");
    for (const { name, value } of holder.attributes) {
      if (there.getAttribute(name) !== value) there.setAttribute(name, value);
    }
  }
  for (const part of parts) {
    const there = old.querySelector(`[data-part="${part.dataset.part}"]`);
    if (!there.isEqualNode(part)) there.replaceWith(part);
  }
}

function tell(sentence, bad = false) {
  const told = document.getElementById("told");
  told.textContent = sentence;
  told.classList.toggle("text-caution-light", bad);
}

const outbox = new Outbox(`clip-${root.dataset.clip}`, token, received, (s) => tell(s, true));

function send(path, values) {
  const all = { frame: stage.shown, ...values };
  if (span !== null) all.span = span;
  return outbox.send(`${root.dataset.url}${path}`, all);
}

// ---- marking ----

/** The frame that is seen: a mark pressed while frames still arrive waits for the last wish. */
async function seenFrame() {
  return stage.playing ? stage.shown : stage.settled();
}

async function mark(lane, side, event) {
  const frame = await seenFrame();
  await send("marks", { frame, lane, side, event });
}

function expectedAt(list, frame) {
  let event = list[0][1];
  for (const [from, next] of list) if (from <= frame) event = next;
  return event;
}

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
  const found = known.marks.find(([, mark]) => mark === id);
  if (found) tell(`${found[3]} ${found[4]}, frame ${found[0]}`.trim());
  refresh();
}

function neighbour(direction) {
  const later = known.marks.filter(([f]) => (direction > 0 ? f > stage.wish : f < stage.wish));
  const next = direction > 0 ? later[0] : later.at(-1);
  if (!next) {
    tell(direction > 0 ? "No mark after this frame." : "No mark before this frame.");
    return;
  }
  stage.goto(next[0]).then(() => choose(next[1]));
}

function needChosen(then) {
  if (chosen === null) tell("Choose a mark first: press it on the rope, or go to it with [ and ].");
  else then(known.marks.find(([, id]) => id === chosen));
}

async function nudge(frames) {
  needChosen(async ([frame, id]) => {
    const to = stage.clamp(frame + frames);
    await send(`marks/${id}/move`, { frame: to, follow: "1" });
  });
}

/** Click on a number: show the frames it rests on, one after the other. */
function walk(button) {
  const frames = JSON.parse(button.dataset.frames);
  if (!frames.length) return;
  const next = frames.find((f) => f > stage.shown) ?? frames[0];
  stage.goto(next);
  tell(`${button.dataset.name}: ${frames.indexOf(next) + 1} of ${frames.length}, frame ${next}`);
}

const actions = {
  ...transportActions(stage),
  next: () => mark("arm", armSide(), expectedArm()),
  event: (_, button) => mark("arm", armSide(), button.dataset.event),
  leg: (_, button) => mark("leg", "", button.dataset.event),
  breath: () => breathEvent(expectedBreath()),
  "breath-event": (_, button) => breathEvent(button.dataset.event),
  bubbles,
  beat,
  arm: (_, button) => setArm(button.dataset.side),
  "breath-side": (_, button) => setBreath(button.dataset.side),
  undo: () => send("undo", { follow: "1" }),
  redo: () => send("redo", { follow: "1" }),
  "mark-before": () => neighbour(-1),
  "mark-after": () => neighbour(1),
  nudge,
  remove: () => needChosen(([, id]) => send(`marks/${id}/delete`, {})),
  walk: (_, button) => walk(button),
  zoom: (by) => zoom(by),
  keys: () => document.getElementById("keys").showModal(),
  "go-frame": (frame) => stage.goto(frame),
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

connect(keyActions, {
  ...TRANSPORT_KEYS,
  f: ["next"],
  v: ["breath"],
  t: ["breath-turn"],
  a: ["breath-air"],
  d: ["breath-down"],
  z: ["undo"],
  y: ["redo"],
  "Ctrl+z": ["undo"],
  "Ctrl+y": ["redo"],
  "Ctrl+Shift+z": ["redo"],
  "[": ["mark-before"],
  "]": ["mark-after"],
  "Ctrl+ArrowLeft": ["nudge", -1],
  "Ctrl+ArrowRight": ["nudge", 1],
  Delete: ["remove"],
  Backspace: ["remove"],
  "+": ["zoom", 0.5],
  "-": ["zoom", 2],
  "?": ["keys"],
  "Shift+?": ["keys"],
});

// ---- rope ----

const head = document.getElementById("playhead");
const rope = () => document.getElementById("rope");

function ropeStretch() {
  const { from, to, label } = rope().dataset;
  return { from: Number(from), to: Number(to), label: Number(label) };
}

/** Where an instant lies across the rope, 0 to 1 of its whole width. */
function across(seconds) {
  const { from, to, label } = ropeStretch();
  return label + ((1 - label) * (seconds - from)) / (to - from);
}

function timeAt(clientX) {
  const box = rope().getBoundingClientRect();
  const { from, to, label } = ropeStretch();
  const share = ((clientX - box.left) / box.width - label) / (1 - label);
  return from + Math.min(1, Math.max(0, share)) * (to - from);
}

let fetching = false;
async function follow() {
  const { from, to } = ropeStretch();
  const now = stage.time();
  const inside = now >= from - 1e-6 && now <= to + 1e-6;
  head.hidden = !inside;
  if (inside) head.style.setProperty("--at", `${100 * across(now)}%`);
  else if (!fetching) await reloadRope();
}

async function reloadRope() {
  fetching = true;
  try {
    const query = new URLSearchParams({ frame: stage.shown, ...(span === null ? {} : { span }) });
    const answer = await fetch(`${root.dataset.url}rope?${query}`, { headers: { "HX-Request": "true" } });
    if (answer.ok) {
      replaceParts(await answer.text());
      refresh();
    }
  } catch {
    tell("No connection: the rope stays as it was.", true);
  } finally {
    fetching = false;
  }
}

function zoom(by) {
  const { from, to } = ropeStretch();
  const whole = Number(rope().dataset.whole);
  span = Math.min(whole, Math.max(1, (to - from) * by));
  reloadRope();
}

const frame = document.getElementById("rope-frame");
let drag = null;
/** The mark under the pointer: in its lane, within a finger's width. */
function markAt(event) {
  const { laneHeight, height, lanes } = rope().dataset;
  const box = rope().getBoundingClientRect();
  const lane = Math.floor((((event.clientY - box.top) / box.height) * height) / laneHeight);
  if (lane >= Number(lanes)) return null;
  const reach = event.pointerType === "touch" ? 14 : 7;
  const x = event.clientX - box.left;
  let nearest = null;
  for (const [markFrame, id, , , , row] of known.marks) {
    const off = Math.abs(across(stage.time(markFrame)) * box.width - x);
    if (row === lane && off <= reach && (!nearest || off < nearest.off)) nearest = { id, off };
  }
  return nearest?.id ?? null;
}

frame.addEventListener("pointerdown", (event) => {
  frame.setPointerCapture(event.pointerId);
  drag = { id: markAt(event), moved: false, x: event.clientX };
  if (drag.id === null) stage.goto(stage.frameAt(timeAt(event.clientX)));
});
frame.addEventListener("pointermove", (event) => {
  if (!drag || (!drag.moved && Math.abs(event.clientX - drag.x) < 4)) return;
  drag.moved = true;
  stage.goto(stage.frameAt(timeAt(event.clientX)));
});
frame.addEventListener("pointerup", async () => {
  if (!drag) return;
  const { id, moved } = drag;
  drag = null;
  if (id === null) return;
  if (moved) {
    const to = await stage.settled();
    choose(id);
    await send(`marks/${id}/move`, { frame: to, follow: "1" });
  } else {
    const found = known.marks.find(([, mark]) => mark === id);
    if (found) stage.goto(found[0]).then(() => choose(id));
  }
});
// ---- keeping the page true ----

function press(action, matches) {
  for (const button of root.querySelectorAll(`[data-do="${action}"]`)) {
    button.setAttribute("aria-pressed", String(matches(button.dataset)));
  }
}

function refresh() {
  document.getElementById("next-event").textContent = expectedArm();
  document.getElementById("next-side").textContent = armSide();
  document.getElementById("next-breath").textContent = expectedBreath();
  press("arm", (d) => d.side === arm);
  press("breath-side", (d) => d.side === breathSide);
  const before = rope().querySelector(".chosen");
  if (before?.dataset.mark !== String(chosen)) {
    before?.classList.remove("chosen");
    rope().querySelector(`[data-mark="${chosen}"]`)?.classList.add("chosen");
  }
  for (const button of root.querySelectorAll('[data-do="nudge"], [data-do="remove"]')) {
    button.disabled = chosen === null;
  }
  follow();
}

stage.addEventListener("frame", () => {
  if (!stage.playing) sessionStorage.setItem(place, String(stage.shown));
  for (const link of root.querySelectorAll("a[data-with-frame]")) {
    link.search = `?frame=${stage.shown}`;
  }
  refresh();
});

showState(stage, root, clock);
stage.setSpeed(stage.speed);

const asked = new URLSearchParams(location.search).get("frame");
const start = Number(asked ?? sessionStorage.getItem(place) ?? 0);
if (stage.video.readyState < 1) {
  await new Promise((resolve) => stage.video.addEventListener("loadedmetadata", resolve, { once: true }));
}
await stage.goto(Number.isFinite(start) ? start : 0);
root.dataset.ready = "true";
// For tests and for whoever looks at the page from the console.
window.norvik = { stage, outbox };
