// The squad sheet: one part after the other plays in a loop, and what is seen is a key away.

import { Stage, clock, loadFrames } from "./stage.js";
import { connect, setLoop, showState, transportActions, typing } from "./transport.js";

const root = document.getElementById("squad");
const token = /** @type {HTMLMetaElement} */ (document.querySelector('meta[name="csrf-token"]')).content;
const { parts, sheets } = JSON.parse(document.getElementById("squad-data").textContent);
const stage = new Stage(document.getElementById("film"), await loadFrames(root.dataset.frames));
const search = /** @type {HTMLInputElement} */ (document.getElementById("squad-search"));
const words = /** @type {HTMLFormElement} */ (document.getElementById("own-words"));
const text = /** @type {HTMLInputElement} */ (document.getElementById("own-text"));

let at = 0;
let kind = "swim";
/** Kind of the remark that is being typed. */
let saying = "point";
/** What the keys 1, 2, 3 and backspace speak of: the last tick, [what, side, degree]. */
let last = null;

const part = () => parts[at];
const sheet = () => sheets[`${part().stroke} ${part().view}`];
const items = () => sheet()[kind];
const everything = () => [...sheet().swim, ...sheet().walls];
const named = (what) => everything().find((i) => i.id === what)?.name ?? what;

function tell(sentence, bad = false) {
  const told = document.getElementById("told");
  told.textContent = sentence;
  told.classList.toggle("text-caution-light", bad);
}

// ---- sending: one after the other, each with the part it was said of ----

/** @type {Promise<void>} */
let waiting = Promise.resolve();
/** Answers still to come: what the page shows runs ahead of them. */
let underway = 0;
function send(path, of, values) {
  const frame = stage.shown;
  underway += 1;
  waiting = waiting.then(async () => {
    try {
      const answer = await fetch(`${root.dataset.url}${path}`, {
        method: "POST",
        body: new URLSearchParams({ clip: String(of.clip), frame: String(frame), ...values }),
        headers: { "X-CSRFToken": token, Accept: "application/json" },
      });
      const said = await answer.json();
      if (!answer.ok) tell(said.sentence, true);
      else {
        // The last answer counts: those before it know nothing of what was pressed since.
        if (underway === 1) Object.assign(of, { ticks: said.ticks, remarks: said.remarks });
        tell(said.text);
      }
    } catch {
      tell("No connection: this was not saved. Reload the page to see what was.", true);
    }
    underway -= 1;
    draw();
  });
  return waiting;
}

function sendTick(what, side, degree) {
  const of = part();
  of.ticks = of.ticks.filter((t) => t[0] !== what || t[1] !== side);
  if (degree) of.ticks.push([what, side, degree]);
  draw();
  return send("tick", of, { what, side, degree });
}

function tick(item) {
  const there = part().ticks.some(([what]) => what === item.id);
  last = there ? null : [item.id, "", "clear"];
  if (!there) return sendTick(item.id, "", "clear");
  // Pressed again it goes, on whichever side it was.
  for (const [what, side] of part().ticks) if (what === item.id) sendTick(what, side, "");
  return undefined;
}

/** The last tick on another side, or only slight. */
function finer(change) {
  if (!last) return;
  const [what, side, degree] = last;
  const [newSide, newDegree] = change(side, degree);
  if (newSide && !everything().find((i) => i.id === what)?.sided) {
    tell(`${named(what)} has no side.`);
    return;
  }
  if (newSide !== side) sendTick(what, side, "");
  last = [what, newSide, newDegree];
  sendTick(...last);
}

function takeBack() {
  if (!last) return;
  sendTick(last[0], last[1], "");
  last = null;
}

// ---- parts ----

async function toPart(n) {
  at = Math.min(parts.length - 1, Math.max(0, n));
  last = null;
  kind = "swim";
  search.value = "";
  draw();
  setLoop(stage, { from: part().first, to: part().last });
  await stage.goto(part().first);
  if (!stage.playing) stage.play();
}

// ---- drawing ----

function button(item) {
  const made = document.createElement("button");
  made.type = "button";
  made.className = "squad-item";
  const mine = part().ticks.filter(([what]) => what === item.id);
  made.setAttribute("aria-pressed", String(mine.length > 0));
  const letter = document.createElement("kbd");
  letter.textContent = item.letter.toUpperCase() || "·";
  const sides = mine.map(([, side, degree]) =>
    [side, degree === "slight" ? "slight" : ""].filter(Boolean).join(" "),
  );
  made.append(letter, ` ${item.name}${sides.filter(Boolean).length ? ` (${sides.join(", ")})` : ""}`);
  made.addEventListener("click", () => {
    made.blur();
    tick(item);
  });
  const line = document.createElement("li");
  line.append(made);
  return line;
}

