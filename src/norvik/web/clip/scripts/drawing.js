// Drawing and measuring on the picture: points are set and moved here; the server computes.

import { Magnifier } from "./magnifier.js";
import { Outbox } from "./outbox.js";
import { Overlay, written } from "./overlay.js";
import { sentenceOf } from "./parts.js";
import { PointTaking } from "./point-taking.js";
import { Retake } from "./retake.js";

export class Drawing {
  /** on: { tell(sentence, bad), side() }. */
  constructor(root, stage, token, on) {
    this.root = root;
    this.stage = stage;
    this.token = token;
    this.on = on;
    this.panel = this.part("measure");
    this.overlay = new Overlay(this.part("overlay"), this.part("picture"), stage);
    this.magnifier = new Magnifier(this.part("main"), stage);
    this.url = `${root.dataset.url}drawings/`;
    this.outbox = new Outbox(`drawings-${root.dataset.clip}`, token, {
      received: (html, fine) => this.received(html, fine),
      told: (sentence) => on.tell(sentence, true),
      also: () => ({}),
    });
    this.taking = new PointTaking(this.overlay, this.magnifier, stage, {
      tell: (sentence) => on.tell(sentence),
      ended: () => {
        this.blind(Boolean(this.retake.queue));
        this.pressed("draw", () => false);
      },
      left: () => this.retake.leave(),
    });
    this.retake = new Retake({
      blind: (is) => this.blind(is),
      go: (frame) => stage.goto(frame),
      take: (names, side, done) => this.begin(names, done, { side }),
      again: (id, points) => this.send(`${id}/again`, { points: written(points) }),
      told: (sentence) => on.tell(sentence),
    });
    this.drag = null;
    /** A measure that is only proposed, with the number 0, or null. */
    this.proposed = null;
    this.tab = "measure";
    this.style = "neutral";
    this.shownOn = "frame";
    this.listen();
    this.read();
  }

  /** A part of this bench by its id. */
  part(id) {
    return this.root.querySelector(`#${id}`);
  }

  listen() {
    const { svg } = this.overlay;
    const on = (name, act) => svg.addEventListener(name, (event) => act.call(this, event));
    on("pointerdown", this.press);
    on("pointermove", this.move);
    on("pointerup", this.release);
    on("pointercancel", this.release);
    on("dblclick", (event) => this.taking.now && event.stopPropagation());
    this.panel.addEventListener("submit", (event) => this.submitted(event));
  }

  /** Takes over what the server wrote into the panel. */
  read() {
    const data = this.part("measured");
    const kept = JSON.parse(data.textContent);
    this.overlay.set(this.proposed ? [...kept, this.proposed] : kept);
    if (data.dataset.chosen) this.overlay.chosen = Number(data.dataset.chosen);
    // A finger has no Enter key: what is on the picture is confirmed beside its name, too.
    for (const place of this.panel.querySelectorAll("[data-while-checking]")) {
      place.hidden = place.dataset.whileChecking !== this.proposed?.measure;
      place.parentElement.querySelector('[data-do="check-measures"]').hidden = !place.hidden;
    }
    this.showTab(this.tab);
    this.overlay.draw();
  }

  get open() {
    return !this.panel.hidden;
  }

  toggle(tab = null) {
    if (tab && this.open && this.tab !== tab) {
      this.showTab(tab);
      return;
    }
    this.panel.hidden = !this.panel.hidden;
    this.overlay.handles = this.open;
    if (tab) this.tab = tab;
    if (this.open) this.showTab(this.tab);
    else {
      this.taking.stop();
      this.panel.dispatchEvent(new CustomEvent("closed"));
    }
    this.overlay.draw();
  }

  /** Puts a measure that is only proposed on the picture, with handles; null takes it away. */
  propose(found) {
    if (!found && !this.proposed) return;
    this.proposed = found && { ...found, id: 0, kind: "measure", first: found.frame, last: found.frame };
    if (found && !this.open) this.toggle("measure");
    this.overlay.chosen = null;
    this.read();
    if (found)
      this.panel.querySelector(`[data-while-checking="${found.measure}"]`)?.scrollIntoView({ block: "end" });
  }

  /** Keeps a measure. */
  take(name, side, frame, points) {
    return this.send("", { kind: "measure", name, side, frame, points: written(points) });
  }

  showTab(name) {
    this.tab = name;
    for (const panel of this.panel.querySelectorAll("[data-tab-panel]"))
      panel.hidden = panel.dataset.tabPanel !== name;
    for (const tab of this.panel.querySelectorAll('[role="tab"]'))
      tab.setAttribute("aria-selected", String(tab.dataset.tab === name));
    this.pressed("drawing-style", (d) => d.style === (this.item?.style ?? this.style));
    this.pressed("drawing-shown", (d) => d.shown === (this.item ? shownOn(this.item) : this.shownOn));
    for (const button of this.panel.querySelectorAll("[data-needs-drawing]")) button.disabled = !this.item;
    this.panel.dispatchEvent(new CustomEvent("tab", { detail: name }));
  }

