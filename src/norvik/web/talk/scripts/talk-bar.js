// The bar with which a coach talks a film through: record, pause, the way through the review.

import { TalkRecorder } from "./talk-recorder.js";
import { Waiting } from "./talk-waiting.js";

const KEPT = "norvik-talk";

const minutes = (ms) =>
  `${Math.floor(ms / 60000)}:${String(Math.floor((ms % 60000) / 1000)).padStart(2, "0")}`;

export class TalkBar {
  /**
   * page: { scene(), boxes(): [element], free(event): nothing else wants this press,
   *         show(frame): shows a frame of this page's clip, clip: its number, tell(sentence) }
   */
  constructor(bar, token, page) {
    this.bar = bar;
    this.token = token;
    this.page = page;
    this.waiting = new Waiting(token);
    this.recorder = new TalkRecorder(page.scene, this.waiting);
    this.kept = JSON.parse(sessionStorage.getItem(KEPT) ?? "null");
    /** Spoken in earlier takes of this sitting, in milliseconds. */
    this.spoken = this.kept?.spoken ?? 0;
    this.recorder.addEventListener("state", () => this.refresh());
    this.waiting.addEventListener("change", ({ detail }) => {
      if (detail.sentence) page.tell(detail.sentence);
      this.refresh();
    });
    bar.addEventListener("click", (event) => {
      const button = event.target.closest("[data-talk]");
      if (!button || button.disabled) return;
      if (event.detail) button.blur();
      this[button.dataset.talk]();
    });
    this.listenForSpots();
    window.addEventListener("pagehide", () => this.recorder.on && this.recorder.recorder?.requestData());
    this.begin();
  }

  /** Goes on where another page of this talk stopped, or opens for what the address asks for. */
  async begin() {
    this.waiting.pump();
    const asked = new URLSearchParams(location.search);
    if (asked.has("talk")) {
      this.kept = { talk: asked.get("talk"), step: -1 };
      if (asked.has("at")) this.kept.place = { at: asked.get("at"), how: asked.get("how") };
      await this.open();
    } else if (this.kept?.open) {
      await this.open();
      if (this.kept?.recording) await this.record();
    }
  }

  keep(values) {
    this.kept = { ...this.kept, ...values, spoken: this.spoken };
    sessionStorage.setItem(KEPT, JSON.stringify(this.kept));
  }

  get isOpen() {
    return !this.bar.hidden;
  }

  async toggle() {
    if (this.isOpen && !this.recorder.on) this.leave();
    else if (!this.isOpen) await this.open();
  }

  async open() {
    const query = this.kept?.talk ? `?talk=${this.kept.talk}` : "";
    const told = await this.ask(`${this.bar.dataset.begin}path.json${query}`);
    if (!told) {
      sessionStorage.removeItem(KEPT);
      this.kept = null;
      return;
    }
    const { path, ...addresses } = told;
    this.path = path;
    this.keep({ ...addresses, open: true });
    this.bar.hidden = false;
    document.body.classList.add("talking");
    this.showStep();
    this.refresh();
    this.meter();
  }

  /** Fetches JSON, or posts. Null after an answer that refuses, which is told. */
  async ask(address, method = "GET") {
    try {
      const answer = await fetch(address, {
        method,
        headers: { "X-CSRFToken": this.token, Accept: "application/json" },
      });
      const told = await answer.json();
      if (answer.ok) return told;
      this.page.tell(told.sentence);
    } catch {
      this.page.tell("No connection. Try again.");
    }
    return null;
  }

  leave() {
    this.recorder.close();
    sessionStorage.removeItem(KEPT);
    this.kept = null;
    this.spoken = 0;
    this.bar.hidden = true;
    document.body.classList.remove("talking");
  }

  // ---- recording ----

  async record() {
    if (!this.isOpen) await this.open();
    if (!this.isOpen || this.starting) return;
    if (this.recorder.on) {
      await this.pause();
      return;
    }
    this.starting = true;
    if (!this.kept.talk) {
      // The talk begins with its first word: who only looks leaves none behind.
      const made = await this.ask(this.bar.dataset.begin, "POST");
      if (!made) {
        this.starting = false;
        return;
      }
      this.keep(made);
    }
    const place = this.kept.place ?? (this.kept.after ? { after: this.kept.after } : {});
    const key = await this.recorder.start(this.kept.takes, place);
    this.starting = false;
    if (this.recorder.silent) {
      this.page.tell("No microphone: what you do is recorded without sound. Allow the microphone to speak.");
    }
    // What comes after a pause follows this take.
    this.keep({ after: key, place: null, recording: true });
    this.refresh();
  }

  async pause() {
    await this.recorder.stop();
    this.spoken += this.recorder.length;
    this.keep({ recording: false });
    this.refresh();
  }

