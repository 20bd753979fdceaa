// Measuring on the frame: points are clicked on the picture and can be moved; the server computes.

import { Outbox } from "./outbox.js";
import { sentenceOf } from "./parts.js";

const SVG = "http://www.w3.org/2000/svg";

export class Measuring {
  /** overlay: the svg over the picture, in source pixels; on: { tell(sentence, bad), side() }. */
  constructor(root, stage, token, on) {
    Object.assign(this, { root, stage, on });
    this.panel = document.getElementById("measure");
    this.overlay = document.getElementById("overlay");
    this.url = `${root.dataset.url}measures/`;
    this.outbox = new Outbox(`measures-${root.dataset.clip}`, token, {
      received: (html, fine) => this.received(html, fine),
      told: (sentence) => on.tell(sentence, true),
      also: () => ({}),
    });
    /** What is being clicked: { measure, names, points, frame, side }, or null. */
    this.taking = null;
    this.drag = null;
    this.read();
    const listen = (name, act) => this.overlay.addEventListener(name, (event) => act.call(this, event));
    listen("pointerdown", this.press);
    listen("pointermove", this.move);
    listen("pointerup", this.release);
    document.addEventListener(
      "keydown",
      (event) => {
        if (event.key !== "Escape" || !this.taking) return;
        event.stopPropagation();
        this.stop();
        on.tell("Nothing was measured.");
      },
      true,
    );
    stage.addEventListener("frame", () => this.draw());
  }

  read() {
    this.drawn = JSON.parse(document.getElementById("measured").textContent);
    this.draw();
  }

  toggle() {
    this.panel.hidden = !this.panel.hidden;
    if (this.panel.hidden) this.stop();
  }

  received(html, fine) {
    if (!fine) {
      this.on.tell(sentenceOf(html), true);
      this.read();
      return;
    }
    this.panel.innerHTML = html;
    if (!this.taking) this.on.tell(document.getElementById("measure-said").textContent);
    this.read();
  }

  async take({ measure, points, sided }) {
    const frame = await this.stage.settled();
    const side = sided ? this.on.side() : "";
    this.taking = { measure, names: points.split("|"), points: [], frame, side };
    this.overlay.classList.add("taking");
    this.ask();
  }

  ask() {
    const { names, points, side } = this.taking;
    this.on.tell(`Click ${side ? `${side} side: ` : ""}${names[points.length]}. Esc leaves it.`);
    this.draw();
  }

  stop() {
    this.taking = null;
    this.overlay.classList.remove("taking");
    this.draw();
  }

  /** Where a pointer is, in source pixels, however the picture is zoomed or mirrored. */
  at(event) {
    const place = new DOMPoint(event.clientX, event.clientY);
    const { x, y } = place.matrixTransform(this.overlay.getScreenCTM().inverse());
    const { width, height } = this.overlay.viewBox.baseVal;
    return [Math.min(width, Math.max(0, x)), Math.min(height, Math.max(0, y))];
  }

  press(event) {
    if (event.button) return;
    const handle = event.target.closest("[data-point]");
    if (!this.taking && !handle) return;
    // The picture must neither move nor zoom under the finger.
    event.stopPropagation();
    event.preventDefault();
    if (this.taking) {
      this.click(this.at(event));
      return;
    }
    this.overlay.setPointerCapture(event.pointerId);
    const item = this.drawn.find(({ id }) => id === Number(handle.dataset.measure));
    this.drag = { item, point: Number(handle.dataset.point), moved: false };
  }

  click(place) {
    const { taking } = this;
    if (this.stage.shown !== taking.frame) {
      // The film went on between two clicks: all points of a measure lie on one frame.
      taking.frame = this.stage.shown;
      taking.points = [];
    }
    taking.points.push(place);
    if (taking.points.length < taking.names.length) {
      this.ask();
      return;
    }
    const { measure, side, frame, points } = taking;
    this.stop();
    this.outbox.send(this.url, { measure, side, frame, points: written(points) });
  }

  move(event) {
    if (!this.drag) return;
    this.drag.moved = true;
    this.drag.item.points[this.drag.point] = this.at(event);
    this.draw();
  }

  release() {
    if (!this.drag) return;
    const { item, moved } = this.drag;
    this.drag = null;
    if (moved) this.outbox.send(`${this.url}${item.id}/move`, { points: written(item.points) });
  }

  drop(id) {
    this.outbox.send(`${this.url}${id}/delete`, {});
  }

  // ---- drawing ----

  draw() {
    const { shown } = this.stage;
    const scale = this.overlay.viewBox.baseVal.width / 1000;
    const parts = [];
    for (const item of this.drawn) if (item.frame === shown) parts.push(...this.shapes(item, scale));
    if (this.taking && this.taking.frame === shown) {
      const { points } = this.taking;
      const lines = points.slice(1).map((_, n) => [n, n + 1]);
      parts.push(...this.shapes({ points, lines, value: "" }, scale));
    }
    this.overlay.replaceChildren(...parts);
  }

  shapes({ id, points, lines, value }, scale) {
    const made = lines.map(([a, b]) =>
      element("line", { x1: points[a][0], y1: points[a][1], x2: points[b][0], y2: points[b][1] }),
    );
    for (const [n, [cx, cy]] of points.entries()) {
      made.push(element("circle", { cx, cy, r: 7 * scale, "data-point": n, "data-measure": id ?? "" }));
    }
    if (value) {
      const [x, y] = points[Math.floor((points.length - 1) / 2)];
      // Text is not mirrored with the picture.
      const flip = document.getElementById("picture").style.transform.includes("scaleX(-1)") ? -1 : 1;
      const text = element("text", { transform: `translate(${x} ${y}) scale(${flip} 1)`, x: 12 * scale, y: -10 * scale, "font-size": 24 * scale });
      text.textContent = value;
      made.push(text);
    }
    return made;
  }
}

function element(name, attributes) {
  const made = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
  return made;
}

const written = (points) => points.map(([x, y]) => `${x.toFixed(2)},${y.toFixed(2)}`).join(" ");
