// The drawings of the shown frame over the picture, in source pixels. What they look like comes
// from the server; this file puts it there, with handles to take hold of.

const SVG = "http://www.w3.org/2000/svg";

export class Overlay {
  /** svg: what is drawn into; picture: what lies under it, mirrored or not. */
  constructor(svg, picture, stage) {
    this.svg = svg;
    this.picture = picture;
    this.stage = stage;
    this.items = [];
    this.groups = new Map();
    /** Drawings that are not to be seen: all while one is taken again blind. */
    this.blind = false;
    this.handles = false;
    this.chosen = null;
    /** Points that are being set, joined one after the other. */
    this.draft = null;
    this.extra = [];
    stage.addEventListener("frame", () => this.draw());
  }

  set(items) {
    this.items = items;
    this.groups.clear();
    this.draw();
  }

  get size() {
    const { width, height } = this.svg.viewBox.baseVal;
    return [width, height];
  }

  /** Where a pointer is, in source pixels, however the picture is zoomed or mirrored. */
  at(event) {
    const place = new DOMPoint(event.clientX, event.clientY);
    const { x, y } = place.matrixTransform(this.svg.getScreenCTM().inverse());
    const [width, height] = this.size;
    return [Math.min(width, Math.max(0, x)), Math.min(height, Math.max(0, y))];
  }

  shown() {
    const { shown } = this.stage;
    if (this.blind) return [];
    return this.items.filter(({ first, last }) => first <= shown && (last === null || shown <= last));
  }

  draw() {
    const items = this.shown();
    // A step over frames without drawings costs nothing.
    if (!items.length && !this.draft && !this.extra.length && !this.svg.firstChild) return;
    const mirrored = this.picture.style.transform.includes("scaleX(-1)");
    const unit = this.size[0] / 1000;
    const parts = items.map((item) => this.group(item));
    for (const part of parts) part.classList.toggle("chosen", Number(part.dataset.drawing) === this.chosen);
    for (const item of items) {
      if (!this.handles && item.id !== this.chosen) continue;
      // A freehand line is held at its ends alone.
      const held = item.kind === "freehand" ? [0, item.points.length - 1] : item.points.keys();
      for (const n of held) {
        const [cx, cy] = item.points[n];
        parts.push(
          element("circle", {
            class: "handle",
            cx,
            cy,
            r: 7 * unit,
            "data-point": n,
            "data-drawing": item.id,
          }),
        );
      }
    }
    if (this.draft) {
      const points = this.draft.map((p) => p.join()).join(" ");
      parts.push(
        element("polyline", { class: "casing", points }),
        element("polyline", { class: "ink draft", points }),
      );
      for (const [cx, cy] of this.draft.slice(0, 60))
        parts.push(element("circle", { class: "handle", cx, cy, r: 5 * unit }));
    }
    parts.push(...this.extra);
    this.svg.replaceChildren(...parts);
    for (const text of this.svg.querySelectorAll(".word text")) {
      // Text is not mirrored with the picture.
      if (mirrored) text.setAttribute("transform", "scale(-1 1)");
      else text.removeAttribute("transform");
    }
  }

  /** The server's drawing of an item, parsed once. */
  group(item) {
    if (!this.groups.has(item.id)) this.groups.set(item.id, parsed(item.svg));
    return this.groups.get(item.id);
  }

  /** Another look of one item, as it would be at the points that it has now. */
  preview(item, svg) {
    item.svg = svg;
    this.groups.delete(item.id);
    this.draw();
  }
}

function parsed(svg) {
  return new DOMParser().parseFromString(`<svg xmlns="${SVG}">${svg}</svg>`, "image/svg+xml").documentElement
    .firstChild;
}

export function element(name, attributes) {
  const made = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) made.setAttribute(key, value);
  return made;
}

export const written = (points) => points.map(([x, y]) => `${x.toFixed(2)},${y.toFixed(2)}`).join(" ");
