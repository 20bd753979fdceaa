// Shows frames with two film elements: one is seen, the other waits behind at the neighbour that
// the next step will ask for. A step then only changes which of the two is seen.
//
// Frame n of the constant-rate film is reached by seeking to the middle of its time,
// (n + 0.5) / rate, and waiting for "seeked" and for the picture itself: a browser under load says
// "seeked" before the new picture has replaced the old one.

/** Longest wait for a picture after "seeked", in milliseconds; a film that lost it is shown as is. */
const LATEST_PICTURE = 2000;

export class FilmPair {
  constructor(video, rate) {
    this.front = video;
    this.behind = video.cloneNode();
    this.behind.removeAttribute("id");
    this.behind.setAttribute("aria-hidden", "true");
    this.behind.classList.add("film-behind");
    video.after(this.behind);
    this.rate = rate;
    /** The frame that the element behind is at, or on its way to. */
    this.prepared = { frame: null, ready: false };
  }

  /** What is seen. */
  get picture() {
    return this.front;
  }

  /** Resolves when the frame is shown. */
  show(frame) {
    return new Promise((resolve) => {
      if (this.prepared.frame !== frame) {
        this.move(this.front, frame, resolve);
      } else if (this.prepared.ready) {
        this.exchange();
        resolve();
      } else {
        this.prepared.then = () => {
          this.exchange();
          resolve();
        };
      }
    });
  }

  /** Seeks to the middle of a frame's time; then() when its picture is there. */
  move(film, frame, then) {
    const begun = performance.now();
    const look = () => {
      const late = performance.now() - begun > LATEST_PICTURE;
      if (late || (!film.seeking && this.has(film, frame))) then();
      else setTimeout(look, 2);
    };
    film.addEventListener("seeked", look, { once: true });
    film.currentTime = (frame + 0.5) / this.rate;
  }

  /** Is the picture of a film element that of a frame? True where the browser can't tell. */
  has(film, frame) {
    if (!window.VideoFrame) return true;
    let picture;
    try {
      picture = new VideoFrame(film);
    } catch {
      return true;
    }
    const found = Math.floor((picture.timestamp / 1e6) * this.rate + 0.01);
    picture.close();
    return found === frame;
  }

  /** The element behind comes to the front. */
  exchange() {
    [this.front, this.behind] = [this.behind, this.front];
    this.front.classList.remove("film-behind");
    this.behind.classList.add("film-behind");
    this.prepared = { frame: null, ready: false };
  }

  /** Brings the element behind to the frame that will probably be asked for next. */
  prepare(frame) {
    if (frame === this.prepared.frame) return;
    if (this.prepared.frame !== null && !this.prepared.ready) return;
    const prepared = { frame, ready: false };
    this.prepared = prepared;
    this.move(this.behind, frame, () => {
      prepared.ready = true;
      prepared.then?.();
    });
  }

  /** Milliseconds to leave the machine alone before preparing, after a step or a jump. */
  pauseAfter(step) {
    return step ? 8 : 150;
  }

  /** Changes over to a longer film at the frame that is shown; rejects when it does not come. */
  load(address, frame) {
    return new Promise((resolve, reject) => {
      const { behind } = this;
      this.prepared = { frame: null, ready: false };
      const stop = new AbortController();
      const once = { once: true, signal: stop.signal };
      behind.addEventListener(
        "loadedmetadata",
        () =>
          this.move(behind, frame, () => {
            stop.abort();
            this.exchange();
            this.behind.src = address;
            resolve();
          }),
        once,
      );
      behind.addEventListener(
        "error",
        () => {
          stop.abort();
          behind.src = this.front.src;
          reject(new Error("The longer film could not be loaded."));
        },
        once,
      );
      behind.src = address;
    });
  }
}
