// Proposals: looked at one after the other, moved by frames, confirmed with Enter.

/** Frames away from a proposal at which Enter leads back to it instead of marking. */
const ASTRAY = 20;

export class Proposals {
  /**
   * list(): [frame, side, event, lane] of each that is proposed now. seen(): the frame that is seen.
   * on: { nameOf(event), mark(frame, side, event, lane), take(what), reload(), tell(sentence), marked(), measures() } -
   * what the page does; measures(): how many are proposed.
   */
  constructor(stage, list, on) {
    this.stage = stage;
    this.list = list;
    this.on = on;
    this.current = null;
    /** What the coach passed over: nothing happens there. */
    this.passed = new Set();
    /** True when proposals may rest on one cycle, copied forward. */
    this.copying = false;
    /** True when the least sure one comes first, else the earliest. */
    this.doubtFirst = false;
  }

  get open() {
    return this.list().filter(
      ([frame, side, event, lane]) => !this.passed.has(`${frame} ${side} ${event} ${lane}`),
    );
  }

  /** Passes over the first one and goes to the next: there was no such event. */
  skip() {
    const [first] = this.open;
    if (first) this.passed.add(first.join(" "));
    return this.next();
  }

  /** To the first one, to look whether it is there. */
  async next() {
    this.current = this.open[0] ?? null;
    if (!this.current) {
      this.on.tell(
        this.on.measures()
          ? "No more marks proposed. Enter goes on with the measures."
          : this.on.marked()
            ? "No more proposals. Arms need two whole cycles (7 copies one), kicks one cycle, breaths two breaths."
            : "Nothing marked yet.",
      );
      return;
    }
    const [frame, side, event] = this.current;
    await this.stage.goto(frame);
    const words =
      `${["both", "front"].includes(side) ? "" : side} ${this.on.nameOf(event)} here? ← → move, Enter confirms, Shift Enter skips.`.trim();
    this.on.tell(words.charAt(0).toUpperCase() + words.slice(1));
  }

  async confirm() {
    const here = this.open[0];
    const same = here && this.current?.[1] === here[1] && this.current[2] === here[2];
    const frame = await this.on.seen();
    if (!same || Math.abs(frame - here[0]) > ASTRAY) return this.next();
    return this.on.mark(frame, here[1], here[2], here[3]);
  }

  /** Confirms all that is proposed of the cycle that is seen, or of the whole clip. */
  take(what) {
    if (this.open.length) return this.on.take(what);
    return this.on.tell("Nothing is proposed here.");
  }

  async turnOrder() {
    this.doubtFirst = !this.doubtFirst;
    await this.on.reload();
    await this.next();
  }

  async copyForward() {
    this.copying = !this.copying;
    await this.on.reload();
    if (this.copying) await this.next();
    else this.on.tell("Proposals rest on two whole cycles again.");
  }
}
