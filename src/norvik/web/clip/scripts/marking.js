// Marks: placed on the frame that is seen, chosen, moved, removed; which event comes next.

/** How the rope calls the lane of a mark. */
function laneName(lane, side) {
  if (lane === "arm") return side || "both";
  return { leg: "legs", course: "wall" }[lane] ?? lane;
}

function expectedAt(list, frame) {
  let event = list[0][1];
  for (const [from, next] of list) if (from <= frame) event = next;
  return event;
}

export class Marking {
  /**
   * known(): the state of the page: marks as [frame, id, lane, side, event, row], what is expected.
   * together: both arms move at once. outbox: what waits to be sent.
   * on: { send(path, values), tell(sentence), changed(), nameOf(event), rope() } - what the page does about it.
   */
  constructor(stage, outbox, known, together, on) {
    this.stage = stage;
    this.outbox = outbox;
    this.known = known;
    this.together = together;
    this.on = on;
    this.arm = together ? "both" : (sessionStorage.getItem("norvik-arm") ?? "right");
    this.breathSide = together ? "front" : (sessionStorage.getItem("norvik-breath") ?? "right");
    this.chosen = null;
    /** Answers still to come that choose nothing: the coach has gone to another mark meanwhile. */
    this.overtaken = 0;
    /** Marks that were pressed and still wait for their frame. */
    this.pressed = 0;
  }

  /** The side that an arm's mark is sent with: none where both arms move together. */
  get armSide() {
    return this.together ? "" : this.arm;
  }

  setArm(side) {
    this.arm = side;
    sessionStorage.setItem("norvik-arm", side);
    this.on.changed();
  }

  setBreath(side) {
    if (this.together) return;
    this.breathSide = side;
    sessionStorage.setItem("norvik-breath", side);
    this.on.changed();
  }

  // ---- placing ----

  /** The frame that is seen: a mark pressed while frames still arrive waits for the last wish. */
  async seenFrame() {
    return this.stage.playing ? this.stage.shown : this.stage.settled();
  }

  async mark(lane, side, event, more = {}) {
    this.pressed += 1;
    const frame = await this.seenFrame();
    const rope = this.on.rope();
    const name = laneName(lane, side);
    if (rope.hidden.includes(name)) rope.toggleLane(name, true);
    const sent = this.on.send("marks", { frame, lane, side, event, ...more });
    this.pressed -= 1;
    await sent;
  }

  /** lane: arm-left, arm-right, arm-both, breath or wall. */
  expected(lane) {
    return expectedAt(this.known().expected[lane], this.stage.shown);
  }

  get expectedArm() {
    return this.expected(`arm-${this.arm}`);
  }

  /** While marks are still on their way the server knows better than this page what comes next. */
  next(lane) {
    return this.outbox.items.length || this.pressed ? "next" : this.expected(lane);
  }

  nextArm() {
    return this.mark("arm", this.armSide, this.next(`arm-${this.arm}`));
  }

  armEvent(event) {
    return this.mark("arm", this.armSide, event);
  }

  nextBreath() {
    return this.breathEvent(this.next("breath"));
  }

  breathEvent(event) {
    return this.mark("breath", event === "down" ? "" : this.breathSide, event);
  }

  nextWall() {
    return this.mark("wall", "", this.next("wall"));
  }

  /** Bubbles begin when none are under way before this frame, else they end. */
  bubbles() {
    const last = this.before((m) => m[4].startsWith("bubbles"))?.[4];
    return this.mark("breath", "", last === "bubbles-on" ? "bubbles-off" : "bubbles-on");
  }

  /** A beat of the leg whose turn it is; of both in strokes whose legs move together. */
  beat() {
    if (this.together) return this.mark("leg", "", "beat");
    const last = this.before((m) => m[2] === "leg")?.[3];
    return this.mark("leg", last === "right" ? "left" : "right", "beat");
  }

