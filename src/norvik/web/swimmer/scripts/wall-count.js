// The page for the pool wall: two large buttons. What was counted stays in the browser until the server
// has it, over a lost connection and a closed page.

import { LapCounter } from "./lap-counter.js";

const root = document.getElementById("wall-count");
const by = (name) => document.getElementById(`count-${name}`);
const token = document.querySelector('meta[name="csrf-token"]').content;
const KEPT = `norvik-wall-${root.dataset.swimmer}`;
const WAITING = `norvik-wall-waiting-${root.dataset.swimmer}`;

let counter = LapCounter.restore(JSON.parse(localStorage.getItem(KEPT) ?? "{}"));
let wakeLock = null;
let sending = false;

function keep() {
  if (counter.presses.length) localStorage.setItem(KEPT, JSON.stringify(counter.save()));
  else localStorage.removeItem(KEPT);
}

function row({ seconds, strokes }, n) {
  const made = document.createElement("tr");
  for (const text of [String(n + 1), seconds.toFixed(1), String(strokes)]) {
    const cell = document.createElement("td");
    cell.textContent = text;
    cell.className = made.children.length ? "text-right" : "";
    made.append(cell);
  }
  return made;
}

function show() {
  by("length").textContent = String(counter.lengths.length + (counter.done ? 0 : 1));
  by("strokes").textContent = String(counter.strokes);
  by("time").textContent = counter.running(Date.now()).toFixed(1);
  by("stroke-button").disabled = !counter.swimming;
  by("wall-button").disabled = counter.done;
  by("wall-button").textContent = counter.begun === null ? "Push-off" : "Wall";
  by("undo").disabled = counter.done || !counter.presses.length;
  by("finish").disabled = counter.done || !counter.lengths.length;
  by("new").hidden = !counter.done;
  by("result").hidden = !counter.done;
  root.querySelector(".wall-buttons").hidden = counter.done;
  by("rows").replaceChildren(...counter.lengths.map(row));
}

const tell = (sentence) => (by("told").textContent = sentence);

/** The screen stays on while somebody swims; a browser that cannot do that goes on without. */
async function stayAwake() {
  try {
    wakeLock = counter.swimming ? (wakeLock ?? (await navigator.wakeLock?.request("screen"))) : null;
  } catch {
    wakeLock = null;
  }
}

function press(deed) {
  deed();
  keep();
  show();
  stayAwake();
  navigator.vibrate?.(20);
}

by("stroke-button").addEventListener("pointerdown", () => press(() => counter.stroke()));
by("wall-button").addEventListener("pointerdown", () => press(() => counter.wall(Date.now())));
by("undo").addEventListener("click", () => press(() => counter.undo()));
by("finish").addEventListener("click", () => press(() => counter.finish()));
by("new").addEventListener("click", () => press(() => (counter = new LapCounter())));
document.addEventListener("keydown", (event) => {
  if (event.target.closest("select, input") || event.repeat) return;
  const deed = {
    " ": () => counter.stroke(),
    Enter: () => counter.wall(Date.now()),
    z: () => counter.undo(),
  }[event.key];
  if (!deed || counter.done) return;
  event.preventDefault();
  press(deed);
});
document.addEventListener("visibilitychange", () => document.hidden || stayAwake());

const today = () => new Date(Date.now() - 60_000 * new Date().getTimezoneOffset()).toISOString().slice(0, 10);

/** Sends what waits; a swim leaves the browser only when the server has answered that it has it. */
async function send() {
  const waiting = JSON.parse(localStorage.getItem(WAITING) ?? "null");
  // One at a time: a timer and the news of a connection must not store a swim twice.
  if (!waiting || sending) return;
  sending = true;
  try {
    await sendNow(waiting);
  } finally {
    sending = false;
  }
}

async function sendNow(waiting) {
  let answer;
  try {
    answer = await fetch(waiting.url, {
      method: "POST",
      body: new URLSearchParams(waiting.values),
      headers: { "X-CSRFToken": token },
    });
  } catch {
    tell("No connection: the swim is kept on this phone and will be sent later.");
    setTimeout(send, 5000);
    return;
  }
  const at = new URL(answer.url);
  if (answer.ok && at.pathname.startsWith("/sign-in")) {
    tell("You are signed out. Sign in in another tab; the swim is kept on this phone.");
  } else if (answer.ok) {
    localStorage.removeItem(WAITING);
    localStorage.removeItem(KEPT);
    location.assign(answer.url);
  } else if (answer.status >= 500) {
    tell("Norvik is busy: the swim is kept on this phone and will be sent later.");
    setTimeout(send, 5000);
  } else {
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    localStorage.removeItem(WAITING);
    tell(
      page.querySelector("[role=alert]")?.textContent ??
        "The swim could not be saved. Check the pool length.",
    );
  }
}

function save(url, values) {
  localStorage.setItem(WAITING, JSON.stringify({ url, values }));
  tell("Saving …");
  return send();
}

by("save").addEventListener("click", () =>
  save(root.dataset.swims, {
    swum_on: today(),
    pool_m: by("pool").value,
    stroke: by("stroke").value,
    lengths: counter.lines(),
    total: "",
    note: "counted at the wall",
  }),
);
by("test").addEventListener("click", () =>
  save(root.dataset.tests, {
    test: "stroke-count",
    done_on: today(),
    pool: by("pool").value,
    unit: "m",
    stroke: by("stroke").value,
    rows: counter.testLines(),
    rested: "on",
    note: "counted at the wall",
  }),
);
window.addEventListener("online", send);
setInterval(() => counter.swimming && show(), 100);
show();
send();
