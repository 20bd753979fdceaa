// The time base of the recording, beside the film; and a copy that still grows while it is watched.

import { loadFrames } from "./stage.js";

export class TimeBase {
  /** on: { tell(sentence), reload() } - reload: all that rests on times comes again. */
  constructor(root, stage, on) {
    this.root = root;
    this.stage = stage;
    this.on = on;
    this.panel = root.querySelector("#timebase");
    document.body.addEventListener("timebase-changed", async () => {
      await stage.extend(await loadFrames(root.dataset.frames));
      await on.reload();
      stage.show(stage.shown);
    });
  }

  toggle() {
    this.panel.hidden = !this.panel.hidden;
    if (this.panel.hidden) return;
    htmx.ajax("GET", `${this.root.dataset.url}time/`, { target: this.panel, swap: "innerHTML" });
  }

  /** Puts the shown frame into a field of the time base. */
  here(name) {
    this.panel.querySelector(`[name="${name}"]`).value = this.stage.shown;
  }

  /** A recording whose copy is still being made: what was added can be watched as it comes. */
  async grow() {
    const { stage } = this;
    if (stage.frames.whole) return;
    try {
      const longer = await loadFrames(this.root.dataset.frames);
      if (longer.last !== stage.last || longer.whole) {
        const whole = longer.whole;
        await stage.extend(longer);
        await this.on.reload();
        this.on.tell(
          whole ? "All of the recording can be watched now." : `You can now watch up to frame ${stage.last}.`,
        );
      }
    } catch {
      // No connection, or the preparation failed: what is there stays.
    }
    setTimeout(() => this.grow(), 2000);
  }
}
