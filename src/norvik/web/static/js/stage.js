// The stage shows one frame of a clip's film, and the frame it names is the frame it shows.
//
// The film is a constant-rate review copy: frame n is reached by seeking to the middle of its
// time, (n + 0.5) / rate, and waiting for "seeked". One seek is under way at a time; of the wishes
// that come meanwhile only the last counts. True times come from the frame table alone.
//
// A second film element waits behind, already at the neighbour that the next step will ask for: a
// step then only changes which of the two is seen.

/** Fetches rate and real times of a clip. */
export async function loadFrames(url) {
  const answer = await fetch(url, { headers: { Accept: "application/json" } });
  if (!answer.ok) throw new Error("The frame table could not be loaded. Load the page again.");
  const table = await answer.json();
  return { rate: table.rate.num / table.rate.den, times: table.times };
}

export class Stage extends EventTarget {
  /** Events: "frame" when another frame is shown, "state" when it starts or stops to play. */
  constructor(video, frames) {
    super();
    this.video = video;
    this.behind = video.cloneNode();
    this.behind.removeAttribute("id");
    this.behind.setAttribute("aria-hidden", "true");
    this.behind.classList.add("film-behind");
    video.after(this.behind);
    /** The frame that the element behind is at, or on its way to. */
    this.prepared = { frame: null, ready: false };
    this.direction = 1;
    this.rate = frames.rate;
    this.times = frames.times;
    this.last = frames.times.length - 1;
    this.shown = 0;
    this.wish = 0;
    this.seeking = false;
    this.playing = false;
    this.speed = 0.25;
    this.loop = { from: null, to: null };
    this.waiting = [];
    this.follow = this.follow.bind(this);
    for (const film of [this.video, this.behind]) {
      film.addEventListener("ended", () => film === this.video && this.atEnd());
    }
  }

  /** Real seconds of a frame, the shown one by default. */
  time(frame = this.shown) {
    return this.times[frame];
  }

  /** The frame whose real time is nearest. */
  frameAt(seconds) {
    let low = 0;
    let high = this.last;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.times[middle] < seconds) low = middle + 1;
      else high = middle;
    }
    if (low > 0 && seconds - this.times[low - 1] <= this.times[low] - seconds) return low - 1;
    return low;
  }

  clamp(frame) {
    return Math.min(this.last, Math.max(0, Math.round(frame)));
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

  seek() {
    this.seeking = true;
    clearTimeout(this.preparing);
    const frame = this.wish;
    const arrived = () => {
      if (this.wish !== frame) {
        this.seek();
        return;
      }
      this.seeking = false;
      this.show(frame);
      for (const resolve of this.waiting.splice(0)) resolve(frame);
      this.prepare();
    };
    if (this.prepared.frame !== frame) {
      this.move(this.video, frame, arrived);
    } else if (this.prepared.ready) {
      this.exchange();
      arrived();
    } else {
      this.prepared.then = () => {
        this.exchange();
        arrived();
      };
    }
  }

  /** Seeks to the middle of a frame's time; then() when its picture is there. */
  move(film, frame, then) {
    film.addEventListener("seeked", then, { once: true });
    film.currentTime = (frame + 0.5) / this.rate;
  }

  /** The element behind comes to the front. */
  exchange() {
    [this.video, this.behind] = [this.behind, this.video];
    this.video.classList.remove("film-behind");
    this.behind.classList.add("film-behind");
    this.prepared = { frame: null, ready: false };
  }

  /** Brings the element behind to the frame that the next step will probably ask for. */
  prepare() {
    if (this.playing || this.prepared.frame !== null) {
      if (this.playing || !this.prepared.ready) return;
    }
    const frame = this.clamp(this.shown + this.direction);
    if (frame === this.shown || frame === this.prepared.frame) return;
    // After a jump a while later: one that follows soon has the machine for itself.
    const pause = this.stepping ? 8 : 150;
    this.preparing = setTimeout(() => {
      if (this.playing || this.seeking) return;
      const prepared = { frame, ready: false };
      this.prepared = prepared;
      this.move(this.behind, frame, () => {
        prepared.ready = true;
        prepared.then?.();
      });
    }, pause);
  }

  show(frame) {
    this.shown = frame;
    this.dispatchEvent(new Event("frame"));
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
    const behind = Math.max(0, ahead - 8);
    const realPerFrame = (this.times[ahead] - this.times[behind]) / Math.max(1, ahead - behind);
    const rate = this.speed / (realPerFrame * this.rate || 1);
    this.video.playbackRate = Math.min(16, Math.max(0.0625, rate));
  }

  async play() {
    if (this.playing) return;
    clearTimeout(this.preparing);
    await this.settled();
    const { from, to } = this.loop;
    if (this.looping && (this.shown < from || this.shown >= to)) await this.goto(from);
    else if (this.shown >= this.last) await this.goto(0);
    this.playing = true;
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
    if (this.looping && frame >= this.loop.to) {
      this.video.currentTime = (this.loop.from + 0.5) / this.rate;
    }
    this.setRate();
    this.request();
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
      this.video.currentTime = (this.loop.from + 0.5) / this.rate;
      this.video.play();
      return;
    }
    this.pauseHere();
    this.goto(this.last);
  }

  toggle() {
    return this.playing ? this.pause() : this.play();
  }
}

/** 1:02.345 */
export function clock(seconds) {
  const minutes = Math.floor(seconds / 60);
  return `${minutes}:${(seconds - 60 * minutes).toFixed(3).padStart(6, "0")}`;
}
