// The numbers: one topic at a time, the rate in the unit of one's choice, and which plus-minus. All
// are remembered.

const TOPIC = "norvik-topic";
const RATE = "norvik-rate";
const SURE = "norvik-plus-minus";

export class Topics {
  /** fetch(): called when the numbers of the open topic have not come yet. */
  constructor(root, fetch) {
    this.root = root;
    this.fetch = fetch;
    this.show();
  }

  /** The topic that is open, by its id. */
  get open() {
    return this.root.dataset.topic;
  }

  choose(topic) {
    localStorage.setItem(TOPIC, topic);
    this.show();
    // After a mark only the open topic comes anew; another one is asked for when it is opened.
    if (this.root.querySelector(`#topic-${this.open}`)?.hasAttribute("data-later")) this.fetch();
  }

  turnRate() {
    localStorage.setItem(RATE, this.root.dataset.rate === "cycles" ? "strokes" : "cycles");
    this.show();
  }

  /** Shows the plus-minus of the clip, or that of the swimmer. */
  turnPlusMinus() {
    localStorage.setItem(SURE, this.root.dataset.sure === "swimmer" ? "clip" : "swimmer");
    this.show();
  }

  /** The topic that was chosen last, where this clip has it; else the first. */
  show() {
    set(this.root, "data-sure", localStorage.getItem(SURE) ?? "clip");
    set(this.root, "data-rate", localStorage.getItem(RATE) ?? "strokes");
    const tabs = [...this.root.querySelectorAll(".topic")];
    const wished = localStorage.getItem(TOPIC) ?? "coordination";
    const tab = tabs.find((t) => t.dataset.topic === wished) ?? tabs[0];
    set(this.root, "data-topic", tab?.dataset.topic ?? "");
    for (const other of tabs) set(other, "aria-selected", String(other === tab));
  }
}

/** Sets an attribute only when it changes: setting it anew costs a new look at all styles. */
function set(element, name, value) {
  if (element.getAttribute(name) !== value) element.setAttribute(name, value);
}
