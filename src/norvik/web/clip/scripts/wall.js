// Marks at the wall and of passes: a small menu that opens over the rope.

export class WallMenu {
  /** known(): what the server told; expected(): the next event at the wall; nameOf(event): what it is called; pass(metres): mark it. */
  constructor(root, stage, known, on) {
    this.root = root;
    this.stage = stage;
    this.known = known;
    this.on = on;
    this.menu = root.querySelector("#wall-menu");
    this.form = root.querySelector("#pass");
    this.form.addEventListener("submit", (event) => {
      event.preventDefault();
      this.toggle(false);
      on.pass(this.form.elements.metres.value);
    });
    this.menu.addEventListener("keydown", (event) => {
      if (event.key === "Escape") this.toggle(false);
    });
  }

  toggle(open = this.menu.hidden) {
    this.menu.hidden = !open;
    this.root.querySelector('[data-do="wall-menu"]').setAttribute("aria-expanded", String(open));
    if (open) this.root.querySelector("#next-wall").textContent = this.on.nameOf(this.on.expected());
  }

  /** The next mark of the course is probably 5 m on from the last one of this length. */
  askForPass() {
    const before = this.known().marks.filter(
      ([f, , lane]) => f <= this.stage.shown && /wall|course/.test(lane),
    );
    const last = before.at(-1);
    this.form.elements.metres.value = last?.[2] === "course" ? parseFloat(last[6]) + 5 : 5;
    this.toggle(true);
    this.form.elements.metres.select();
  }
}
