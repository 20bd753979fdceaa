// Cutting a recording into parts: in, out, next. The server keeps every step at once.

import { Filmstrip } from "./filmstrip.js";
import { Stage, clock, loadFrames } from "./stage.js";
import { TRANSPORT_KEYS, connect, showState, transportActions } from "./transport.js";

const root = document.getElementById("cut");
const token = document.querySelector('meta[name="csrf-token"]').content;
const stage = new Stage(document.getElementById("film"), await loadFrames(root.dataset.frames));
const spans = document.getElementById("spans");
const begun = document.getElementById("begun");
const holder = document.getElementById("parts-holder");
/** Frame on which the part that is being cut begins. */
let from = null;

const parts = () =>
  document
    .getElementById("parts")
    .dataset.parts.split(",")
    .filter(Boolean)
    .map((part) => part.trim().split(" ").map(Number));

/** The part under the playhead: the last one that begins before it. */
const here = () => parts().findLast(([, first, last]) => first <= stage.shown && stage.shown <= last);

function tell(sentence, bad = false) {
  const told = document.getElementById("told");
  told.textContent = sentence;
  told.classList.toggle("text-caution-light", bad);
}

/** @type {Promise<boolean | void>} */
let last = Promise.resolve();
/** One step after the other; gives true when the server kept it. */
function send(path, values = {}) {
  last = last.then(async () => {
    let answer;
    try {
      answer = await fetch(`${root.dataset.url}${path}`, {
        method: "POST",
        body: new URLSearchParams(values),
        headers: { "X-CSRFToken": token, "HX-Request": "true" },
      });
    } catch {
      tell("No connection: this step was not saved. Try again.", true);
      return false;
    }
    const html = await answer.text();
    if (!answer.ok) {
      tell(new DOMParser().parseFromString(html, "text/html").body.textContent.trim(), true);
      return false;
    }
    take(html);
    return true;
  });
  return last;
}

function take(html) {
  const answer = document.createElement("template");
  answer.innerHTML = html;
  for (const fresh of [...answer.content.children]) {
    document.getElementById(fresh.id).replaceWith(fresh);
  }
  draw();
}

// ---- in, out, next ----

function setIn(frame = stage.shown) {
  from = frame;
  draw();
}

async function cut() {
  if (from === null) {
    tell("Press I where the part starts, then O where it ends.");
    return false;
  }
  const frame = await stage.settled();
  const before = parts().at(-1);
  const row = before && document.querySelector(`[data-part-id="${before[0]}"]`);
  const stroke = row?.querySelector('[name="stroke"]').value ?? "freestyle";
  const done = await send("parts", { first: from, last: frame, stroke });
  if (done) {
    from = null;
    draw();
  }
  return done;
}

/** After a cut the coach says who it was: the list is open to a name's first letters. */
async function out() {
  if (!(await cut())) return;
  const row = document.querySelector("[data-touched]");
  row?.scrollIntoView({ block: "nearest" });
  row?.querySelector('[name="swimmer_id"]').focus();
}

async function next() {
  const frame = await stage.settled();
  if (from === null) setIn(frame);
  else if (await cut()) setIn(Math.min(stage.last, frame + 1));
}

async function edge(which) {
  const part = here() ?? nearest();
  if (!part) {
    tell("No part here.");
    return;
  }
  await send(`parts/${part[0]}`, { [which]: await stage.settled() });
}

/** The part whose edge lies nearest to the playhead. */
function nearest() {
  /** @param {number[]} part */
  const apart = ([, first, end]) => Math.min(Math.abs(first - stage.shown), Math.abs(end - stage.shown));
  return parts().sort((a, b) => apart(a) - apart(b))[0];
}

// ---- drawing ----

function span(first, end, name) {
  const made = document.createElement("div");
  made.className = name;
  const share = (frame) => ((frame - stage.first) / Math.max(1, stage.last - stage.first)) * 100;
  made.style.left = `${share(first)}%`;
  made.style.width = `${Math.max(0.15, share(end) - share(first))}%`;
  return made;
}

