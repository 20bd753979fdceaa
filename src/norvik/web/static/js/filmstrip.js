// The filmstrip: pictures along a clip, to drag through it. Every place on it is a frame.

/** Pixels a frame while dragging finely: with Shift, or with the finger high above the strip. */
const FINE_PX = 6;
const FINE_ABOVE_PX = 80;

export class Filmstrip {
  /** root holds a canvas; its data say how the sheet of pictures is laid out. */
  constructor(root, stage, onPlace = () => {}) {
    this.root = root;
    this.stage = stage;
    this.canvas = root.querySelector("canvas");
    this.head = root.querySelector("[data-head]");
    this.layout = JSON.parse(root.dataset.strip || "null");
    this.onPlace = onPlace;
    this.drag = null;
    if (this.layout) {
      this.sheet = new Image();
      this.sheet.addEventListener("load", () => this.draw());
      this.sheet.src = root.dataset.sheet;
    }
    stage.addEventListener("frame", () => this.place());
    stage.addEventListener("state", () => this.placeLoop());
    new ResizeObserver(() => {
      this.draw();
      this.place();
    }).observe(root);
    root.addEventListener("pointerdown", (event) => this.begin(event));
    root.addEventListener("pointermove", (event) => this.move(event));
    for (const name of ["pointerup", "pointercancel"]) {
      root.addEventListener(name, () => {
        this.drag = null;
      });
    }
    root.addEventListener(
      "wheel",
      (event) => {
        event.preventDefault();
        stage.step(Math.sign(event.deltaY || event.deltaX));
      },
      { passive: false },
    );
  }

  get span() {
    return Math.max(1, this.stage.last - this.stage.first);
  }

  /** Share of the strip's width at which a frame lies, 0 to 1. */
  share(frame) {
    return (frame - this.stage.first) / this.span;
  }

  frameAt(clientX) {
    const box = this.root.getBoundingClientRect();
    return this.stage.clamp(this.stage.first + ((clientX - box.left) / box.width) * this.span);
  }

  begin(event) {
    if (event.target.closest("button, a")) return;
    this.root.setPointerCapture(event.pointerId);
    this.drag = { x: event.clientX };
    this.stage.goto(this.frameAt(event.clientX));
  }

  move(event) {
    if (!this.drag) return;
    const above = this.root.getBoundingClientRect().top - event.clientY;
    if (event.shiftKey || above > FINE_ABOVE_PX) {
      const frames = Math.trunc((event.clientX - this.drag.x) / FINE_PX);
      if (!frames) return;
      this.drag.x += frames * FINE_PX;
      this.stage.step(frames);
    } else {
      this.drag.x = event.clientX;
      this.stage.goto(this.frameAt(event.clientX));
    }
  }

  place() {
    this.head.style.left = `${100 * this.share(this.stage.shown)}%`;
    this.root.setAttribute("aria-valuenow", this.stage.shown);
    this.root.setAttribute("aria-valuemin", this.stage.first);
    this.root.setAttribute("aria-valuemax", this.stage.last);
    this.onPlace();
  }

  /** The loop that is set, from its beginning to its end or to the playhead. */
  placeLoop() {
    const loop = this.root.querySelector("[data-loop]");
    if (!loop) return;
    const { from, to } = this.stage.loop;
    loop.hidden = from === null;
    if (from === null) return;
    const end = this.share(to ?? this.stage.last);
    loop.style.left = `${100 * this.share(from)}%`;
    loop.style.width = `${100 * (end - this.share(from))}%`;
    loop.classList.toggle("open", to === null);
  }

  draw() {
    if (!this.sheet?.complete || !this.layout) return;
    const { count, every, columns, width, height } = this.layout;
    const { canvas } = this;
    const sharp = window.devicePixelRatio || 1;
    canvas.width = Math.round(this.root.clientWidth * sharp);
    canvas.height = Math.round(this.root.clientHeight * sharp);
    const context = canvas.getContext("2d");
    const wide = (canvas.height * width) / height;
    const pictures = Math.ceil(canvas.width / wide);
    for (let n = 0; n < pictures; n += 1) {
      const middle = this.stage.first + (((n + 0.5) * wide) / canvas.width) * this.span;
      const k = Math.min(count - 1, Math.max(0, Math.round(middle / every)));
      const [x, y] = [(k % columns) * width, Math.floor(k / columns) * height];
      context.drawImage(this.sheet, x, y, width, height, n * wide, 0, wide, canvas.height);
    }
  }
}
