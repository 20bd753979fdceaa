// The rope under the film: where the playhead lies on it, its marks under the finger, its lanes.

const HIDDEN = "norvik-hidden-lanes";
/** Pixels within which a mark is under the pointer. */
const REACH = { touch: 14, other: 7 };

export class Rope {
  /**
   * frame: the element around the drawing. marks(): all marks, as the server lists them.
   * on: { chosen(id), moved(id, frame), fetch(query) } - what the page does about it.
   */
  constructor(frame, stage, marks, on) {
    this.frame = frame;
    this.stage = stage;
    this.marks = marks;
    this.on = on;
    this.head = frame.querySelector("#playhead");
    /** Seconds shown when the coach zoomed; null: as the server thinks best. */
    this.span = null;
    /** Pixels that there are for the drawing; null: about as many as it was made for. */
    this.wide = null;
    this.drag = null;
    frame.dataset.hidden = sessionStorage.getItem(HIDDEN) ?? "";
    this.showLanes();
    new ResizeObserver(() => this.fit()).observe(frame);
    frame.addEventListener("pointerdown", (event) => this.press(event));
    frame.addEventListener("pointermove", (event) => this.move(event));
    frame.addEventListener("pointerup", () => this.release());
    frame.addEventListener("pointercancel", () => this.leave());
  }

  /** Tags of the lanes that are drawn, for the server to leave out. */
  get tags() {
    return [...this.drawing.querySelectorAll("[data-tag]")].map((l) => l.dataset.tag).join(" ");
  }

  get drawing() {
    return this.frame.querySelector("#rope");
  }

  stretch() {
    const { from, to, label, whole } = this.drawing.dataset;
    return { from: Number(from), to: Number(to), label: Number(label), whole: Number(whole) };
  }

  /** Where an instant lies across the rope, 0 to 1 of its whole width. */
  across(seconds) {
    const { from, to, label } = this.stretch();
    return label + ((1 - label) * (seconds - from)) / (to - from);
  }

  frameAt(clientX) {
    const box = this.drawing.getBoundingClientRect();
    const { from, to, label } = this.stretch();
    const share = ((clientX - box.left) / box.width - label) / (1 - label);
    return this.stage.frameAt(from + Math.min(1, Math.max(0, share)) * (to - from));
  }

  /** Puts the playhead where the film stands. False when that is not on the rope. */
  follow() {
    const { from, to } = this.stretch();
    const now = this.stage.time();
    const inside = now >= from - 1e-6 && now <= to + 1e-6;
    this.head.hidden = !inside;
    if (inside) this.head.style.setProperty("--at", `${100 * this.across(now)}%`);
    return inside;
  }

  /** Asks for a drawing that fits its place, where the one that is there was made for another width. */
  fit() {
    const width = 10 * Math.round(this.frame.clientWidth / 10);
    const before = this.wide ?? Number(this.drawing.dataset.width);
    if (!width || Math.abs(width / before - 1) < 0.08) return;
    this.wide = width;
    this.on.fetch();
  }

  zoom(by) {
    const { from, to, whole } = this.stretch();
    this.span = Math.min(whole, Math.max(1, (to - from) * by));
    this.on.fetch();
  }

  /** Shows which mark is chosen. */
  choose(id) {
    const before = this.drawing.querySelector(".chosen");
    if (before?.dataset.mark === String(id)) return;
    before?.classList.remove("chosen");
    this.drawing.querySelector(`[data-mark="${id}"]`)?.classList.add("chosen");
  }

  // ---- lanes ----

  get hidden() {
    return this.frame.dataset.hidden.split(" ").filter(Boolean);
  }

  /** Whether the lane in that row, counted from the top, is shown. */
  shows(row) {
    const lane = this.drawing.querySelectorAll("[data-lane]")[row];
    return !lane || !this.hidden.includes(lane.dataset.lane);
  }

  /** Hides a lane or shows it again; says which. */
  toggleLane(name, show = this.hidden.includes(name)) {
    const others = this.hidden.filter((lane) => lane !== name);
    this.frame.dataset.hidden = (show ? others : [...others, name]).join(" ");
    sessionStorage.setItem(HIDDEN, this.frame.dataset.hidden);
    this.showLanes();
    return show;
  }

  showLanes() {
    const { hidden } = this;
    for (const name of this.drawing.querySelectorAll('[data-do="lane"]')) {
      name.setAttribute("aria-pressed", String(!hidden.includes(name.dataset.name)));
    }
  }

  // ---- pointer ----

  /** The mark under the pointer: in its lane, within a finger's width. */
  markAt(event) {
    const { lanes } = this.drawing.dataset;
    const [laneHeight, height] = [this.drawing.dataset.laneHeight, this.drawing.dataset.height].map(Number);
    const box = this.drawing.getBoundingClientRect();
    const row = Math.floor((((event.clientY - box.top) / box.height) * height) / laneHeight);
    if (row >= Number(lanes) || !this.shows(row)) return null;
    const reach = event.pointerType === "touch" ? REACH.touch : REACH.other;
    const x = event.clientX - box.left;
    let nearest = null;
    for (const [at, id, , , , lane] of this.marks()) {
      const off = Math.abs(this.across(this.stage.time(at)) * box.width - x);
      if (lane === row && off <= reach && (!nearest || off < nearest.off)) nearest = { id, off };
    }
    return nearest?.id ?? null;
  }

  press(event) {
    if (event.target.closest("[data-do]")) return;
    this.frame.setPointerCapture(event.pointerId);
    this.drag = { id: this.markAt(event), moved: false, x: event.clientX, before: this.stage.shown };
    if (this.drag.id === null) this.stage.goto(this.frameAt(event.clientX));
  }

  move(event) {
    if (!this.drag) {
      // An end of a float can be taken hold of where a mark lies.
      this.frame.classList.toggle("on-mark", event.pointerType === "mouse" && this.markAt(event) !== null);
      return;
    }
    if (!this.drag.moved && Math.abs(event.clientX - this.drag.x) < 4) return;
    this.drag.moved = true;
    this.stage.goto(this.frameAt(event.clientX));
  }

  /** A finger that moves up or down scrolls the page: the film goes back to where it was. */
  leave() {
    const { drag } = this;
    this.drag = null;
    if (drag) this.stage.goto(drag.before);
  }

  async release() {
    if (!this.drag) return;
    const { id, moved } = this.drag;
    this.drag = null;
    if (id === null) return;
    if (moved) this.on.moved(id, await this.stage.settled());
    else this.on.chosen(id);
  }
}