function found() {
  const wanted = search.value.trim().toLowerCase().split(/\s+/).filter(Boolean);
  if (!wanted.length) return items();
  return everything().filter((i) => wanted.every((w) => i.words.includes(w)));
}

function draw() {
  document.getElementById("who").textContent = part().name;
  document.getElementById("which").textContent = `${part().stroke}, ${at + 1} of ${parts.length}`;
  const said = [
    ...part().ticks.map(
      ([what, side, degree]) =>
        `${named(what)}${side ? `, ${side}` : ""}${degree === "slight" ? ", slight" : ""}`,
    ),
    ...part().remarks.map(([what, said]) => `${{ praise: "+", doubt: "?", point: "–" }[what]} ${said}`),
  ];
  document.getElementById("said").replaceChildren(
    ...said.map((words) => {
      const line = document.createElement("li");
      line.textContent = words;
      return line;
    }),
  );
  const shown = found();
  document.getElementById("items-good").replaceChildren(...shown.filter((i) => i.praise).map(button));
  document.getElementById("items-bad").replaceChildren(...shown.filter((i) => !i.praise).map(button));
  document.getElementById("walls-button").setAttribute("aria-pressed", String(kind === "walls"));
  document.getElementById("squad-parts").replaceChildren(
    ...parts.map((p, n) => {
      const line = document.createElement("li");
      const go = document.createElement("button");
      go.type = "button";
      go.className = "squad-part";
      if (n === at) go.setAttribute("aria-current", "true");
      const count = p.ticks.length + p.remarks.length;
      go.textContent = `${n + 1}. ${p.name}, ${p.stroke}: ${count || "nothing"} noted`;
      go.addEventListener("click", () => toPart(n));
      line.append(go);
      return line;
    }),
  );
}

// ---- keys ----

search.addEventListener("input", draw);
search.addEventListener("keydown", (event) => {
  if (event.key === "Enter") {
    const [first] = found();
    if (first) tick(first);
  } else if (event.key !== "Escape") return;
  event.preventDefault();
  search.value = "";
  search.blur();
  draw();
});

function say(what) {
  saying = what;
  words.hidden = false;
  text.placeholder = {
    praise: "What was good",
    point: "What to change",
    doubt: "What another film has to show",
  }[what];
  text.focus();
}
words.addEventListener("submit", (event) => {
  event.preventDefault();
  if (text.value.trim()) send("remark", part(), { text: text.value, kind: saying });
  text.value = "";
  words.hidden = true;
  text.blur();
});
text.addEventListener("keydown", (event) => {
  if (event.key !== "Escape") return;
  text.value = "";
  words.hidden = true;
  text.blur();
});

// Letters belong to the sheet; what is left of the transport's keys stays with the film.
connect(
  {
    ...transportActions(stage),
    part: (by) => toPart(at + by),
    walls: () => {
      kind = kind === "swim" ? "walls" : "swim";
      draw();
    },
  },
  {
    ArrowLeft: ["step", -1],
    ArrowRight: ["step", 1],
    " ": ["toggle"],
    ArrowDown: ["part", 1],
    ArrowUp: ["part", -1],
    Enter: ["part", 1],
    "<": ["speed-step", -1],
    ">": ["speed-step", 1],
    9: ["walls"],
  },
);
document.addEventListener("keydown", (event) => {
  if (typing(event) || event.ctrlKey || event.altKey || event.metaKey) return;
  const { key } = event;
  const item = /^[a-z]$/i.test(key) && items().find((i) => i.letter === key.toLowerCase());
  if (item) tick(item);
  else if (key === "1") finer((_, degree) => ["left", degree]);
  else if (key === "2") finer((_, degree) => ["right", degree]);
  else if (key === "3") finer((side, degree) => [side, degree === "slight" ? "clear" : "slight"]);
  else if (key === "Backspace") takeBack();
  else if (key === "/") search.focus();
  else if (key === "+") say("praise");
  else if (key === "-") say("point");
  else if (key === "?") say("doubt");
  else return;
  event.preventDefault();
});

showState(stage, root, clock);
stage.setSpeed(0.5);
await stage.open(document.getElementById("still"));
await toPart(0);
root.dataset.ready = "true";
window.norvik = { stage };
