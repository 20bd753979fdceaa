// The controls that every stage has: buttons with data-do and keys, with one table for both.

const SPEEDS = [0.125, 0.25, 0.5, 1];

/** Actions on a stage by name. A number in data-by says how far. */
export function transportActions(stage) {
  return {
    step: (by) => stage.step(by),
    toggle: () => stage.toggle(),
    speed: (by) => stage.setSpeed(by),
    "loop-from": () => setLoop(stage, { from: stage.shown, to: stage.loop.to }),
    "loop-to": () => setLoop(stage, { from: stage.loop.from ?? 0, to: stage.shown }),
    "loop-off": () => setLoop(stage, { from: null, to: null }),
  };
}

function setLoop(stage, loop) {
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
  1: ["speed", SPEEDS[0]],
  2: ["speed", SPEEDS[1]],
  3: ["speed", SPEEDS[2]],
  4: ["speed", SPEEDS[3]],
  q: ["loop-from"],
  w: ["loop-to"],
  Escape: ["loop-off"],
};

/** True while the person types into a field, when keys are letters. */
export function typing(event) {
  const at = event.target;
  return at.matches?.("textarea, select, input:not([type=checkbox]):not([type=radio])") ?? false;
}

/** Connects buttons ([data-do]) and keys with actions. */
export function connect(actions, keys) {
  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-do]");
    if (!button || button.disabled || !actions[button.dataset.do]) return;
    event.preventDefault();
    const by = button.dataset.by;
    actions[button.dataset.do](by === undefined ? undefined : Number(by), button);
  });
  document.addEventListener("keydown", (event) => {
    if (typing(event) || event.altKey || event.metaKey || document.querySelector("dialog[open]")) {
      return;
    }
    const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    const full = (event.ctrlKey ? "Ctrl+" : "") + (event.shiftKey ? "Shift+" : "") + name;
    // A letter means the same with Shift held by accident, unless it has a meaning of its own.
    const found = keys[full] ?? (event.ctrlKey || name.length > 1 ? undefined : keys[name]);
    if (!found) {
      // A button may have a letter of its own, underlined in its word.
      const button = event.ctrlKey ? null : document.querySelector(`[data-key="${CSS.escape(name)}"]`);
      if (button) {
        event.preventDefault();
        button.click();
      }
      return;
    }
    // Enter and Space on a focused button press that button; Space elsewhere plays.
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
    for (const button of root.querySelectorAll('[data-do="speed"]')) {
      button.setAttribute("aria-pressed", String(Number(button.dataset.by) === stage.speed));
    }
    const play = root.querySelector('[data-do="toggle"]');
    play?.setAttribute("aria-label", stage.playing ? "Pause" : "Play");
    play?.toggleAttribute("data-playing", stage.playing);
    const loop = part("loop");
    if (loop) {
      const { from, to } = stage.loop;
      loop.textContent =
        from === null && to === null ? "no loop" : `loop ${from ?? 0} to ${to ?? "…"}`;
    }
  });
}
