// Mending a talk: playing it back, cutting, speaking on, chapters and captions.

import { typing } from "./transport.js";
import { TalkPlayer } from "./talk-player.js";
import { Waiting } from "./talk-waiting.js";

const root = document.getElementById("mend");
/** Whoever may only watch has no keys and no buttons that change anything. */
const mends = "mends" in root.dataset;
const token = document.querySelector('meta[name="csrf-token"]').content;
const told = document.getElementById("told");
const line = document.getElementById("talk-line");
const player = new TalkPlayer(document.getElementById("talk-stage"), document.getElementById("talk-sound"));
const parts = document.getElementById("talk-parts");
let cut = null;

const clock = (ms) => `${Math.floor(ms / 60000)}:${((ms % 60000) / 1000).toFixed(1).padStart(4, "0")}`;

function tell(sentence) {
  told.textContent = sentence;
}

async function reload() {
  const answer = await fetch(root.dataset.score, { headers: { Accept: "application/json" } });
  if (!answer.ok) {
    tell("The talk could not be loaded. Reload the page.");
    return;
  }
  await player.load(await answer.json());
  drawLine();
}

/** Posts values to the talk; what stands beside the picture comes back. */
async function post(path, values, file = null) {
  const body = file ?? new URLSearchParams(values);
  let answer;
  try {
    answer = await fetch(`${root.dataset.url}${path}`, {
      method: "POST",
      body,
      headers: { "X-CSRFToken": token, "HX-Request": "true" },
    });
  } catch {
    tell("No connection: nothing was changed. Try again.");
    return;
  }
  const html = await answer.text();
  if (!answer.ok) {
    tell(new DOMParser().parseFromString(html, "text/html").body.textContent.trim());
    return;
  }
  parts.innerHTML = html;
  window.htmx?.process(parts);
  tell(parts.querySelector("[data-said]")?.dataset.said ?? "");
  cut = null;
  await reload();
}

// ---- the line: pieces, chapters, playhead ----

function drawLine() {
  const { length } = player.score;
  const share = (ms) => `${(100 * ms) / Math.max(1, length)}%`;
  const made = player.score.pieces.map(({ at, end }, n) => {
    const piece = document.createElement("i");
    piece.className = "talk-piece";
    piece.style.left = share(at);
    piece.style.width = share(end - at);
    piece.title = `Part ${n + 1}`;
    return piece;
  });
  for (const [from, , words] of player.score.chapters) {
    const mark = document.createElement("button");
    mark.type = "button";
    mark.className = "talk-chapter";
    mark.style.left = share(from);
    mark.title = words;
    mark.setAttribute("aria-label", `Chapter: ${words}`);
    mark.addEventListener("click", () => player.seek(from));
    made.push(mark);
  }
  if (cut) {
    const taken = document.createElement("i");
    taken.className = "talk-cut";
    const [from, to] = [Math.min(cut.from, cut.to ?? cut.from), Math.max(cut.from, cut.to ?? cut.from)];
    taken.style.left = share(from);
    taken.style.width = share(Math.max(length / 400, to - from));
    made.push(taken);
  }
  line.querySelector(".talk-track").replaceChildren(...made);
  showTime();
}

function showTime() {
  const { ms, score } = player;
  if (!score) return;
  line.querySelector("input").max = String(score.length);
  line.querySelector("input").value = String(ms);
  document.getElementById("talk-time").textContent = `${clock(ms)} / ${clock(score.length)}`;
  document.getElementById("talk-caption").textContent = score.wordsAt(score.captions, ms);
  document.getElementById("talk-about").textContent = score.wordsAt(score.chapters, ms);
  const play = root.querySelector('[data-do="toggle"]');
  play.toggleAttribute("data-playing", player.playing);
  play.setAttribute("aria-label", player.playing ? "Pause" : "Play");
  if (mends) root.querySelector('[data-do="cut"]').disabled = cut?.to === undefined;
}

player.addEventListener("time", showTime);
line.querySelector("input").addEventListener("input", (event) => player.seek(Number(event.target.value)));

/** To where something begins, before or after the place that is shown. */
function jump(direction) {
  const places = [0, ...player.score.chapters.map(([at]) => at), player.score.length];
  const found =
    direction > 0 ? places.find((at) => at > player.ms + 50) : places.findLast((at) => at < player.ms - 400);
  if (found !== undefined) player.seek(found);
}

const speak = (how) => location.assign(`${root.dataset.url}speak?at=${Math.round(player.ms)}&how=${how}`);

const actions = {
  toggle: () => player.toggle(),
  "cut-from": () => {
    cut = { from: player.ms };
    tell(`From ${clock(player.ms)}. Go to where the cut ends and press O.`);
    drawLine();
  },
  "cut-to": () => {
    cut = { from: cut?.from ?? 0, to: player.ms };
    tell(`${clock(Math.abs(cut.to - cut.from))} min. Press X to cut it out.`);
    drawLine();
  },
  cut: () => cut?.to !== undefined && post("cut", { from: cut.from, to: cut.to }),
  trim: () => post("trim", {}),
  undo: () => post("undo", {}),
  redo: () => post("redo", {}),
  on: () => speak("on"),
  between: () => speak("between"),
  jump,
  seek: (by) => player.seek(player.ms + 1000 * by),
  go: (ms) => player.seek(ms),
  caption: () => document.getElementById("caption-words").focus(),
};

const KEYS = {
  " ": ["toggle"],
  ArrowLeft: ["seek", -2],
  ArrowRight: ["seek", 2],
  "[": ["jump", -1],
  "]": ["jump", 1],
  ...(mends && {
    i: ["cut-from"],
    o: ["cut-to"],
    x: ["cut"],
    z: ["undo"],
    y: ["redo"],
    c: ["caption"],
  }),
};

root.addEventListener("click", (event) => {
  const button = event.target.closest("[data-do]");
  if (!button || button.disabled) return;
  if (event.detail) button.blur();
  actions[button.dataset.do](button.dataset.by === undefined ? undefined : Number(button.dataset.by));
});
document.addEventListener("keydown", (event) => {
  if (typing(event) || event.ctrlKey || event.altKey || event.metaKey) return;
  if (event.key === " " && event.target.closest("button, a, summary")) return;
  const found = KEYS[event.key.length === 1 ? event.key.toLowerCase() : event.key];
  if (!found) return;
  event.preventDefault();
  actions[found[0]](found[1]);
});
root.addEventListener("submit", (event) => {
  const form = /** @type {HTMLFormElement} */ (event.target);
  if (form.dataset.save) event.preventDefault();
  if (!form.dataset.post) return;
  event.preventDefault();
  const values = Object.fromEntries(new FormData(form));
  if ("at" in form.dataset) values.from = String(player.ms);
  post(form.dataset.post, values).then(() => form.isConnected && form.reset());
});
root.addEventListener("change", (event) => {
  const form = event.target.closest("form[data-save]");
  if (form) post(form.dataset.save, Object.fromEntries(new FormData(form)));
});

// What another page recorded may still wait in this browser.
const waiting = new Waiting(token);
let waited = false;
waiting.addEventListener("change", ({ detail }) => {
  if (detail.sentence) tell(detail.sentence);
  if (detail.count) waited = true;
  else if (waited) {
    waited = false;
    post("parts-now", {});
  }
});

await waiting.pump();
await reload();
root.dataset.ready = "true";
window.norvik = { player };
