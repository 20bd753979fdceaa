// How the picture is looked at: closer, aside, brighter, clearer, mirrored. For the eye alone:
// nothing of this changes a frame, a mark or a number.

const CLOSEST = 8;
const PLAIN = { brightness: 1, contrast: 1, clear: false, mirror: false };

export class View {
  /** surface: what receives the pointer; picture: what is moved; key: where choices are kept. */
  constructor(surface, picture, key) {
    this.surface = surface;
    this.picture = picture;
    this.key = key;
    this.scale = 1;
    this.x = 0;
    this.y = 0;
    this.pointers = new Map();
    this.look = { ...PLAIN, ...JSON.parse(localStorage.getItem(key) ?? "{}") };
    this.listen();
    this.apply();
  }

  listen() {
    const { surface } = this;
    surface.addEventListener(
      "wheel",
      (event) => {
        event.preventDefault();
        this.zoom(Math.exp(-event.deltaY * 0.002), event.clientX, event.clientY);
      },
      { passive: false },
    );
    surface.addEventListener("dblclick", (event) => {
      if (event.target.closest("button, input")) return;
      if (this.scale > 1) this.whole();
      else this.zoom(2.5, event.clientX, event.clientY);
    });
    surface.addEventListener("pointerdown", (event) => {
      if (event.target.closest("button, input, label")) return;
      surface.setPointerCapture(event.pointerId);
      this.pointers.set(event.pointerId, { x: event.clientX, y: event.clientY });
    });
    surface.addEventListener("pointermove", (event) => this.moved(event));
    for (const name of ["pointerup", "pointercancel"]) {
      surface.addEventListener(name, (event) => this.pointers.delete(event.pointerId));
    }
  }

  moved(event) {
    const before = this.pointers.get(event.pointerId);
    if (!before) return;
    const now = { x: event.clientX, y: event.clientY };
    if (this.pointers.size === 2) {
      const [other] = [...this.pointers].filter(([id]) => id !== event.pointerId).map(([, p]) => p);
      const apart = (p) => Math.hypot(p.x - other.x, p.y - other.y) || 1;
      this.zoom(apart(now) / apart(before), (now.x + other.x) / 2, (now.y + other.y) / 2);
    } else if (this.scale > 1) {
      this.x += now.x - before.x;
      this.y += now.y - before.y;
      this.apply();
    }
    this.pointers.set(event.pointerId, now);
  }

  /** Zooms by a factor and keeps the point under (clientX, clientY) where it is. */
  zoom(by, clientX, clientY) {
    const box = this.surface.getBoundingClientRect();
    const x = (clientX ?? box.left + box.width / 2) - box.left;
    const y = (clientY ?? box.top + box.height / 2) - box.top;
    const scale = Math.min(CLOSEST, Math.max(1, this.scale * by));
    this.x = x - ((x - this.x) * scale) / this.scale;
    this.y = y - ((y - this.y) * scale) / this.scale;
    this.scale = scale;
    this.apply();
  }

  whole() {
    this.scale = 1;
    this.apply();
  }

  set(name, value) {
    this.look[name] = value;
    localStorage.setItem(this.key, JSON.stringify(this.look));
    this.apply();
  }

  toggle(name) {
    this.set(name, !this.look[name]);
    return this.look[name];
  }

  plain() {
    this.look = { ...PLAIN, mirror: this.look.mirror };
    this.set("clear", false);
  }

  apply() {
    const { width, height } = this.surface.getBoundingClientRect();
    this.x = Math.min(0, Math.max(width * (1 - this.scale), this.x));
    this.y = Math.min(0, Math.max(height * (1 - this.scale), this.y));
    const { brightness, contrast, clear, mirror } = this.look;
    const { style } = this.picture;
    style.transformOrigin = "0 0";
    style.transform =
      `translate(${this.x}px, ${this.y}px) scale(${this.scale})` +
      (mirror ? ` translateX(${width}px) scaleX(-1)` : "");
    const filters = [];
    if (clear) filters.push("url(#clear-water)");
    if (brightness !== 1) filters.push(`brightness(${brightness})`);
    if (contrast !== 1) filters.push(`contrast(${contrast})`);
    style.filter = filters.join(" ");
    this.surface.classList.toggle("is-close", this.scale > 1);
    this.surface.dispatchEvent(new CustomEvent("look", { detail: { ...this.look, scale: this.scale } }));
  }
}
