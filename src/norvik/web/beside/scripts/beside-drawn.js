// What is drawn and measured on the films, each laid on the other, and the trunk that does it.

import { element } from "./overlay.js";
import { laidOn } from "./beside-place.js";

const SVG = "http://www.w3.org/2000/svg";

export class Drawn {
  /** ask(address, values): fetches JSON. films: those of the page; pictures of the first two have drawings. */
  constructor(films, places, list, ask) {
    this.films = films;
    this.places = places;
    this.list = list;
    this.ask = ask;
    this.data = null;
    this.on = true;
    /** The model figure in trunk lengths, by stance, once it was asked for. */
    this.figure = null;
    this.outline = false;
    this.taking = null;
    this.parsed = new Map();
    for (const n of [0, 1]) {
      const box = films[n]?.figure.querySelector(".beside-picture");
      box?.addEventListener("click", (event) => this.click(n, event));
    }
  }

  async load() {
    if (this.films[1].isFigure) return;
    const data = await this.ask("drawn.json");
    if (data) this.take(data);
  }

  take(data) {
    this.data = data;
    this.parsed.clear();
    this.draw();
    this.measures();
  }

  /** The trunk on a frame, or on the nearest one that has it. */
  trunk(n, frame) {
    const { at, ways } = this.data?.films[n].trunks ?? { at: {}, ways: {} };
    if (at[frame]) return { points: at[frame], way: ways[frame] };
    const near = Object.keys(at).reduce(
      (best, f) => (best === null || Math.abs(Number(f) - frame) < Math.abs(Number(best) - frame) ? f : best),
      null,
    );
    return near === null ? null : { points: at[near], way: ways[near] };
  }

  /** The matrix that lays the second swimmer on the first at the frames that are shown, or null. */
  laid() {
    const [one, other] = [0, 1].map((n) => this.trunk(n, this.films[n].stage.shown));
    return one && other ? laidOn(other, one) : null;
  }

  draw() {
    if (!this.data) return;
    for (const n of [0, 1]) {
      const film = this.films[n];
      const svg = film.figure.querySelector(".beside-drawn");
      if (!svg) continue;
      const parts = [];
      const shown = film.stage.shown;
      if (this.on) {
        for (const kind of ["own", "laid"]) {
          this.data.films[n][kind].forEach((item, k) => {
            if (item.first > shown || (item.last !== null && shown > item.last)) return;
            const group = this.group(`${n}${kind}${k}`, item.svg);
            group.classList.toggle("beside-laid", kind === "laid");
            parts.push(group);
          });
        }
      }
      if (this.outline) parts.push(...this.figureOn(n));
      if (this.taking) parts.push(...this.draft(n));
      // A step over frames without drawings costs nothing.
      if (!parts.length && !svg.firstChild) continue;
      svg.replaceChildren(...parts);
      const mirrored = film.figure.classList.contains("mirrored");
      // Words are not mirrored with the picture.
      for (const text of svg.querySelectorAll(".word text")) {
        if (mirrored) text.setAttribute("transform", "scale(-1 1)");
        else text.removeAttribute("transform");
      }
    }
  }

  group(key, svg) {
    if (!this.parsed.has(key)) {
      const whole = new DOMParser().parseFromString(`<svg xmlns="${SVG}">${svg}</svg>`, "image/svg+xml");
      this.parsed.set(key, whole.documentElement.firstChild);
    }
    return this.parsed.get(key);
  }

  // ---- the outline of the model figure over the swimmer ----

  async toggleOutline() {
    if (!this.figure) this.figure = await this.ask("outline.json");
    this.outline = Boolean(this.figure) && !this.outline;
    this.draw();
    return this.outline;
  }

  /** The figure at the phase of the frame that is shown, as large as the trunk and the same way. */
  figureOn(n) {
    const { shown } = this.films[n].stage;
    const trunk = this.trunk(n, shown);
    const frames = this.figure.frames[n];
    const stance = frames?.[Math.min(frames.length - 1, Math.max(0, shown - this.figure.first[n]))];
    if (!trunk || stance === undefined) return [];
    const [sx, sy, hx, hy] = trunk.points;
    const [ax, ay] = [sx - hx, sy - hy];
    // Below the trunk is below, whichever way the swimmer swims.
    const flip = trunk.way === "left" ? -1 : 1;
    const at = ([x, y]) =>
      `${(hx + x * ax - flip * y * ay).toFixed(1)},${(hy + x * ay + flip * y * ax).toFixed(1)}`;
    return this.figure.stances[stance].flatMap(([x1, y1, x2, y2, far]) =>
      ["casing", "ink"].map((kind) =>
        element("polyline", {
          class: `${kind} beside-outline${far ? " thin" : ""}`,
          points: `${at([x1, y1])} ${at([x2, y2])}`,
        }),
      ),
    );
  }

  // ---- shoulder and hip by hand ----

  get steps() {
    return [0, 1]
      .filter((n) => this.data.films[n].settable)
      .flatMap((n) => ["shoulder", "hip"].map((what) => ({ n, what })));
  }

  /** Begins to set shoulder and hip in both films, or ends it. Gives what to click next. */
  toggleTaking() {
    this.taking = this.taking || !this.data ? null : { points: [] };
    this.mark();
    return this.next();
  }

  next() {
    const step = this.taking && this.steps[this.taking.points.length];
    return step ? `Click the ${step.what} in the ${["first", "second"][step.n]} film.` : "";
  }

  mark() {
    const step = this.taking && this.steps[this.taking.points.length];
    for (const n of [0, 1]) {
      const box = this.films[n].figure.querySelector(".beside-picture");
      box.classList.toggle("taking", Boolean(step && step.n === n));
    }
    this.draw();
  }

  async click(n, event) {
    const step = this.taking && this.steps[this.taking.points.length];
    if (!step || step.n !== n) return;
    this.taking.points.push({ n, at: this.places.at(n, event) });
    this.mark();
    const mine = this.taking.points.filter((p) => p.n === n);
    if (mine.length === 2) {
      const data = await this.ask("trunk", {
        which: n ? "other" : "one",
        frame: this.films[n].stage.shown,
        points: JSON.stringify(mine.map((p) => p.at)),
      });
      if (!data) {
        this.taking = null;
        this.mark();
        return;
      }
      this.take(data);
    }
    if (this.taking.points.length === this.steps.length) this.taking = null;
    this.mark();
    this.films[0].figure.dispatchEvent(new CustomEvent("taken", { bubbles: true, detail: this.next() }));
  }

  draft(n) {
    const mine = this.taking.points.filter((p) => p.n === n).map((p) => p.at);
    const unit = this.films[n].width / 1000;
    return mine.map(([cx, cy]) => element("circle", { class: "handle", cx, cy, r: 6 * unit }));
  }

  // ---- measures ----

  measures() {
    const items = this.data.measures.map((m) => {
      const item = document.createElement("li");
      const button = document.createElement("button");
      button.type = "button";
      button.className = "key !px-3";
      button.dataset.do = "measure";
      button.dataset.by = m.frames[0];
      const said = m.real ? "a real difference" : "no real difference";
      const name = document.createElement("b");
      name.textContent = m.name;
      const words = document.createElement("span");
      words.append(name, `: ${m.values[0]} and ${m.values[1]}, ${m.difference}: ${said}`);
      button.append(words);
      item.append(button);
      return item;
    });
    this.list.replaceChildren(...items);
  }
}
