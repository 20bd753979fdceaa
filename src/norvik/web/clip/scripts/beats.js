// When each beat of the rhythm aid falls, and how it sounds. Every beat's instant is counted from
// the first one by multiplying, so that nothing adds up over a long set.

/** Seconds after the start at which beat n falls. */
export function beatAt(n, interval) {
  return n * interval;
}

/** Seconds that sound is scheduled ahead: a page in the background wakes up once a second. */
export const AHEAD_S = 1.6;

/** Puts one beep on the audio clock. The left arm sounds higher than the right. */
export function beep(context, at, side, loud = 0.6) {
  const tone = context.createOscillator();
  const volume = context.createGain();
  tone.frequency.value = side === "left" ? 1320 : side === "right" ? 880 : 1100;
  volume.gain.setValueAtTime(0, at);
  volume.gain.linearRampToValueAtTime(loud, at + 0.002);
  volume.gain.setValueAtTime(loud, at + 0.05);
  volume.gain.linearRampToValueAtTime(0, at + 0.07);
  tone.connect(volume).connect(context.destination);
  tone.start(at);
  tone.stop(at + 0.08);
}

/** Runs beats on an audio clock from now on; `told(n, at)` hears of each when it is scheduled. */
export class Beats {
  constructor(context, sideOf, told) {
    this.context = context;
    this.sideOf = sideOf;
    this.told = told;
  }

  start(interval) {
    this.stop();
    this.interval = interval;
    this.begin = this.context.currentTime + 0.15;
    this.next = 0;
    this.late = 0;
    this.schedule();
    this.timer = setInterval(() => this.schedule(), 200);
  }

  /** Goes on in another rhythm from the next beat that is not scheduled yet. */
  change(interval) {
    if (!this.running) return;
    this.begin += beatAt(this.next, this.interval) - beatAt(this.next, interval);
    this.interval = interval;
  }

  get running() {
    return this.timer !== undefined;
  }

  schedule() {
    const now = this.context.currentTime;
    for (;;) {
      const at = this.begin + beatAt(this.next, this.interval);
      if (at > now + AHEAD_S) return;
      // After a sleep of the machine beats that are past are not made up for.
      if (at >= now) beep(this.context, at, this.sideOf(this.next));
      else this.late += 1;
      this.told(this.next, at);
      this.next += 1;
    }
  }

  stop() {
    clearInterval(this.timer);
    this.timer = undefined;
  }
}
