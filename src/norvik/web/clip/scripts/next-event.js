// What comes next, on the amber button and beside it: its name, its figure and where its mark belongs.

export class NextEvent {
  constructor(root) {
    this.root = root;
    this.definitions = JSON.parse(root.dataset.definitions);
    this.names = JSON.parse(root.dataset.names);
  }

  /** What an event is called on the page; its token is what the server knows it by. */
  nameOf(event) {
    return this.names[event] ?? event;
  }

  put(id, text) {
    this.root.querySelector(`#${id}`).textContent = text;
  }

  show({ event, side, breath, playing }) {
    const name = this.nameOf(event);
    this.put("next-event", name);
    this.put("next-side", side);
    this.put("next-breath", this.nameOf(breath));
    for (const figure of this.root.querySelector("#means-figures").children) {
      figure.hidden = figure.dataset.figure !== event;
    }
    this.put("means-event", `${name.charAt(0).toUpperCase()}${name.slice(1)}:`);
    const where = this.definitions[event] ?? "";
    this.put("means", `${where}${playing ? " Keys mark while it plays, too." : ""}`);
  }
}
