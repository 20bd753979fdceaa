// Plays a talk back: the sound leads, and on the screen is what was seen at that moment.

import { Stage, loadFrames } from "./stage.js";
import { Score } from "./talk-score.js";

const SVG = "http://www.w3.org/2000/svg";
const SPEEDS = { 0.0625: "1/16", 0.125: "⅛", 0.25: "¼", 0.5: "½" };

export class TalkPlayer extends EventTarget {
  /** Events: "time". host: where the films are laid; sound: an audio element. */
  constructor(host, sound) {
    super();
    this.host = host;
    this.sound = sound;
    this.slots = new Map();
    this.parsed = new Map();
    this.ms = 0;
    /** Whether play was pressed and the sound has not begun yet. */
    this.starting = false;
    /** Whether it plays on once the new sound of a mended talk is there. */
    this.goesOn = false;
    this.following = false;
    sound.addEventListener("ended", () => this.pause());
    sound.addEventListener("pause", () => this.dispatchEvent(new Event("time")));
    new ResizeObserver(() => this.draw()).observe(host);
  }

  /** Takes over a talk as the server tells it; stays at the same place, and goes on if it was playing. */
  async load(told) {
    // A new source ends the old sound, also one that was started a moment ago.
    this.goesOn ||= this.playing || this.starting;
    this.score = new Score(told);
    this.films = told.films;
    this.parsed.clear();
    this.ms = Math.min(this.ms, this.score.length);
    this.sound.src = told.sound;
    this.sound.currentTime = this.ms / 1000;
    await this.draw();
    this.dispatchEvent(new Event("time"));
    if (this.goesOn) await this.play();
  }

  get playing() {
    return !this.sound.paused;
  }

  async toggle() {
    if (this.playing || this.starting || this.goesOn) this.pause();
    else {
      if (this.ms >= this.score.length - 50) await this.seek(0);
      await this.play();
    }
  }

  async play() {
    this.goesOn = false;
    this.starting = true;
    try {
      await this.sound.play();
    } catch {
      // Paused, or mended in the same moment: then load() plays the new sound.
      return;
    } finally {
      this.starting = false;
    }
    this.follow();
  }

  pause() {
    this.goesOn = false;
    this.sound.pause();
  }

  seek(ms) {
    this.ms = Math.max(0, Math.min(this.score.length, ms));
    this.sound.currentTime = this.ms / 1000;
    this.dispatchEvent(new Event("time"));
    return this.draw();
  }

  /** Shows what was seen while the sound plays; one loop at a time. */
  async follow() {
    if (this.following) return;
    this.following = true;
    try {
      while (this.playing) {
        this.ms = Math.min(this.score.length, 1000 * this.sound.currentTime);
        this.dispatchEvent(new Event("time"));
        await this.draw();
        await new Promise(requestAnimationFrame);
      }
    } finally {
      this.following = false;
    }
  }

  /** A film on its own canvas, opened when it is first seen. */
  slot(film, n) {
    const key = `${n} ${film.clip ?? film.model ?? film.figure}`;
    if (!this.slots.has(key)) this.slots.set(key, this.open(film));
    return this.slots.get(key);
  }

  async open(film) {
    const address = film.clip ? this.films[film.clip] : `/model-films/${film.model}/frames.json`;
    const box = document.createElement("div");
    box.className = "talk-box";
    box.innerHTML =
      '<div class="talk-moved"><video muted playsinline preload="metadata"></video><canvas hidden></canvas></div>';
    const svg = document.createElementNS(SVG, "svg");
    svg.setAttribute("class", "overlay talk-ink");
    svg.setAttribute("viewBox", `0 0 ${film.size[0]} ${film.size[1]}`);
    const spot = document.createElement("div");
    spot.className = "talk-spot";
    const words = document.createElement("p");
    words.className = "talk-title";
    const moved = box.querySelector("div");
    moved.append(svg);
    box.append(spot, words);
    const [video, canvas] = [box.querySelector("video"), box.querySelector("canvas")];
    for (const part of [video, canvas, svg]) {
      part.style.width = `${film.size[0]}px`;
      part.style.height = `${film.size[1]}px`;
    }
    let stage = null;
    // A drawn figure has no film: what is drawn on it is all that there is.
    if (film.figure) {
      for (const part of [video, canvas]) part.remove();
      this.host.append(box);
      return { box, moved, svg, spot, words, stage };
    }
    try {
      const frames = await loadFrames(address);
      video.src = frames.film;
      stage = new Stage(video, frames);
      await stage.open(canvas);
    } catch {
      words.textContent = "This film has been deleted.";
    }
    this.host.append(box);
    return { box, moved, svg, spot, words, stage };
  }

