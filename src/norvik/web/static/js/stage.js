// The stage shows one frame of a clip's film, and the frame it names is the frame it shows.
//
// One wish is under way at a time; of the wishes that come meanwhile only the last counts. True
// times come from the frame table alone. Still frames are shown by decoding them (FrameDecoder)
// where the browser allows it, else by two film elements (FilmPair), which also play.

import { FilmPair } from "./film-pair.js";
import { FrameDecoder } from "./frame-decoder.js";

export { loadFrames } from "./frames.js";

export class Stage extends EventTarget {
  /** Events: "frame" when another frame is shown, "state" when it starts or stops to play. */
  constructor(video, frames) {
    super();
    this.frames = frames;
    this.pair = new FilmPair(video, frames.rate);
    this.decoder = null;
    this.direction = 1;
    this.shown = frames.first;
    this.wish = frames.first;
    this.seeking = false;
    this.playing = false;
    /** Play was pressed and its first frame is still on the way; null otherwise. */
    this.starting = null;
    this.speed = 0.25;
    this.loop = { from: null, to: null };
    this.waiting = [];
    this.follow = this.follow.bind(this);
    for (const film of [this.pair.front, this.pair.behind]) {
      film.addEventListener("ended", () => film === this.video && this.atEnd());
    }
  }

  /** Frames by themselves on a canvas, and a film that knows its length: from then on `goto` works. */
  async open(canvas) {
    await this.decodeOn(canvas);
    if (this.video.readyState >= 1) return;
    await new Promise((resolve) => this.video.addEventListener("loadedmetadata", resolve, { once: true }));
  }

  /** Uses the page's own decoding when there is a canvas for it and the browser can. */
  async decodeOn(canvas) {
    const decoder = await FrameDecoder.open(this.frames, canvas);
    this.decoder?.close();
    this.decoder = decoder;
    if (decoder) this.canvas = canvas;
    else for (const film of [this.pair.front, this.pair.behind]) film.preload = "auto";
  }

  get first() {
    return this.frames.first;
  }

  get last() {
    return this.frames.last;
  }

  get rate() {
    return this.frames.rate;
  }

  /** The film element that plays. */
  get video() {
    return this.pair.front;
  }

  /** The element that is seen: a film or a canvas. */
  get picture() {
    return this.canvas && !this.canvas.hidden ? this.canvas : this.video;
  }

  /** Real seconds of a frame, the shown one by default. */
  time(frame = this.shown) {
    return this.frames.time(frame);
  }

  frameAt(seconds) {
    return this.frames.nearest(seconds);
  }

  clamp(frame) {
    return this.frames.clamp(frame);
  }

  /** Shows a frame. Resolves when the last wished frame is on the screen. */
  goto(frame) {
    this.stepping = false;
    return this.bring(frame);
  }

  /** Steps from the last wish, so that quick presses add up. */
  step(frames) {
    this.direction = Math.sign(frames);
    this.stepping = true;
    return this.bring((this.playing ? this.shown : this.wish) + frames);
  }

  bring(frame) {
    this.pauseHere();
    this.wish = this.clamp(frame);
    if (!this.seeking) this.seek();
    return this.settled();
  }

  /** Resolves at once when nothing is under way. */
  settled() {
    if (!this.seeking) return Promise.resolve(this.shown);
    return new Promise((resolve) => this.waiting.push(resolve));
  }

  async seek() {
    this.seeking = true;
    clearTimeout(this.preparing);
    let frame;
    do {
      frame = this.wish;
      await this.showStill(frame);
    } while (this.wish !== frame);
    this.seeking = false;
    this.show(frame);
    for (const resolve of this.waiting.splice(0)) resolve(frame);
    this.prepare();
  }

  async showStill(frame) {
    if (this.decoder) {
      try {
        await this.decoder.show(frame);
        this.canvas.hidden = false;
        return;
      } catch {
        this.decoder.close();
        this.decoder = null;
      }
    }
    await this.pair.show(frame);
    if (this.canvas) this.canvas.hidden = true;
  }

  /** Readies the frame that the next step will probably ask for. */
  prepare() {
    const screen = this.decoder ?? this.pair;
    const frame = this.clamp(this.shown + this.direction);
    if (this.playing || frame === this.shown) return;
    // After a jump a while later: one that follows soon has the machine for itself.
    this.preparing = setTimeout(() => {
      if (!this.playing && !this.seeking) screen.prepare(frame);
    }, screen.pauseAfter(this.stepping));
  }

