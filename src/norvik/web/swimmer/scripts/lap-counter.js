// Counting strokes and lengths: what each press means. No page and no clock of its own.

export class LapCounter {
  constructor() {
    this.lengths = [];
    this.presses = [];
    this.begun = null;
    this.strokes = 0;
    this.done = false;
  }

  /** Is a length under way? */
  get swimming() {
    return this.begun !== null && !this.done;
  }

  /** A hand enters the water. */
  stroke() {
    if (!this.swimming) return;
    this.presses.push({ kind: "stroke" });
    this.strokes += 1;
  }

  /** The feet leave the wall at the start; later a touch ends a length and begins the next. */
  wall(atMs) {
    if (this.done) return;
    this.presses.push({ kind: "wall", begun: this.begun, strokes: this.strokes });
    if (this.begun !== null) {
      this.lengths.push({ seconds: Math.max(0, atMs - this.begun) / 1000, strokes: this.strokes });
    }
    this.begun = atMs;
    this.strokes = 0;
  }

  /** Takes the last press back, also one that ended a length. */
  undo() {
    const last = this.presses.pop();
    if (!last) return;
    if (last.kind === "stroke") this.strokes -= 1;
    else {
      if (last.begun !== null) this.lengths.pop();
      this.begun = last.begun;
      this.strokes = last.strokes;
    }
  }

  /** Seconds of the length under way. */
  running(nowMs) {
    return this.swimming ? (nowMs - this.begun) / 1000 : 0;
  }

  finish() {
    this.done = true;
  }

  /** One line for each length, as the length log reads it: seconds, strokes. */
  lines() {
    return this.lengths.map((l) => `${l.seconds.toFixed(1)} ${l.strokes}`).join("\n");
  }

  /** One line for each length, as the stroke count challenge reads it: strokes, seconds. */
  testLines() {
    return this.lengths.map((l) => `${l.strokes} ${l.seconds.toFixed(1)}`).join("\n");
  }

  save() {
    return { ...this };
  }

  static restore(kept) {
    return Object.assign(new LapCounter(), kept);
  }
}
