// The frame table of a clip: which frames it has, and the real time of each.

export class Frames {
  constructor(table) {
    this.first = table.first;
    this.last = table.last;
    this.whole = table.whole;
    this.rate = table.rate.num / table.rate.den;
    this.film = table.film;
    this.packets = table.packets;
    this.sound = table.sound;
    this.stretches = table.stretches;
    this.mediaStart = table.media_start;
    const count = table.last - table.first + 1;
    this.times =
      table.times ?? Float64Array.from({ length: count }, (_, n) => table.start + n * table.interval);
  }

  clamp(frame) {
    return Math.min(this.last, Math.max(this.first, Math.round(frame)));
  }

  /** Real seconds of a frame, counted from the recording's first. */
  time(frame) {
    return this.times[this.clamp(frame) - this.first];
  }

  /** The frame whose real time is nearest. */
  nearest(seconds) {
    let low = 0;
    let high = this.times.length - 1;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.times[middle] < seconds) low = middle + 1;
      else high = middle;
    }
    if (low > 0 && seconds - this.times[low - 1] <= this.times[low] - seconds) low -= 1;
    return this.first + low;
  }

  /** The slow-motion factor at a frame. */
  factor(frame) {
    let found = this.stretches[0][1];
    for (const [from, factor] of this.stretches) if (from <= frame) found = factor;
    return found;
  }

  /** Seconds of a frame on the file's own clock, for its sound. */
  media(frame) {
    let media = this.mediaStart;
    for (const [n, [from, factor]] of this.stretches.entries()) {
      const begin = Math.max(from, this.first);
      const end = Math.min(frame, this.stretches[n + 1]?.[0] ?? Infinity);
      if (end > begin) media += (this.time(end) - this.time(begin)) * factor;
    }
    return media;
  }
}

/** Fetches the frame table of a clip. */
export async function loadFrames(url) {
  const answer = await fetch(url, { headers: { Accept: "application/json" } });
  if (!answer.ok) throw new Error("The frame table could not be loaded. Reload the page.");
  return new Frames(await answer.json());
}