  pressed(action, matches) {
    for (const button of this.panel.querySelectorAll(`[data-do="${action}"]`)) {
      button.setAttribute("aria-pressed", String(matches(button.dataset)));
    }
  }

  /** The chosen drawing. */
  get item() {
    return this.overlay.items.find(({ id }) => id && id === this.overlay.chosen) ?? null;
  }

  received(html, fine) {
    if (!fine) {
      this.on.tell(sentenceOf(html), true);
      this.post("GET", "").then((panel) => panel && this.replace(panel));
      return;
    }
    this.replace(html);
    if (!this.taking.now) this.on.tell(this.part("drawing-said").textContent);
  }

  replace(html) {
    const at = this.panel.scrollTop;
    // The followed points have a list of their own, which stays as it is.
    const followed = this.part("tracks");
    this.panel.innerHTML = html;
    for (const place of this.panel.querySelectorAll("[data-arm-now]")) place.textContent = this.on.side();
    this.part("tracks").replaceWith(followed);
    this.read();
    this.panel.scrollTop = at;
  }

  async post(method, path, values) {
    try {
      const answer = await fetch(`${this.url}${path}`, {
        method,
        body: values && new URLSearchParams(values),
        headers: { "X-CSRFToken": this.token, "HX-Request": "true" },
      });
      return answer.ok ? await answer.text() : null;
    } catch {
      return null;
    }
  }

  send(path, values) {
    return this.outbox.send(`${this.url}${path}`, values);
  }

  // ---- setting points and moving them ----

  /** Asks for points; done gets them and their frame. */
  begin(names, done, how) {
    return this.taking.begin(names, done, how);
  }

  /** While measures are taken again neither they nor their numbers are to be seen. */
  blind(is) {
    this.overlay.blind = is;
    this.panel.classList.toggle("blind", is);
    this.overlay.draw();
  }

  press(event) {
    if (event.button) return;
    const handle = event.target.closest("[data-point]");
    const line = event.target.closest("g.drawing");
    if (!this.taking.now && !handle && !line) return;
    // The picture must neither move nor zoom under the finger.
    event.stopPropagation();
    event.preventDefault();
    this.overlay.svg.setPointerCapture(event.pointerId);
    const at = this.overlay.at(event);
    if (this.taking.now) {
      this.taking.press(at, event);
      return;
    }
    const id = Number((handle ?? line).dataset.drawing);
    this.choose(id);
    const item = this.item ?? this.proposed;
    this.drag = {
      item,
      point: handle ? Number(handle.dataset.point) : null,
      from: at,
      moved: false,
      started: structuredClone(item.points),
    };
  }

  move(event) {
    const at = /** @type {[number, number]} */ (/** @type {any} */ (this.overlay.at(event)));
    if (this.taking.now) {
      this.taking.move(at, event);
      return;
    }
    const { drag } = this;
    if (!drag) return;
    drag.moved = true;
    drag.pressedAt ??= event.timeStamp;
    if (drag.point !== null) {
      drag.item.points[drag.point] = at;
      this.magnifier.show(at, /** @type {any} */ (this.overlay.size), event);
    } else {
      const [width, height] = this.overlay.size;
      drag.item.points = drag.started.map(([x, y]) => [
        Math.min(width, Math.max(0, x + at[0] - drag.from[0])),
        Math.min(height, Math.max(0, y + at[1] - drag.from[1])),
      ]);
    }
    this.overlay.draw();
    this.preview(drag.item);
  }

  release(event) {
    this.magnifier.hide();
    if (this.taking.release(event)) return;
    const { drag } = this;
    this.drag = null;
    // What is only proposed is kept when it is confirmed.
    if (drag?.moved && drag.item.id) this.send(drag.item.id, { points: written(drag.item.points) });
  }

  /** Asks how a drawing looks at the points it is dragged to; of quick moves only the last counts. */
  async preview(item) {
    if (this.asking) {
      this.again = item;
      return;
    }
    this.asking = true;
    const points = written(item.points);
    const svg = item.id
      ? await this.post("POST", `${item.id}/preview`, { points })
      : await this.post("POST", "preview", {
          kind: "measure",
          name: item.measure,
          side: item.side,
          frame: item.frame,
          points,
        });
    this.asking = false;
    if (svg && this.overlay.items.includes(item)) this.overlay.preview(item, svg);
    const { again } = this;
    this.again = null;
    if (again && again === this.drag?.item) this.preview(again);
  }

  choose(id) {
    this.overlay.chosen = id;
    this.showTab(this.tab);
    this.part("drawing-text").value = this.item?.text ?? "";
    this.overlay.draw();
  }

  // ---- what the buttons do ----

