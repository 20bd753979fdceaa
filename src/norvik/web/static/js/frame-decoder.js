// Shows frames by decoding them itself, where the browser lets a page do so (WebCodecs exists only
// on https and on this computer itself). Frames between two key frames are decoded together and
// kept, and the neighbours ahead of time, so that a step is only a drawing.

/** Decoded frames that are kept: about 1.4 MB each at 1280x720. */
const MOST_KEPT = 40;
/** A film up to this size is fetched as a whole in the background. */
const WHOLE_BYTES = 96e6;
/** Of a larger one, so many bytes of packets are kept. */
const MOST_BYTES = 32e6;

/** A promise with its two ends. */
function withResolvers() {
  let resolve, reject;
  const promise = new Promise((yes, no) => {
    [resolve, reject] = [yes, no];
  });
  return { promise, resolve, reject };
}

export class FrameDecoder {
  /** Resolves to null where the browser cannot do it. */
  static async open(frames, canvas) {
    if (!("VideoDecoder" in window)) return null;
    try {
      const answer = await fetch(frames.packets);
      if (!answer.ok) return null;
      const packets = await answer.json();
      const config = {
        codec: packets.codec,
        description: Uint8Array.from(atob(packets.description), (c) => c.charCodeAt(0)),
        optimizeForLatency: true,
      };
      const { supported } = await VideoDecoder.isConfigSupported(config);
      if (!supported || packets.position.length <= frames.last) return null;
      return new FrameDecoder(packets, config, frames.film, canvas);
    } catch {
      return null;
    }
  }

  constructor(packets, config, film, canvas) {
    this.packets = packets;
    this.film = film;
    this.canvas = canvas;
    this.context = canvas.getContext("2d", { alpha: false });
    this.kept = new Map();
    this.bytes = new Map();
    this.wanted = new Map();
    this.queue = [];
    this.at = 0;
    this.decoder = new VideoDecoder({
      output: (picture) => this.take(picture),
      error: (error) => this.fail(error),
    });
    this.decoder.configure(config);
    const last = packets.position.length - 1;
    if (packets.position[last] + packets.size[last] <= WHOLE_BYTES) this.fetchWhole();
  }

  async fetchWhole() {
    try {
      const answer = await fetch(this.film, { priority: "low" });
      if (answer.ok) this.whole = new Uint8Array(await answer.arrayBuffer());
    } catch {
      // Piece by piece, then.
    }
  }

  get picture() {
    return this.canvas;
  }

  /** Milliseconds to leave the machine alone before preparing, after a step or a jump. */
  pauseAfter(step) {
    return step ? 0 : 120;
  }

  /** Resolves when the frame is drawn; rejects when it cannot be decoded. */
  async show(frame) {
    this.at = frame;
    const there = this.kept.get(frame);
    this.draw(there ?? (await this.decoded(frame)));
  }

  /** Resolves when the frame could be drawn at once; draws nothing. */
  async ready(frame) {
    this.at = frame;
    if (!this.kept.has(frame)) await this.decoded(frame);
  }

  draw(picture) {
    const { displayWidth: width, displayHeight: height } = picture;
    if (this.canvas.width !== width || this.canvas.height !== height) {
      this.canvas.width = width;
      this.canvas.height = height;
    }
    this.context.drawImage(picture, 0, 0);
  }

  /** Decodes what lies around a frame while nothing else is asked for. */
  prepare(frame) {
    const on = Math.sign(frame - this.at);
    for (const near of [frame, frame + 4 * on, this.at - on]) {
      if (near >= 0 && near < this.packets.position.length && !this.kept.has(near)) {
        this.ask(this.groupOf(near));
      }
    }
  }

  /** Number of the group, from one key frame to before the next, that a frame lies in. */
  groupOf(frame) {
    const { keys } = this.packets;
    let low = 0;
    let high = keys.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (keys[middle] <= frame) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  /**
   * A frame that somebody waits for: only what leads to it is decoded, and nothing else first but
   * what others wait for still. Several may wait for the same one.
   */
  decoded(frame) {
    const there = this.wanted.get(frame);
    if (there) return there.promise;
    const wish = withResolvers();
    this.wanted.set(frame, wish);
    const waited = this.queue.filter(({ upTo }) => upTo !== undefined && this.wanted.has(upTo));
    this.queue = [{ group: this.groupOf(frame), upTo: frame }, ...waited];
    this.work();
    return wish.promise;
  }

  /** A whole group, when its turn comes. */
  ask(group) {
    if (this.queue.length < 3 && !this.queue.some((other) => other.group === group)) {
      this.queue.push({ group });
    }
    this.work();
  }

  async work() {
    if (this.busy) return;
    this.busy = true;
    while (this.queue.length && !this.failed) {
      const { group, upTo } = this.queue.shift();
      // It may have come with what was under way.
      if (upTo !== undefined && !this.wanted.has(upTo)) continue;
      try {
        await this.decode(group, upTo);
      } catch (error) {
        this.fail(error);
      }
    }
    this.busy = false;
  }

  async decode(group, upTo) {
    const { keys, position, size } = this.packets;
    const from = keys[group];
    const to = upTo === undefined ? (keys[group + 1] ?? position.length) : upTo + 1;
    const bytes = await this.fetched(group, position[from], position[to - 1] + size[to - 1]);
    for (let frame = from; frame < to; frame += 1) {
      const begin = position[frame] - position[from];
      const data = bytes.subarray(begin, begin + size[frame]);
      // The number of the frame serves as its time.
      const type = frame === from ? "key" : "delta";
      this.decoder.decode(new EncodedVideoChunk({ type, timestamp: frame, data }));
    }
    await this.decoder.flush();
  }

  async fetched(group, from, to) {
    if (this.whole) return this.whole.subarray(from, to);
    const there = this.bytes.get(group);
    if (there && there.length >= to - from) return there;
    const answer = await fetch(this.film, { headers: { Range: `bytes=${from}-${to - 1}` } });
    if (answer.status !== 206) throw new Error("The film could not be fetched.");
    const bytes = new Uint8Array(await answer.arrayBuffer());
    this.bytes.set(group, bytes);
    let sum = 0;
    for (const held of this.bytes.values()) sum += held.length;
    for (const [old, held] of this.bytes) {
      if (sum <= MOST_BYTES) break;
      this.bytes.delete(old);
      sum -= held.length;
    }
    return bytes;
  }

  take(picture) {
    const frame = picture.timestamp;
    this.kept.get(frame)?.close();
    this.kept.set(frame, picture);
    this.wanted.get(frame)?.resolve(picture);
    this.wanted.delete(frame);
    if (this.kept.size > MOST_KEPT) {
      const far = [...this.kept.keys()].sort((a, b) => Math.abs(b - this.at) - Math.abs(a - this.at));
      for (const old of far.slice(0, this.kept.size - MOST_KEPT)) {
        this.kept.get(old).close();
        this.kept.delete(old);
      }
    }
  }

  /** From here on the film elements have to do. */
  fail(error) {
    this.failed = true;
    for (const { reject } of this.wanted.values()) reject(error);
    this.wanted.clear();
  }

  close() {
    for (const picture of this.kept.values()) picture.close();
    this.kept.clear();
    if (this.decoder.state !== "closed") this.decoder.close();
  }
}