  /** The last mark of a kind that is not after the frame that is shown. */
  before(kind) {
    return this.known()
      .marks.filter((m) => m[0] <= this.stage.shown && kind(m))
      .at(-1);
  }

  // ---- choosing ----

  find(id) {
    return this.known().marks.find(([, mark]) => mark === id);
  }

  choose(id) {
    this.chosen = id;
    this.overtaken = this.outbox.items.length;
    const found = this.find(id);
    if (found) this.on.tell(`${found[3]} ${this.on.nameOf(found[4])}, frame ${found[0]}`.trim());
    this.on.changed();
  }

  /** Chosen at once: the next key is for this mark, however long its frame takes to come. */
  goTo([frame, id]) {
    this.choose(id);
    this.stage.goto(frame).then(this.on.changed);
  }

  /** An answer of the server came. late: the coach has chosen another mark since it was asked for. */
  answered(mark, late) {
    if (mark && !late) this.chosen = Number(mark);
    else if (!this.find(this.chosen)) this.chosen = null;
  }

  /** Whether the next answer is late. */
  takeOvertaken() {
    if (this.overtaken === 0) return false;
    this.overtaken -= 1;
    return true;
  }

  neighbour(direction) {
    const seen = this.known().marks.filter((m) => this.on.rope().shows(m[5]));
    if (direction < 0) seen.reverse();
    // Two marks may share a frame: from the chosen one on, the other comes before the next frame.
    const here = seen.findIndex(([f, id]) => f === this.stage.wish && id === this.chosen);
    const next = here < 0 ? seen.find(([f]) => (f - this.stage.wish) * direction > 0) : seen[here + 1];
    if (next) this.goTo(next);
    else this.on.tell(direction > 0 ? "No mark after this frame." : "No mark before this frame.");
  }

  /** The next mark of the chosen one's kind: the same event of the same lane and side. */
  sameKind(direction) {
    this.withChosen(([, , lane, side, event]) => {
      const same = this.known().marks.filter(([, , l, s, e]) => l === lane && s === side && e === event);
      const later = same.filter(([f]) => (direction > 0 ? f > this.stage.wish : f < this.stage.wish));
      const next = direction > 0 ? later[0] : later.at(-1);
      if (next) this.goTo(next);
      else
        this.on.tell(`No ${side} ${this.on.nameOf(event)} ${direction > 0 ? "after" : "before"} this frame.`);
    });
  }

  withChosen(then) {
    if (this.chosen === null)
      this.on.tell("Select a mark first: press it on the timeline, or go to it with [ and ].");
    else then(this.find(this.chosen));
  }

  /** The lane of the chosen mark, else of the arm that is marked. */
  get lane() {
    const found = this.find(this.chosen);
    return found ? laneName(found[2], found[3]) : this.arm;
  }

  // ---- changing ----

  nudge(frames) {
    this.withChosen(async (found) => {
      const to = this.stage.clamp(found[0] + frames);
      const sent = this.on.send(`marks/${found[1]}/move`, { frame: to });
      this.applyMoves();
      this.stage.goto(to);
      await sent;
    });
  }

  /** Marks stand where waiting moves lead: a quick hand presses again before the answer comes. */
  applyMoves() {
    const { marks } = this.known();
    for (const { url, values } of this.outbox.items) {
      const found = this.find(Number(/\/marks\/(\d+)\/move$/.exec(url)?.[1]));
      if (found) found[0] = values.frame;
    }
    marks.sort(([a], [b]) => a - b);
  }

  remove() {
    this.withChosen(([, id]) => this.on.send(`marks/${id}/delete`, {}));
  }

  removeCycle() {
    this.withChosen(([, id]) => this.on.send(`marks/${id}/delete-cycle`, {}));
  }

  async moved(id, frame) {
    this.choose(id);
    await this.on.send(`marks/${id}/move`, { frame, follow: "1" });
  }

  goToId(id) {
    const found = this.find(id);
    if (found) this.goTo(found);
  }
}
