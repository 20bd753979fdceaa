// The numbers: one topic at a time, and the rate in the unit of one's choice. Both are remembered.

const TOPIC = "norvik-topic";
const RATE = "norvik-rate";

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
    if (document.getElementById(`topic-${this.open}`)?.hasAttribute("data-later")) this.fetch();
  }

  turnRate() {
    localStorage.setItem(RATE, this.root.dataset.rate === "cycles" ? "strokes" : "cycles");
    this.show();
  }

  /** The topic that was chosen last, where this clip has it; else the first. */
  show() {
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
