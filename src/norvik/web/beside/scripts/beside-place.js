// Where each picture lies in its box: closer and aside, each film for itself or all together,
// mirrored, and the second swimmer laid on the first one, trunk on trunk.

const CLOSEST = 8;

/** A matrix [a, b, c, d, e, f] as in SVG and CSS; `times(p, q)` does q first. */
const times = (p, q) => [
  p[0] * q[0] + p[2] * q[1],
  p[1] * q[0] + p[3] * q[1],
  p[0] * q[2] + p[2] * q[3],
  p[1] * q[2] + p[3] * q[3],
  p[0] * q[4] + p[2] * q[5] + p[4],
  p[1] * q[4] + p[3] * q[5] + p[5],
];

/** How a picture is laid into its box: whole, in the middle. */
function contained(film, box) {
  const scale = Math.min(box.width / film.width, box.height / film.height);
  return [scale, 0, 0, scale, (box.width - scale * film.width) / 2, (box.height - scale * film.height) / 2];
}

/** Back from such a place. */
const inverse = (into) => [1 / into[0], 0, 0, 1 / into[0], -into[4] / into[0], -into[5] / into[0]];

/**
 * Lays the second trunk on the first: enlarged, turned, moved, and mirrored where the server says
 * that they swim in opposite directions. Each has its points and its way.
 */
export function laidOn(trunk, on) {
  const [sx, sy, hx, hy] = trunk.points;
  const [tx, ty, gx, gy] = on.points;
  const flip = trunk.way && on.way && trunk.way !== on.way ? -1 : 1;
  const [ux, uy] = [sx - hx, flip * (sy - hy)];
  const [wx, wy] = [tx - gx, ty - gy];
  const long = ux * ux + uy * uy || 1;
  // The quotient of two complex numbers: how far it is turned, and how much larger it becomes.
  const [re, im] = [(wx * ux + wy * uy) / long, (wy * ux - wx * uy) / long];
  return [re, im, -flip * im, flip * re, gx - re * hx + flip * im * hy, gy - im * hx - flip * re * hy];
}

export class Places {
  /** films: with figure, width and height. Moves what lies in .beside-moved. */
  constructor(films, changed) {
    this.films = films;
    this.changed = changed;
    this.together = true;
    this.looks = films.map(() => ({ scale: 1, x: 0, y: 0 }));
    this.mirrored = films.map(() => false);
    /** Of the second film: the matrix in source pixels that lays it on the first one, or null. */
    this.laid = null;
    films.forEach((film, n) => this.listen(film.figure.querySelector(".beside-picture"), n));
    new ResizeObserver(() => this.apply()).observe(films[0].figure);
    this.apply();
  }

  listen(box, n) {
    const pointers = new Map();
    box.addEventListener(
      "wheel",
      (event) => {
        event.preventDefault();
        this.zoom(n, Math.exp(-event.deltaY * 0.002), event.clientX, event.clientY);
      },
      { passive: false },
    );
    box.addEventListener("pointerdown", (event) => {
      if (box.classList.contains("taking")) return;
      box.setPointerCapture(event.pointerId);
      pointers.set(event.pointerId, [event.clientX, event.clientY]);
    });
    box.addEventListener("pointermove", (event) => {
      const before = pointers.get(event.pointerId);
      if (!before) return;
      const now = [event.clientX, event.clientY];
      if (pointers.size === 2) {
        const [other] = [...pointers].filter(([id]) => id !== event.pointerId).map(([, p]) => p);
        const apart = (p) => Math.hypot(p[0] - other[0], p[1] - other[1]) || 1;
        this.zoom(n, apart(now) / apart(before), (now[0] + other[0]) / 2, (now[1] + other[1]) / 2);
      } else this.drag(n, now[0] - before[0], now[1] - before[1]);
      pointers.set(event.pointerId, now);
    });
    for (const name of ["pointerup", "pointercancel"]) {
      box.addEventListener(name, (event) => pointers.delete(event.pointerId));
    }
    box.addEventListener("dblclick", (event) => {
      if (this.looks[n].scale > 1) this.whole(n);
      else this.zoom(n, 2.5, event.clientX, event.clientY);
    });
  }

  moving(n) {
    return this.together ? this.looks.map((_, k) => k) : [n];
  }

  /** Enlarges around a place on the screen; x and y are shares of the box, so that boxes differ. */
  zoom(n, by, clientX, clientY) {
    const box = this.box(n);
    const at = clientX === undefined ? [0.5, 0.5] : this.inBox(n, clientX, clientY);
    for (const k of this.moving(n)) {
      const look = this.looks[k];
      const scale = Math.min(CLOSEST, Math.max(1, look.scale * by));
      look.x = at[0] - ((at[0] - look.x) * scale) / look.scale;
      look.y = at[1] - ((at[1] - look.y) * scale) / look.scale;
      look.scale = scale;
    }
    if (box.width) this.apply();
  }

  drag(n, dx, dy) {
    const box = this.box(n);
    for (const k of this.moving(n)) {
      this.looks[k].x += dx / box.width;
      this.looks[k].y += dy / box.height;
    }
    this.apply();
  }

  whole(n) {
    for (const k of this.moving(n)) this.looks[k] = { scale: 1, x: 0, y: 0 };
    this.apply();
  }

  /** From now on all films have the place of the first one. */
  setTogether(together) {
    this.together = together;
    if (together) this.looks = this.looks.map(() => ({ ...this.looks[0] }));
    this.apply();
  }

  box(n) {
    return this.films[n].figure.querySelector(".beside-picture").getBoundingClientRect();
  }

  inBox(n, clientX, clientY) {
    const box = this.box(n);
    return [(clientX - box.left) / box.width, (clientY - box.top) / box.height];
  }

  setMirrored(n, mirrored) {
    this.mirrored[n] = mirrored;
    this.apply();
  }

  /** matrix: source pixels of the second film to those of the first, or null. */
  setLaid(matrix) {
    this.laid = matrix;
    this.apply();
  }

  apply() {
    this.films.forEach((film, n) => {
      const box = this.box(n);
      if (!box.width) return;
      const look = this.looks[n];
      look.x = Math.min(0, Math.max(1 - look.scale, look.x));
      look.y = Math.min(0, Math.max(1 - look.scale, look.y));
      let matrix = [look.scale, 0, 0, look.scale, look.x * box.width, look.y * box.height];
      let flipped = this.mirrored[n];
      if (n === 1 && this.laid) {
        const into = contained(this.films[0], box);
        matrix = times(matrix, times(times(into, this.laid), inverse(contained(film, box))));
        flipped = this.laid[0] * this.laid[3] - this.laid[1] * this.laid[2] < 0;
      } else if (flipped) matrix = times(matrix, [-1, 0, 0, 1, box.width, 0]);
      const moved = film.figure.querySelector(".beside-moved");
      moved.style.transform = `matrix(${matrix.map((v) => v.toFixed(5)).join(",")})`;
      film.figure.classList.toggle("mirrored", flipped);
      film.figure.classList.toggle("is-close", look.scale > 1);
    });
    this.changed();
  }

  /** Source pixels of a place on the screen, however the picture is laid. */
  at(n, event) {
    const svg = this.films[n].figure.querySelector(".beside-drawn");
    const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    const { width, height } = this.films[n];
    return [Math.min(width, Math.max(0, x)), Math.min(height, Math.max(0, y))];
  }
}
