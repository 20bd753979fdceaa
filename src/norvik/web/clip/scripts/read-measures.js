// Measures that the film proposes: shown on their frame one after the other, moved, confirmed with Enter.

export class ReadMeasures {
  /** on: { tell(sentence), reload() }: where the page speaks; brings the list up to date. */
  constructor(stage, drawing, on) {
    this.stage = stage;
    this.drawing = drawing;
    this.on = on;
    this.current = null;
    /** Keys of those that were confirmed or skipped here: the list may still name them. */
    this.passed = new Set();
    drawing.panel.addEventListener("closed", () => this.leave());
    document.body.addEventListener("htmx:beforeRequest", (event) => {
      if (event.detail.pathInfo.requestPath.endsWith("/measures/again")) this.passed.clear();
    });
  }

  /** What is still to be looked at. */
  get list() {
    const found = document.getElementById("read-measures");
    return found ? JSON.parse(found.textContent).filter(({ key }) => !this.passed.has(key)) : [];
  }

  /** True while one of them is on the picture. */
  get active() {
    return this.current !== null;
  }

  leave() {
    this.current = null;
    this.drawing.propose(null);
  }

  /** measure: only those of this one, where it is named. */
  async next(measure = null) {
    const [first] = this.list.filter((one) => !measure || one.measure === measure);
    this.leave();
    if (!first) {
      this.on.tell("No more measures proposed.");
      return;
    }
    this.current = first;
    await this.stage.goto(first.frame);
    if (this.current !== first) return;
    this.drawing.propose({ ...first, points: structuredClone(first.points) });
    this.on.tell(`${first.says}. Move points that are off; Enter confirms, Shift Enter skips.`);
  }

  async confirm() {
    const { measure, side, frame, key } = this.current;
    const { proposed } = this.drawing;
    if (!proposed) return; // Its frame is still to come.
    if (this.stage.shown !== frame) {
      await this.next(measure);
      return;
    }
    const { points } = proposed;
    this.passed.add(key);
    this.leave();
    await this.drawing.take(measure, side, frame, points);
    await this.on.reload();
    // Several of one measure are looked at together.
    const same = this.list.some((one) => one.measure === measure);
    await this.next(same ? measure : null);
  }

  /** Not here: it is remembered, also beyond this visit. */
  async skip() {
    const { key, measure, side, frame } = this.current;
    this.passed.add(key);
    await this.drawing.post("POST", "../reading/measures/pass", { measure, side, frame });
    const panel = await this.drawing.post("GET", "");
    this.leave();
    if (panel) this.drawing.replace(panel);
    await this.on.reload();
    return this.next();
  }
}
