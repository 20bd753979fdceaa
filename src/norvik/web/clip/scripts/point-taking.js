// Setting points on the picture, one after the other or in one stroke: each is asked for by name.

/** Milliseconds within which two presses on one place end a line of many points. */
const TWICE = 400;

export class PointTaking {
  /** on: { tell(sentence), ended(), left() }: points are set no more; the coach left them. */
  constructor(overlay, magnifier, stage, on) {
    this.overlay = overlay;
    this.magnifier = magnifier;
    this.stage = stage;
    this.on = on;
    /** What is being set: { names, done, least, most, free, side, points, frame }, or null. */
    this.now = null;
    document.addEventListener("keydown", (event) => this.key(event), true);
  }

  /** names: what each point is, asked for in turn; done: gets the points and the frame. */
  async begin(names, done, { least = names.length, most = names.length, free = false, side = "" } = {}) {
    const frame = await this.stage.settled();
    this.now = { names, done, least, most, free, side, points: [], frame };
    this.overlay.svg.classList.add("taking");
    this.ask();
  }

  ask() {
    const { names, points, side, least, most, free } = this.now;
    const name = names[Math.min(points.length, names.length - 1)];
    const whose = side ? `${side} side: ` : "";
    const end = most > least && points.length >= least ? " Enter or a double click ends it." : "";
    this.on.tell(`${free ? "Draw" : "Click"} ${whose}${name}.${end} Esc leaves it.`);
    this.overlay.draft = points.length ? points : null;
    this.overlay.draw();
  }

  stop() {
    this.now = null;
    this.overlay.draft = null;
    this.overlay.svg.classList.remove("taking");
    this.magnifier.hide();
    this.on.ended();
    this.overlay.draw();
  }

  leave() {
    this.on.left();
    this.stop();
    this.on.tell("Cancelled.");
  }

  finish() {
    const { done, points, frame } = this.now;
    this.stop();
    done(points, frame);
  }

  key(event) {
    if (!this.now || event.target.closest("input, select, textarea")) return;
    const { points, least } = this.now;
    if (event.key === "Enter" && points.length >= least) this.finish();
    else if (event.key === "Escape") this.leave();
    else if (event.key === "Backspace" && points.length) {
      points.pop();
      this.ask();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  click(place, time) {
    const { now } = this;
    if (this.stage.shown !== now.frame) {
      // The film went on between two clicks: all points of a drawing lie on one frame.
      now.frame = this.stage.shown;
      now.points = [];
    }
    const last = now.points.at(-1);
    const unit = this.overlay.size[0] / 1000;
    const twice =
      last && time - now.pressed < TWICE && Math.hypot(last[0] - place[0], last[1] - place[1]) < 12 * unit;
    now.pressed = time;
    if (twice && now.most > now.least && now.points.length >= now.least) {
      this.finish();
      return;
    }
    now.points.push(place);
    if (now.points.length >= now.most) this.finish();
    else this.ask();
  }

  press(at, event) {
    this.now.held = true;
    if (this.now.free) {
      this.now.points = [at];
      this.now.frame = this.stage.shown;
    } else this.magnifier.show(at, this.overlay.size, event);
  }

  move(at, event) {
    const { now } = this;
    if (!now.held) {
      if (event.pointerType === "mouse") this.magnifier.show(at, this.overlay.size, event);
    } else if (now.free) {
      now.points.push(at);
      this.overlay.draft = now.points;
      this.overlay.draw();
    } else this.magnifier.show(at, this.overlay.size, event);
  }

  /** False when the finger was not down on a point. */
  release(event) {
    if (!this.now?.held) return false;
    this.now.held = false;
    if (event.type === "pointercancel") return true;
    if (this.now.free) this.finish();
    else this.click(this.overlay.at(event), event.timeStamp);
    return true;
  }
}