  show(frame) {
    this.shown = frame;
    this.dispatchEvent(new Event("frame"));
  }

  /** Takes over a longer frame table of the same recording, and its longer film. */
  async extend(frames) {
    if (frames.film === this.frames.film) {
      this.frames = frames;
      this.wish = this.clamp(this.wish);
      return;
    }
    // Also one that was started a moment ago plays on, with the longer film.
    const goesOn = this.playing || this.starting !== null;
    this.starting = null;
    if (this.playing) await this.pause();
    while (this.seeking) await this.settled();
    // Wishes that come from here on wait until the longer film is there.
    this.seeking = true;
    clearTimeout(this.preparing);
    try {
      await this.pair.load(frames.film, this.shown);
      this.frames = frames;
      if (this.canvas) await this.decodeOn(this.canvas);
    } finally {
      await this.seek();
    }
    if (goesOn) await this.play();
  }

  // ---- playing ----

  setSpeed(speed) {
    this.speed = speed;
    if (this.playing) this.setRate();
    this.dispatchEvent(new Event("state"));
  }

  /** Plays at `speed` of real time: the film's own clock means nothing, the table's does. */
  setRate() {
    const ahead = Math.min(this.last, this.shown + 8);
    const behind = Math.max(this.first, ahead - 8);
    const realPerFrame = (this.time(ahead) - this.time(behind)) / Math.max(1, ahead - behind);
    const rate = this.speed / (realPerFrame * this.rate || 1);
    this.video.playbackRate = Math.min(16, Math.max(0.0625, rate));
  }

  async play() {
    if (this.playing || this.starting) return;
    const start = {};
    this.starting = start;
    let wanted = false;
    try {
      clearTimeout(this.preparing);
      await this.settled();
      const { from, to } = this.loop;
      if (this.looping && (this.shown < from || this.shown >= to)) await this.goto(from);
      else if (this.shown >= this.last) await this.goto(this.first);
      if (this.decoder) await this.pair.show(this.shown);
    } finally {
      // Pressed again, or a longer film came: then this start is over.
      wanted = this.starting === start;
      if (wanted) this.starting = null;
    }
    if (!wanted) return;
    this.playing = true;
    if (this.canvas) this.canvas.hidden = true;
    this.setRate();
    this.dispatchEvent(new Event("state"));
    try {
      await this.video.play();
    } catch {
      this.pauseHere();
      return;
    }
    this.request();
  }

  get looping() {
    const { from, to } = this.loop;
    return from !== null && to !== null && to > from;
  }

  request() {
    if (this.video.requestVideoFrameCallback) this.video.requestVideoFrameCallback(this.follow);
    else requestAnimationFrame(() => this.follow(0, { mediaTime: this.video.currentTime }));
  }

  follow(_now, picture) {
    if (!this.playing) return;
    const frame = this.clamp(Math.floor(picture.mediaTime * this.rate + 0.01));
    if (frame !== this.shown) this.show(frame);
    this.wish = frame;
    if (this.looping && frame >= this.loop.to) this.jumpPlaying(this.loop.from);
    else if (frame >= this.last) {
      // A part ends before its film does.
      this.atEnd();
      if (!this.playing) return;
    }
    this.setRate();
    this.request();
  }

  jumpPlaying(frame) {
    this.video.currentTime = (frame + 0.5) / this.rate;
  }

  pauseHere() {
    if (!this.playing) return;
    this.playing = false;
    this.video.pause();
    this.dispatchEvent(new Event("state"));
  }

  /** Stops on the frame that was counted last, exactly: the film may have run on meanwhile. */
  pause() {
    if (!this.playing) return this.settled();
    return this.goto(this.shown);
  }

  atEnd() {
    if (!this.playing) return;
    if (this.looping) {
      this.jumpPlaying(this.loop.from);
      this.video.play();
      return;
    }
    this.pauseHere();
    this.goto(this.last);
  }

  toggle() {
    if (this.starting) {
      this.starting = null;
      return this.settled();
    }
    return this.playing ? this.pause() : this.play();
  }
}

/** 1:02.345 */
export function clock(seconds) {
  const minutes = Math.floor(seconds / 60);
  return `${minutes}:${(seconds - 60 * minutes).toFixed(3).padStart(6, "0")}`;
}