function draw() {
  const all = parts().map(([id, first, end], n) => {
    const made = span(first, end, "span");
    made.textContent = String(n + 1);
    made.classList.toggle("here", here()?.[0] === id);
    return made;
  });
  if (from !== null) all.push(span(Math.min(from, stage.shown), Math.max(from, stage.shown), "span begun"));
  spans.replaceChildren(...all);
  begun.textContent =
    from === null ? "no part started" : `from ${from}: ${Math.max(0, stage.shown - from + 1)} frames`;
  for (const row of document.querySelectorAll(".part-row")) {
    row.classList.toggle("here", Number(row.dataset.partId) === here()?.[0]);
  }
  // What is probably wanted next.
  for (const [name, now] of [
    ["in", from === null],
    ["out", from !== null],
  ]) {
    root.querySelector(`[data-do="${name}"]`).classList.toggle("key-now", now);
  }
  // Undo comes with the parts and stands in the bar.
  const undo = document.getElementById("cut-undo");
  const place = document.getElementById("cut-undo-holder");
  if (undo.parentElement !== place) place.replaceChildren(undo);
}

document.addEventListener("change", (event) => {
  const row = event.target.closest(".part-row");
  if (!row) return;
  send(`parts/${row.dataset.partId}`, { [event.target.name]: event.target.value });
});
// Enter or Escape in a name: back to the film.
holder.addEventListener("keydown", (event) => {
  if (event.target.matches("select") && (event.key === "Enter" || event.key === "Escape")) {
    event.preventDefault();
    event.target.blur();
  }
});

const actions = {
  ...transportActions(stage),
  in: () => setIn(),
  out,
  next,
  edge: (_, button) => edge(button.dataset.edge),
  "edge-first": () => edge("first"),
  "edge-last": () => edge("last"),
  undo: () => send("undo"),
  redo: () => send("redo"),
  "part-gone": (_, button) => send(`parts/${button.dataset.partId}`, { gone: "1" }),
  "cut-seen": (_, { dataset }) => {
    const { first, last: end, stroke } = dataset;
    return send("parts", { first, last: end, stroke });
  },
  "part-here-gone": () => {
    const part = here();
    if (part) send(`parts/${part[0]}`, { gone: "1" });
    else tell("No part here.");
  },
  "go-frame": (frame) => stage.goto(frame),
  whole: () => {},
};
const far = Math.max(10, Math.round(stage.rate));
connect(actions, {
  ...TRANSPORT_KEYS,
  PageUp: ["step", -10 * far],
  PageDown: ["step", 10 * far],
  "Ctrl+ArrowLeft": ["step", -far],
  "Ctrl+ArrowRight": ["step", far],
  Home: ["go-frame", 0],
  End: ["go-frame", stage.last],
  i: ["in"],
  o: ["out"],
  n: ["next"],
  q: ["edge-first"],
  w: ["edge-last"],
  z: ["undo"],
  y: ["redo"],
  "Ctrl+z": ["undo"],
  "Ctrl+y": ["redo"],
  Delete: ["part-here-gone"],
});
showState(stage, root, clock);
new Filmstrip(document.getElementById("filmstrip"), stage, draw);
stage.setSpeed(1);
await stage.open(document.getElementById("still"));
await stage.goto(stage.first);
draw();
root.dataset.ready = "true";

async function grow() {
  if (stage.frames.whole) return;
  try {
    const longer = await loadFrames(root.dataset.frames);
    if (longer.last !== stage.last || longer.whole) {
      await stage.extend(longer);
      draw();
      tell(
        longer.whole ? "All of the recording can be cut now." : `You can now cut up to frame ${stage.last}.`,
      );
    }
  } catch {
    // No connection: what is there stays.
  }
  setTimeout(grow, 2000);
}
grow();
window.norvik = { stage };
