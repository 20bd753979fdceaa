// Followed points over the picture: a cross where each is, a tail of where it was, and charts.

import { element, written } from "./overlay.js";

const TAIL = 12;

export class Tracks {
  /** drawing: the panel and overlay it belongs to; on: { tell, side(), changed() }. */
  constructor(root, stage, drawing, on) {
    this.root = root;
    this.stage = stage;
    this.drawing = drawing;
    this.on = on;
    this.url = `${root.dataset.url}tracks/`;
    this.list = [];
    stage.addEventListener("frame", () => this.draw());
    drawing.panel.addEventListener("tab", ({ detail }) => {
      if (detail === "follow" && !this.box.firstElementChild) this.show();
      this.draw();
    });
    /** What is chosen to be followed; the list comes anew while something is under way. */
    this.point = null;
    drawing.panel.addEventListener("change", ({ target }) => {
      if (target.id === "follow-point") this.point = target.value;
    });
    drawing.panel.addEventListener("pointerdown", (event) => this.seek(event));
    drawing.panel.addEventListener("pointermove", (event) => event.buttons && this.seek(event));
    document.body.addEventListener("htmx:afterSettle", ({ target }) => {
      if (target.id === "tracks" || target.querySelector?.("#tracks")) this.fetched();
    });
    this.load();
  }

  get box() {
    return this.root.querySelector("#tracks");
  }

  /** Fetches the list of followed points with their charts. */
  async show() {
    const html = await this.drawing.post("GET", "../tracks/");
    if (html === null) return;
    this.box.outerHTML = html;
    htmx.process(this.box);
    this.playhead();
  }

  async load() {
    const answer = await fetch(`${this.url}points`, { headers: { Accept: "application/json" } }).catch(
      () => null,
    );
    if (!answer?.ok) return;
    this.list = await answer.json();
    for (const track of this.list) track.at = new Map(track.points.map((p) => [p[0], p]));
    this.draw();
  }

  /** The list came anew: so may have the points; the last time the proposals, too. */
  async fetched() {
    if (this.point) this.root.querySelector("#follow-point").value = this.point;
    await this.load();
    if (!this.box.dataset.running) this.on.changed();
    this.playhead();
  }

  draw() {
    const { overlay } = this.drawing;
    if (!this.list.length && !overlay.extra.length) return;
    const unit = overlay.size[0] / 1000;
    const { shown } = this.stage;
    const made = [];
    for (const track of this.drawing.open ? this.list : []) {
      const tail = [];
      for (let frame = shown - TAIL; frame <= shown; frame += 1) {
        const p = track.at.get(frame);
        if (p && p[1] !== null) tail.push(`${p[1]},${p[2]}`);
      }
      if (tail.length > 1) made.push(element("polyline", { class: "tail", points: tail.join(" ") }));
      const here = track.at.get(shown);
      if (!here || here[1] === null) continue;
      const [, x, y, state, unsure] = here;
      const r = 9 * unit;
      const how = `spot ${state}${unsure ? " unsure" : ""}`;
      made.push(element("path", { class: how, d: `M${x - r} ${y}H${x + r}M${x} ${y - r}V${y + r}` }));
      if (state === "anchor") made.push(element("circle", { class: how, cx: x, cy: y, r: 0.7 * r }));
    }
    overlay.extra = made;
    overlay.draw();
    this.playhead();
  }

  playhead() {
    for (const chart of this.drawing.panel.querySelectorAll(".track-chart")) {
      const { first, last, x1, x2 } = chart.dataset;
      const share = (this.stage.shown - first) / Math.max(1, last - first);
      const x = Number(x1) + (x2 - x1) * share;
      const line = chart.querySelector(".at");
      line.setAttribute("x1", x);
      line.setAttribute("x2", x);
    }
  }

  /** A press on a chart goes to its instant. */
  seek(event) {
    const chart = event.target.closest(".track-chart");
    if (!chart) return;
    const { first, last, x1, x2 } = chart.dataset;
    const { x } = new DOMPoint(event.clientX, event.clientY).matrixTransform(chart.getScreenCTM().inverse());
    const share = Math.min(1, Math.max(0, (x - x1) / (x2 - x1)));
    this.stage.goto(Math.round(Number(first) + share * (last - first)));
  }

  async send(path, values) {
    const html = await this.drawing.post("POST", `../tracks/${path}`, values);
    if (html === null) {
      this.on.tell("Something went wrong. Look at the connection, or load the page again.", true);
      return;
    }
    this.box.outerHTML = html;
    htmx.process(this.box);
    this.on.tell(this.root.querySelector("#track-said").textContent);
    await this.fetched();
  }

  /** How far to follow: to the end of the loop that is set, if the point lies in it. */
  limit(frame) {
    const { from, to } = this.stage.loop;
    return this.stage.looping && frame >= from && frame < to ? { to } : {};
  }

  actions() {
    return {
      follow: () => {
        const point = this.root.querySelector("#follow-point").value;
        const side = this.on.side();
        this.drawing.begin(
          [point],
          (points, frame) =>
            this.send("", { point, side, frame, points: written(points), ...this.limit(frame) }),
          { side },
        );
      },
      "track-correct": (id, { dataset }) =>
        this.drawing.begin([`where the ${dataset.name} is`], (points, frame) =>
          this.send(`${id}/anchor`, { frame, points: written(points), ...this.limit(frame) }),
        ),
      "track-lost": (id) => this.send(`${id}/lost`, { frame: this.stage.shown }),
      "track-cancel": (id) => this.send(`${id}/cancel`, {}),
      "track-delete": (id) => this.send(`${id}/delete`, {}),
      "track-unsure": (_, { dataset }) => {
        const frames = dataset.frames.split(" ").map(Number);
        this.stage.goto(frames.find((f) => f > this.stage.shown) ?? frames[0]);
      },
    };
  }
}
