// Sound beside the film, held to the frame that is shown. The film's own clock counts frames, so
// the sound is a file of its own on the recording's clock.

/** Seconds by which sound and picture may differ before the sound is set again. */
const DRIFT_S = 0.08;

export class Sound {
  constructor(stage, button) {
    this.stage = stage;
    this.button = button;
    this.audio = null;
    if (!button || !stage.frames.sound) return;
    button.hidden = false;
    stage.addEventListener("state", () => this.follow());
    stage.addEventListener("frame", () => this.hold());
  }

  toggle() {
    if (!this.button || this.button.hidden) return;
    if (!this.audio) {
      this.audio = new Audio(this.stage.frames.sound);
      this.audio.preload = "auto";
      this.on = false;
    }
    this.on = !this.on;
    this.button.setAttribute("aria-pressed", String(this.on));
    this.follow();
  }

  /** Where the sound of the shown frame lies. */
  get due() {
    return this.stage.frames.media(this.stage.shown);
  }

  follow() {
    if (!this.audio) return;
    const { stage, audio } = this;
    // How fast the file's own clock runs while the film plays at this speed of real time.
    const rate = stage.speed * stage.frames.factor(stage.shown);
    if (!stage.playing || !this.on || rate < 0.25 || rate > 4) {
      audio.pause();
      return;
    }
    audio.playbackRate = rate;
    audio.currentTime = this.due;
    audio.play().catch(() => {});
  }

  hold() {
    if (!this.audio || this.audio.paused || !this.stage.playing) return;
    if (Math.abs(this.audio.currentTime - this.due) > DRIFT_S) this.audio.currentTime = this.due;
  }
}
