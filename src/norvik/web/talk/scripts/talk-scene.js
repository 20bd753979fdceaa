// What is seen on a page with films, told alike for all of them.

/** How a film lies in its box: the box's size, then the matrix from source pixels into it. */
export function placeOf(box, svg) {
  const rect = box.getBoundingClientRect();
  // Source pixels begin at 0, wherever the drawing's own begin.
  const { x, y } = svg.viewBox.baseVal;
  const m = svg.getScreenCTM().translate(x, y);
  return [rect.width, rect.height, m.a, m.b, m.c, m.d, m.e - rect.left, m.f - rect.top];
}

/** Reads the drawings in an SVG only when they have changed. */
export class InkReader {
  constructor(svg) {
    this.svg = svg;
    this.stale = true;
    this.inks = [];
    new MutationObserver(() => {
      this.stale = true;
    }).observe(svg, { childList: true, subtree: true, attributes: true });
  }

  read() {
    if (this.stale) {
      this.stale = false;
      this.inks = [...this.svg.children].filter((part) => !part.classList.contains("handle")).map(written);
    }
    return this.inks;
  }
}

/** A drawn figure has no film: its stance is what is drawn. Each is written once. */
export class StanceReader {
  constructor(film) {
    this.film = film;
    this.known = new Map();
  }

  get svg() {
    const { stances, shown } = this.film.stage;
    return stances[shown].querySelector("svg");
  }

  read() {
    const { shown } = this.film.stage;
    if (!this.known.has(shown)) {
      const { x, y } = this.svg.viewBox.baseVal;
      const parts = [...this.svg.children].map(written).join("");
      this.known.set(shown, [`<g class="stance" transform="translate(${-x} ${-y})">${parts}</g>`]);
    }
    return this.known.get(shown);
  }
}

/** A drawing without what only the page needs. */
function written(part) {
  const copy = part.cloneNode(true);
  for (const one of [copy, ...copy.querySelectorAll("*")]) {
    one.classList.remove("chosen");
    if (!one.getAttribute("class")) one.removeAttribute("class");
    one.removeAttribute("data-drawing");
    one.removeAttribute("style");
    one.removeAttribute("xmlns");
  }
  return copy.outerHTML.replaceAll(' xmlns="http://www.w3.org/2000/svg"', "");
}