  actions() {
    return {
      "panel-tab": (_, { dataset }) => {
        this.showTab(dataset.tab);
        this.panel.scrollTop = 0;
        this.part("drawing-said").textContent = "";
      },
      "take-measure": (_, { dataset }) => this.measure(dataset),
      "next-instant": (_, { dataset }) => this.nextInstant(dataset.name),
      "choose-option": async (_, { dataset }) => {
        const frame = await this.stage.settled();
        const side = dataset.sided ? this.on.side() : "";
        this.send("", { kind: "choice", name: dataset.name, text: dataset.option, side, frame });
      },
      again: (_, { dataset }) => this.retake.begin(dataset),
      "go-drawing": (id, { dataset }) => {
        this.choose(id);
        const item = this.item;
        if (!item || !this.overlay.shown().includes(item)) this.stage.goto(Number(dataset.frame));
      },
      "drop-drawing": (id) => this.send(`${id}/delete`, {}),
      draw: (_, button) => this.startDrawing(button),
      "drawing-style": (_, { dataset }) => {
        this.style = dataset.style;
        if (this.item) this.send(this.item.id, { style: dataset.style });
        else this.showTab(this.tab);
      },
      "drawing-shown": (_, { dataset }) => {
        this.shownOn = dataset.shown;
        if (this.item) this.send(this.item.id, { shown: dataset.shown, ...this.stretch() });
        else this.showTab(this.tab);
      },
      "drawing-text": () => this.item && this.send(this.item.id, { text: this.part("drawing-text").value }),
      "drawing-copy": () => this.item && this.send(`${this.item.id}/copy`, { frame: this.stage.shown }),
      "drawing-extend": () => this.extend(),
      "drawing-delete": () => this.item && this.send(`${this.item.id}/delete`, {}),
      "drawing-undo": () => this.send("undo", {}),
      "drawing-redo": () => this.send("redo", {}),
      "set-reference": (_, { dataset }) => this.setReference(dataset),
      "drop-reference": (_, { dataset }) => this.send(`references/${dataset.kind}/delete`, {}),
    };
  }

  measure({ name, points, sided }) {
    const side = sided ? this.on.side() : "";
    const names = points.split("|");
    this.begin(names, (found, frame) => this.take(name, side, frame, found), { side });
  }

  /** To the next frame of a measure's instant, and its points are asked for there. */
  async nextInstant(name) {
    const button = this.panel.querySelector(`[data-do="take-measure"][data-name="${name}"]`);
    const frames = button.dataset.frames
      .split(" ")
      .filter(Boolean)
      .map(Number)
      .sort((a, b) => a - b);
    const next = frames.find((frame) => frame > this.stage.shown) ?? frames[0];
    await this.stage.goto(next);
    this.measure(button.dataset);
  }

  startDrawing(button) {
    const { kind, points: asked, least, most, free, worded } = button.dataset;
    this.overlay.chosen = null;
    const words = kind === "ghost" ? this.part("ghost-moment").value : this.part("drawing-text").value;
    if (kind === "text" && !words.trim()) {
      this.on.tell("Type the words first, then press Words.", true);
      this.part("drawing-text").focus();
      return;
    }
    this.begin(
      asked.split("|"),
      (points, frame) => {
        const values = {
          kind,
          frame,
          points: written(points),
          style: this.style,
          shown: this.shownOn,
          ...this.stretch(),
          ...(worded ? { text: words } : {}),
        };
        this.send("", values);
      },
      { least: Number(least), most: Number(most), free: Boolean(free) },
    );
    button.setAttribute("aria-pressed", "true");
  }

  /** Goes on with a line of many points from its last one. */
  extend() {
    const { item } = this;
    if (!item || !["polyline", "curve", "freehand"].includes(item.kind)) {
      this.on.tell("Only a path, a chain of joints or a line by hand can be continued.", true);
      return;
    }
    this.begin(
      ["the next point"],
      (points) => this.send(item.id, { points: written([...item.points, ...points]) }),
      {
        least: 1,
        most: 60 - (item.kind === "freehand" ? 0 : item.points.length),
        free: item.kind === "freehand",
      },
    );
  }

  stretch() {
    const { from, to } = this.stage.loop;
    return this.stage.looping ? { from, to } : {};
  }

  setReference({ kind, points }) {
    const field = (id) => this.part(id);
    const names = points.split("|");
    // A line that is straight in the pool is told by three points, and better by more.
    const count = kind === "straight" ? { least: 3, most: 9 } : {};
    this.begin(
      names,
      (found, frame) => {
        const values = {
          kind,
          frame,
          points: written(found),
          width_m: field("scale-width").value,
          height_m: field("scale-height").value,
        };
        if (field("scale-air").checked) values.in_air = "1";
        this.send("references", values);
      },
      count,
    );
  }

  submitted(event) {
    const form = event.target;
    if (form.id === "obstacle") {
      event.preventDefault();
      this.send("", { kind: "obstacle", frame: this.stage.shown, ...Object.fromEntries(new FormData(form)) });
    } else if (form.id === "click-error" || form.id === "camera") {
      event.preventDefault();
      this.send(form.id, Object.fromEntries(new FormData(form)));
    }
  }
}

const shownOn = ({ first, last }) => (last === null ? "clip" : first === last ? "frame" : "stretch");