  /** Shows what was seen. Resolves when the frames are on the screen. */
  async draw() {
    if (!this.score?.pieces.length) return;
    const { ms } = this;
    // A copy: while films open, the score may be read on.
    const seen = structuredClone(this.score.at(ms));
    const slots = await Promise.all(seen.films.map((film, n) => this.slot(film, n)));
    if (ms !== this.ms && !this.playing) return;
    for (const made of this.slots.values())
      made.then(({ box }) => (box.hidden = !slots.some((s) => s.box === box)));
    this.host.dataset.laid = seen.layout;
    this.shown = seen;
    await Promise.all(slots.map((slot, n) => this.lay(slot, seen, n)));
  }

  lay(slot, seen, n) {
    const film = seen.films[n];
    const { width, height } = this.host.getBoundingClientRect();
    const many = seen.layout === "beside" ? seen.films.length : 1;
    const cell = { width: width / many, height };
    const { left, top, scale, box, matrix, cut, seenBox } = lies(film, cell);
    const { style } = slot.box;
    const x = (seen.layout === "beside" ? n : 0) * cell.width;
    Object.assign(style, {
      left: `${x + left}px`,
      top: `${top}px`,
      width: `${box[0] * scale}px`,
      height: `${box[1] * scale}px`,
      // Whichever film was there first, the second one lies over the first.
      zIndex: String(n),
      opacity: n === 1 && seen.layout === "over" ? String(seen.blend) : "1",
      mixBlendMode: n === 1 && seen.layout === "difference" ? "difference" : "normal",
    });
    slot.moved.style.transform = `scale(${scale}) matrix(${matrix.map((v) => v.toFixed(5)).join(",")})`;
    slot.svg.replaceChildren(...film.ink.map((key) => this.ink(key)).filter(Boolean));
    const spot = seen.spot?.[0] === n ? seen.spot : null;
    slot.spot.hidden = !spot;
    if (spot) {
      // Told in shares of the box on the screen, of which bars were cut off.
      const [x, y] = [1, 2].map((k) => (spot[k] * seenBox[k - 1] - cut[k - 1]) * scale);
      Object.assign(slot.spot.style, { left: `${x}px`, top: `${y}px` });
    }
    slot.words.textContent = [film.title, n === 0 && seen.playing ? speedWords(seen.speed) : ""]
      .filter(Boolean)
      .join(" · ");
    return slot.stage ? slot.stage.goto(film.frame) : undefined;
  }

  /** A drawing, parsed once and copied for each place that shows it. */
  ink(key) {
    if (!this.parsed.has(key)) {
      const whole = new DOMParser().parseFromString(
        `<svg xmlns="${SVG}">${this.score.inks[key] ?? ""}</svg>`,
        "image/svg+xml",
      );
      this.parsed.set(key, whole.documentElement.firstElementChild);
    }
    return this.parsed.get(key)?.cloneNode(true);
  }
}

const speedWords = (speed) => (speed === 1 ? "real time" : `${SPEEDS[speed] ?? speed} of real time`);

/** How a film lies in its cell, without the bars beside it; as painting/scene.py does it. */
function lies(film, cell) {
  let [bw, bh, ...matrix] = film.place ?? [...film.size, 1, 0, 0, 1, 0, 0];
  const seenBox = [bw, bh];
  const [a, b, c, d, e, f] = matrix;
  const corners = [0, film.size[0]].flatMap((x) =>
    [0, film.size[1]].map((y) => [a * x + c * y + e, b * x + d * y + f]),
  );
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
  const [left, right] = [Math.max(0, Math.min(...xs)), Math.min(bw, Math.max(...xs))];
  const [top, bottom] = [Math.max(0, Math.min(...ys)), Math.min(bh, Math.max(...ys))];
  let at = [0, 0];
  if (right - left >= 8 && bottom - top >= 8) {
    at = [left, top];
    matrix = [a, b, c, d, e - left, f - top];
    [bw, bh] = [right - left, bottom - top];
  }
  const scale = Math.min(cell.width / bw, cell.height / bh);
  return {
    left: (cell.width - scale * bw) / 2,
    top: (cell.height - scale * bh) / 2,
    scale,
    box: [bw, bh],
    matrix,
    cut: at,
    seenBox,
  };
}
