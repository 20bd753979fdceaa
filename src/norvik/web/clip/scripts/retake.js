// Measures taken again one after the other, in an order by chance, with nothing of the first to see.

export class Retake {
  /** on: { blind(is), go(frame), take(names, side, done), again(id, points), told(sentence) }. */
  constructor(on) {
    this.on = on;
    /** Measures that are still to be taken again, or null. */
    this.queue = null;
  }

  /** ids, frames, sides, points: of the measures, as their button lists them. */
  begin({ ids, frames, sides, points }) {
    const list = (text, by = " ") => text.split(by);
    const all = list(ids).map((id, n) => ({ id, frame: Number(list(frames)[n]), side: list(sides, "|")[n] }));
    this.queue = all
      .map((one) => [Math.random(), one])
      .sort((a, b) => a[0] - b[0])
      .map(([, one]) => one);
    return this.next(points);
  }

  leave() {
    this.queue = null;
  }

  async next(points) {
    const one = this.queue?.shift();
    if (!one) {
      this.queue = null;
      this.on.blind(false);
      this.on.told("All re-measured. The typical error is shown beside the measure.");
      return;
    }
    this.on.blind(true);
    await this.on.go(one.frame);
    await this.on.take(points.split("|"), one.side, async (found) => {
      await this.on.again(one.id, found);
      this.next(points);
    });
  }
}
