// Saved loops: the one that is set can be kept, a kept one is played.

import { setLoop } from "./transport.js";

/** Lets the window of loops follow the stage. */
export function followLoop(stage) {
  stage.addEventListener("state", () => {
    const { from, to } = stage.loop;
    document.getElementById("loop-keep").disabled = !stage.looping;
    document.getElementById("loop-now").textContent = stage.looping
      ? `The loop that is set: frame ${from} to ${to}.`
      : "Set a loop with Q and W, then save it here.";
  });
  document.body.addEventListener("htmx:configRequest", (event) => {
    if (!event.detail.path.endsWith("/loops")) return;
    Object.assign(event.detail.parameters, { from: stage.loop.from, to: stage.loop.to });
  });
}

export function takeLoop(stage, { from, to }) {
  setLoop(stage, { from: Number(from), to: Number(to) });
  document.getElementById("loops").close();
  stage.goto(Number(from)).then(() => stage.play());
}
