// Records a take: the microphone, and beside it what is seen, as deeds with their times.
//
// What is on the picture is looked at after every painting of the screen; what differs from before is
// a deed. So the score holds what was seen, whatever made it so.

/** Sound and deeds are handed on this often. */
const EVERY_MS = 1000;
const SOUNDS = ["audio/webm;codecs=opus", "audio/ogg;codecs=opus", "audio/mp4"];

export class TalkRecorder extends EventTarget {
  /** Events: "state". scene(): what is seen; see talk-scene.js. waiting: where bits go. */
  constructor(scene, waiting) {
    super();
    this.scene = scene;
    this.waiting = waiting;
    this.on = false;
    this.about = null;
    this.spot = null;
    this.silent = false;
  }

  /** Asks for the microphone. Without one a take is recorded all the same, and `silent` says so. */
  async openMicrophone() {
    if (this.stream) return;
    try {
      this.stream = await navigator.mediaDevices.getUserMedia({
        audio: { echoCancellation: true, noiseSuppression: true, channelCount: 1 },
      });
      this.context = new AudioContext();
      this.meter = this.context.createAnalyser();
      this.meter.fftSize = 1024;
      this.context.createMediaStreamSource(this.stream).connect(this.meter);
      this.silent = false;
    } catch {
      this.stream = null;
      this.silent = true;
    }
  }

  /** How loud it is now, 0 to 1 over 60 dB; null without a microphone. */
  get level() {
    if (!this.meter) return null;
    const samples = new Float32Array(this.meter.fftSize);
    this.meter.getFloatTimeDomainData(samples);
    const power = samples.reduce((sum, v) => sum + v * v, 0) / samples.length;
    return Math.max(0, Math.min(1, 1 + (10 * Math.log10(power || 1e-9)) / 60));
  }

  /** Milliseconds of this take. */
  get now() {
    return this.on ? performance.now() - this.begun : 0;
  }

  /** url: where takes of the talk are begun. place: { after } or { at, how } or {}. Gives its key. */
  async start(url, place) {
    await this.openMicrophone();
    const mime = this.stream ? (SOUNDS.find((m) => MediaRecorder.isTypeSupported(m)) ?? "") : "";
    this.key = crypto.randomUUID?.() ?? `take-${Date.now()}-${Math.random().toString(36).slice(2, 12)}`;
    await this.waiting.begin(this.key, url, mime.split(";")[0], place);
    this.n = 0;
    this.deeds = [];
    this.inks = {};
    this.inkKeys = new Map();
    this.last = null;
    if (mime) {
      this.recorder = new MediaRecorder(this.stream, { mimeType: mime, audioBitsPerSecond: 64_000 });
      this.recorder.addEventListener("dataavailable", ({ data }) => this.hand(data));
      const started = new Promise((resolve) =>
        this.recorder.addEventListener("start", resolve, { once: true }),
      );
      this.recorder.start(EVERY_MS);
      await started;
    } else {
      this.recorder = null;
      this.timer = setInterval(() => this.hand(null), EVERY_MS);
    }
    this.begun = performance.now();
    this.on = true;
    this.look();
    if (this.about) this.deed("about", ...this.about);
    // It begins with what is on the picture: nothing is seen before that.
    for (const deed of this.deeds) deed[0] = 0;
    this.watch();
    this.dispatchEvent(new Event("state"));
    return this.key;
  }

  /** Ends the take. Resolves when all of it is in the browser's store. */
  async stop() {
    if (!this.on) return;
    this.look();
    this.deed("end");
    this.length = this.now;
    this.on = false;
    // Until the last bit is in the browser's store, closing the tab would lose it.
    this.ending = true;
    clearInterval(this.timer);
    if (this.recorder) {
      const ended = new Promise((resolve) => this.recorder.addEventListener("stop", resolve, { once: true }));
      this.recorder.stop();
      await ended;
      await this.handed;
    } else await this.hand(null);
    this.ending = false;
    this.dispatchEvent(new Event("state"));
  }

  /** Lets the microphone go: the browser's light goes out. */
  close() {
    this.stream?.getTracks().forEach((track) => track.stop());
    this.context?.close();
    this.stream = this.meter = this.context = null;
  }

  hand(sound) {
    const bit = {
      n: this.n,
      sound,
      deeds: this.deeds,
      inks: this.inks,
      until: Math.round(this.on ? this.now : this.length),
    };
    this.n += 1;
    this.deeds = [];
    this.inks = {};
    this.handed = this.waiting.put(this.key, bit);
    return this.handed;
  }

  deed(...values) {
    if (this.on) this.deeds.push([Math.round(this.now), ...values]);
  }

  /** What is spoken of from now on. */
  setAbout(kind, what, words) {
    this.about = [kind, what, words];
    this.deed("about", ...this.about);
  }

  /** The pointer held down over a film, in shares of its box; null when it is let go. */
  setSpot(spot) {
    this.spot = spot;
    this.deed("spot", ...(spot ? [spot[0], ...spot.slice(1).map((v) => Number(v.toFixed(4)))] : [-1]));
  }

  watch() {
    requestAnimationFrame(() => {
      // After the painting: everything that belongs to this picture has been done by now.
      setTimeout(() => {
        if (!this.on) return;
        this.look();
        this.watch();
      });
    });
  }

  /** Writes down what differs from what was seen before. */
  look() {
    const seen = this.scene();
    const films = seen.films.map(({ clip, model, figure, size, title }) => ({
      ...(clip ? { clip } : figure ? { figure } : { model }),
      size,
      title,
    }));
    const stage = JSON.stringify([seen.layout, films]);
    if (stage !== this.last?.stage) {
      this.deed("stage", seen.layout, films);
      this.last = { stage, films: seen.films.map(() => ({})) };
    }
    const { last } = this;
    if (seen.layout === "over" && last.blend !== seen.blend) {
      last.blend = seen.blend;
      this.deed("blend", seen.blend);
    }
    if (last.speed !== seen.speed || last.playing !== seen.playing) {
      Object.assign(last, { speed: seen.speed, playing: seen.playing });
      this.deed("speed", seen.speed, seen.playing ? 1 : 0);
    }
    seen.films.forEach((film, n) => {
      const before = last.films[n];
      const place = film.place.map((v) => Number(v.toFixed(4)));
      if (String(before.place) !== String(place)) {
        before.place = place;
        this.deed("place", n, place);
      }
      if (before.frame !== film.frame) {
        before.frame = film.frame;
        this.deed("frame", n, film.frame);
      }
      const keys = film.ink.map((svg) => this.inkKey(svg));
      if (String(before.ink ?? "") !== String(keys)) {
        before.ink = keys;
        this.deed("ink", n, keys);
      }
    });
  }

  /** A drawing is sent once and named by its key from then on. */
  inkKey(svg) {
    if (!this.inkKeys.has(svg)) {
      const key = this.inkKeys.size;
      this.inkKeys.set(svg, key);
      this.inks[key] = svg;
    }
    return this.inkKeys.get(svg);
  }
}
