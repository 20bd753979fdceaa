// The controls that every stage has: buttons with data-do and keys, with one table for both.

/** Speeds of real time, with the words for them. */
export const SPEEDS = [
  [0.0625, "1/16"],
  [0.125, "⅛"],
  [0.25, "¼"],
  [0.5, "½"],
  [1, "1"],
  [2, "2"],
];

function nextSpeed(stage, by) {
  const at = SPEEDS.findIndex(([speed]) => speed === stage.speed);
  const [speed] = SPEEDS[Math.min(SPEEDS.length - 1, Math.max(0, at + by))];
  stage.setSpeed(speed);
}

/** Actions on a stage by name. A number in data-by says how far. */
export function transportActions(stage) {
  return {
    step: (by) => stage.step(by),
    toggle: () => stage.toggle(),
    speed: (by) => stage.setSpeed(by),
    "speed-step": (by) => nextSpeed(stage, by),
    "loop-from": () => setLoop(stage, { from: stage.shown, to: stage.loop.to }),
    "loop-to": () => setLoop(stage, { from: stage.loop.from ?? stage.first, to: stage.shown }),
    "loop-off": () => setLoop(stage, { from: null, to: null }),
  };
}

export function setLoop(stage, loop) {
  if (loop.from !== null && loop.to !== null && loop.to <= loop.from) loop.to = null;
  stage.loop = loop;
  stage.dispatchEvent(new Event("state"));
}

/** Keys of the transport: [key, shift] to [action, by]. */
export const TRANSPORT_KEYS = {
  ArrowLeft: ["step", -1],
  ArrowRight: ["step", 1],
  "Shift+ArrowLeft": ["step", -10],
  "Shift+ArrowRight": ["step", 10],
  " ": ["toggle"],
  ...Object.fromEntries(SPEEDS.map(([speed], n) => [n + 1, ["speed", speed]])),
  "<": ["speed-step", -1],
  ">": ["speed-step", 1],
  q: ["loop-from"],
  w: ["loop-to"],
  Escape: ["loop-off"],
};

/** True while the person types into a field, when keys are letters. */
export function typing(event) {
  const at = event.target;
  if (at.type === "range") return /^(Arrow|Home|End|Page)/.test(event.key);
  return at.matches?.("textarea, select, input:not([type=checkbox]):not([type=radio])") ?? false;
}

/** Connects buttons ([data-do]) and keys with actions. */
export function connect(actions, keys) {
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-do]");
    if (!button || button.disabled || !actions[button.dataset.do]) return;
    event.preventDefault();
    // A button that was clicked gives the keys back: Enter and Space belong to the film again.
    if (event.detail) button.blur();
    const by = button.dataset.by;
    actions[button.dataset.do](by === undefined ? undefined : Number(by), button);
  });
  document.addEventListener("keydown", (event) => {
    // Brackets lie under AltGr on many keyboards, which some systems give as Ctrl and Alt.
    const third = event.getModifierState("AltGraph");
    const ctrl = event.ctrlKey && !third;
    if (typing(event) || (event.altKey && !third) || event.metaKey) return;
    if (document.querySelector("dialog[open]")) return;
    const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    const full = (ctrl ? "Ctrl+" : "") + (event.shiftKey ? "Shift+" : "") + name;
    // A letter means the same with Shift held by accident, unless it has a meaning of its own.
    const found = keys[full] ?? (ctrl || name.length > 1 ? undefined : keys[name]);
    if (!found) {
      // A button may have a letter of its own, underlined in its word.
      const button = ctrl ? null : document.querySelector(`[data-key="${CSS.escape(name)}"]`);
      if (button) {
        event.preventDefault();
        button.click();
      }
      return;
    }
    if (name === "Enter" && event.target.closest("button, a, summary, label, input")) return;
    // Enter on a focused button presses that button; Space plays, wherever the focus is.
    if (name === " " && event.target.closest("button, a, summary, label, input")) {
      event.target.blur();
    }
    event.preventDefault();
    const [action, by] = found;
    actions[action](by);
  });
}

/** Keeps play button, speed buttons, loop and position up to date. */
export function showState(stage, root, clock) {
  const part = (name) => root.querySelector(`[data-show="${name}"]`);
  const frame = part("frame");
  const time = part("time");
  stage.addEventListener("frame", () => {
    frame.textContent = stage.shown;
    time.textContent = clock(stage.time());
  });
  stage.addEventListener("state", () => {
    const speed = part("speed");
    if (speed) speed.textContent = SPEEDS.find(([value]) => value === stage.speed)?.[1] ?? stage.speed;
    const play = root.querySelector('[data-do="toggle"]');
    play?.setAttribute("aria-label", stage.playing ? "Pause" : "Play");
    play?.toggleAttribute("data-playing", stage.playing);
  });
}