  /** To where the talk is mended, once all of it is on its way. */
  async finish() {
    if (this.recorder.on) await this.pause();
    await this.waiting.pump();
    const { mend } = this.kept;
    this.leave();
    location.assign(mend);
  }

  // ---- the way through the review ----

  get step() {
    return this.path?.[this.kept?.step ?? -1] ?? null;
  }

  next() {
    return this.go((this.kept?.step ?? -1) + 1);
  }

  back() {
    return this.go((this.kept?.step ?? 0) - 1);
  }

  async go(n) {
    if (!this.isOpen) await this.open();
    const step = this.path?.[n];
    if (!step) {
      this.page.tell(n < 0 ? "This is the first point." : "That was the last point of the review.");
      return;
    }
    this.keep({ step: n });
    if (step.clip === this.page.clip && !step.pair && this.page.show) {
      if (step.frame !== null) await this.page.show(step.frame);
      this.showStep();
      return;
    }
    if (!step.address) {
      this.showStep();
      return;
    }
    // The talk goes on there: this take ends, the next one follows it.
    const goesOn = this.recorder.on;
    if (goesOn) await this.pause();
    this.keep({ recording: goesOn, after: this.kept.after });
    location.assign(step.address);
  }

  showStep() {
    const { step } = this;
    const part = (name) => this.bar.querySelector(`[data-step="${name}"]`);
    part("count").textContent = step ? `${this.kept.step + 1} of ${this.path.length}` : "";
    part("words").textContent = step?.words ?? (this.path.length ? "Press Next for the first point" : "");
    part("cue").textContent = step?.cue ? `“${step.cue}”` : "";
    part("note").textContent = step?.note ?? "";
    part("note").hidden = !step?.note;
    if (step) this.recorder.setAbout(step.kind, step.what, step.words);
  }

  // ---- what is seen of it ----

  refresh() {
    const { on } = this.recorder;
    const button = this.bar.querySelector('[data-talk="record"]');
    button.setAttribute("aria-pressed", String(on));
    button.querySelector("span").textContent = on
      ? "Pause"
      : this.spoken || this.kept?.after
        ? "Continue"
        : "Record";
    this.bar.classList.toggle("on-air", on || this.recorder.ending === true);
    this.bar.querySelector('[data-talk="finish"]').disabled = !this.spoken && !on && !this.kept?.after;
    this.bar.querySelector("[data-waits]").textContent =
      this.waiting.count > 3 ? `${this.waiting.count} s to send` : "";
  }

  meter() {
    if (!this.isOpen) return;
    const clock = this.bar.querySelector("[data-clock]");
    const text = minutes(this.spoken + this.recorder.now);
    if (clock.textContent !== text) clock.textContent = text;
    const { level } = this.recorder;
    this.bar.querySelector("meter").value = this.recorder.on && level !== null ? level : 0;
    setTimeout(() => this.meter(), 100);
  }

  /** While it records, a press that nothing else wants is a bright spot on the picture. */
  listenForSpots() {
    this.page.boxes().forEach((box, n) => {
      const mark = document.createElement("div");
      mark.className = "talk-spot";
      mark.hidden = true;
      box.append(mark);
      const at = (event) => {
        const rect = box.getBoundingClientRect();
        const [x, y] = [(event.clientX - rect.left) / rect.width, (event.clientY - rect.top) / rect.height];
        Object.assign(mark.style, { left: `${100 * x}%`, top: `${100 * y}%` });
        return [n, x, y];
      };
      let held = null;
      box.addEventListener(
        "pointerdown",
        (event) => {
          if (!this.recorder.on || event.button || !this.page.free(event)) return;
          event.stopPropagation();
          held = event.pointerId;
          box.setPointerCapture(held);
          mark.hidden = false;
          this.recorder.setSpot(at(event));
        },
        true,
      );
      box.addEventListener(
        "pointermove",
        (event) => held === event.pointerId && this.recorder.setSpot(at(event)),
        true,
      );
      for (const name of ["pointerup", "pointercancel"]) {
        box.addEventListener(
          name,
          (event) => {
            if (held !== event.pointerId) return;
            held = null;
            mark.hidden = true;
            this.recorder.setSpot(null);
          },
          true,
        );
      }
    });
  }
}

/** Keys of the bar, for the page's own table. */
export const TALK_KEYS = {
  "Shift+t": ["talk-record"],
  "Shift+T": ["talk-record"],
  PageDown: ["talk-next"],
  PageUp: ["talk-back"],
};

/** Its actions, for the page's own table. */
export function talkActions(bar) {
  return {
    talk: () => bar()?.toggle(),
    "talk-record": () => bar()?.record(),
    "talk-next": () => bar()?.next(),
    "talk-back": () => bar()?.back(),
  };
}
