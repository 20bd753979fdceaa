// The films of a comparison: clips and the filmed model on stages of their own, a drawn figure as
// stances. All answer alike.

import { Stage, loadFrames } from "./stage.js";

/** The figure in place of a film: its stances are its frames. */
class FigureStage extends EventTarget {
  constructor(figure) {
    super();
    this.stances = [...figure.querySelectorAll("[data-stance]")];
    this.first = 0;
    this.last = this.stances.length - 1;
    this.shown = 0;
    this.stances[0].hidden = false;
  }

  goto(n) {
    this.stances[this.shown].hidden = true;
    this.shown = n;
    this.stances[n].hidden = false;
    this.dispatchEvent(new Event("frame"));
    return Promise.resolve(n);
  }

  settled() {
    return Promise.resolve(this.shown);
  }

  /** It never moves alone. */
  step() {
    return this.settled();
  }
}

export async function openFilm(figure) {
  const [width, height] = figure.dataset.size.split(" ").map(Number);
  const film = { figure, width, height, isFigure: figure.classList.contains("beside-figure"), stage: null };
  if (film.isFigure) {
    film.stage = new FigureStage(figure);
    return film;
  }
  const stage = new Stage(figure.querySelector("video"), await loadFrames(figure.dataset.frames));
  await stage.decodeOn(figure.querySelector("canvas"));
  film.stage = stage;
  return film;
}

/** All frames are decoded first, then drawn together: no painting shows half of a pair. */
export async function showTogether(wishes) {
  try {
    await Promise.all(wishes.map(([stage, n]) => stage.decoder?.ready(n)));
  } catch {
    // What cannot be decoded here is shown by the film element.
  }
  await new Promise(requestAnimationFrame);
  await Promise.all(wishes.map(([stage, n]) => stage.goto(n)));
  for (const [stage, n] of wishes) stage.decoder?.prepare(Math.min(stage.last, n + 1));
}

/** Plays by a clock of its own: frame after frame of all films together; late ones are left out. */
export class Player {
  /** show(frame): shows that frame of the leading stage and what belongs to it. */
  constructor(stage, show, changed) {
    this.stage = stage;
    this.show = show;
    this.changed = changed;
    this.on = false;
  }

  async start() {
    const { stage } = this;
    const { from, to } = stage.loop;
    const [first, last] = from === null ? [stage.first, stage.last] : [from, to ?? stage.last];
    this.on = true;
    this.changed();
    if (stage.shown < first || stage.shown >= last) await this.show(first);
    let [begun, since] = [stage.time(stage.shown), performance.now()];
    let { speed } = stage;
    while (this.on) {
      if (speed !== stage.speed) {
        [begun, since, speed] = [stage.time(stage.shown), performance.now(), stage.speed];
      }
      let frame = stage.frameAt(begun + ((performance.now() - since) / 1000) * speed);
      if (frame >= last && from === null) {
        this.on = false;
        frame = last;
      } else if (frame >= last) {
        [begun, since] = [stage.time(first), performance.now()];
        frame = first;
      }
      await this.show(frame);
    }
    this.changed();
  }

  stop() {
    this.on = false;
  }

  toggle() {
    if (this.on) this.stop();
    else this.start();
  }
}
