// The cycle of each film as floats on a rope, one rope a film, all as long as each other: where the
// floats of the one stand apart from those of the other, the phases take another share.

const SVG = "http://www.w3.org/2000/svg";
const [TALL, PAD, FLOAT] = [30, 3, 9];
const PLATE = { y: TALL / 2 - 10, height: 20, rx: 10, class: "plate" };
const TEXT = { y: TALL / 2 + 5, "text-anchor": "middle", "font-size": 14, class: "on-plate" };
const LETTERS = { entry: "E", catch: "C", pull: "P", recovery: "R", kick: "K" };

function made(name, attributes, text) {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  if (text !== undefined) element.textContent = text;
  return element;
}

/** A phase as whole floats, each about FLOAT long. */
function floats(phase, left, width) {
  return made("path", {
    d: `M${left} ${TALL / 2}h${width}`,
    pathLength: 10 * Math.max(1, Math.round(width / FLOAT)) - 2,
    class: `floats ${phase}`,
  });
}

/** A stretch between events that is no phase. */
function stretch(left, width) {
  return made("rect", { x: left, y: PAD, width, height: TALL - 2 * PAD, rx: 11, class: "unmarked" });
}

export class CycleRope {
  /** host: the element; goto(which, frame): what a press on an event asks for. */
  constructor(host, goto) {
    this.host = host;
    this.ropes = [];
    host.addEventListener("click", (event) => {
      const rope = event.target.closest("svg");
      const at = this.ropes.find(({ svg }) => svg === rope);
      if (!at) return;
      const box = rope.getBoundingClientRect();
      const share = (event.clientX - box.left) / box.width;
      goto(at.which, Math.round(at.from + share * (at.to - at.from)));
    });
    window.addEventListener("resize", () => this.draw());
  }

  /** cycles: of each film [event, name, frame, phase that begins there], or undefined. */
  set(cycles, words) {
    this.cycles = cycles;
    this.words = words;
    this.draw();
  }

  draw() {
    const wide = Math.max(300, this.host.clientWidth - 24);
    this.ropes = [];
    const drawn = (this.cycles ?? []).flatMap((cycle, which) => {
      if (!cycle) return [];
      const [from, to] = [cycle[0][2], cycle.at(-1)[2]];
      const svg = made("svg", {
        viewBox: `0 0 ${wide} ${TALL}`,
        role: "img",
        "data-lane": which,
        "aria-label": this.words.label(which),
      });
      const x = (frame) => (wide * (frame - from)) / Math.max(1, to - from);
      svg.append(made("line", { x1: 0, x2: wide, y1: TALL / 2, y2: TALL / 2, class: "line" }));
      // A float is a phase; events inside one are knots on it.
      const begins = cycle.slice(0, -1).filter(([, , , phase], n) => phase || n === 0);
      begins.forEach(([, name, frame, phase], n) => {
        const end = begins[n + 1]?.[2] ?? to;
        const [left, width] = [x(frame) + 1, x(end) - x(frame) - 2];
        svg.append(
          LETTERS[phase] ? floats(phase, left, Math.max(2, width)) : stretch(left, Math.max(2, width)),
        );
        const [words, short] = this.words.long(which, frame, end);
        const whole = `${phase || name} ${words}`;
        // As much of it as has room, 7.4 units a letter.
        const fits = [whole, `${phase || name} ${short}`, short].find((w) => width > 7.4 * w.length) ?? "";
        const middle = left + Math.max(2, width) / 2;
        const plate = 7.4 * fits.length + 10;
        if (fits) svg.append(made("rect", { ...PLATE, x: middle - plate / 2, width: plate }));
        svg.append(made("text", { ...TEXT, x: middle }, fits), made("title", {}, whole));
      });
      for (const [, name, frame, phase] of cycle.slice(1, -1)) {
        if (phase) continue;
        const knot = made("circle", { cx: x(frame), cy: TALL - PAD, r: 3.5, class: "beside-knot" });
        knot.append(made("title", {}, name));
        svg.append(knot);
      }
      // On a layer of its own: moving it paints nothing of the rope anew.
      const head = document.createElement("i");
      const lane = document.createElement("div");
      lane.className = "beside-lane";
      lane.append(svg, head);
      this.ropes.push({ which, svg, head, x, from, to });
      return [lane];
    });
    this.host.replaceChildren(...drawn);
    this.move(this.at ?? []);
  }

  /** shown: the frame of each film. */
  move(shown) {
    this.at = shown;
    for (const { which, head, x, from, to } of this.ropes) {
      const frame = Math.min(to, Math.max(from, shown[which] ?? from));
      head.style.transform = `translateX(${x(frame).toFixed(1)}px)`;
    }
  }
}
