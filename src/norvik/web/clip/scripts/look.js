// How the film is looked at: brightness and contrast by sliders, mirrored or cleared up by a button.

export class Look {
  /** press(action, matches): shows which buttons are on. changed(): the picture lies differently. */
  constructor(surface, view, press, changed) {
    this.view = view;
    this.press = press;
    this.panel = surface.querySelector("#light");
    this.panel.addEventListener("input", (event) => {
      view.set(event.target.name, Number(event.target.value));
    });
    surface.addEventListener("look", () => {
      this.show();
      changed();
    });
  }

  toggle() {
    this.panel.hidden = !this.panel.hidden;
  }

  reset() {
    this.view.plain();
    this.show();
  }

  show() {
    const { look } = this.view;
    for (const slider of this.panel.querySelectorAll("input")) slider.value = look[slider.name];
    this.press("clear", () => look.clear);
    this.press("mirror", () => look.mirror);
    this.press("light", () => look.brightness !== 1 || look.contrast !== 1);
  }
}
