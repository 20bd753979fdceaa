// From the way through a review into a new talk: the first page opens with its bar.

import { Waiting } from "./talk-waiting.js";

document.querySelector("[data-begin-talk]")?.addEventListener("click", () => {
  const there = document.querySelector("#talk-path img");
  sessionStorage.setItem("norvik-talk", JSON.stringify({ open: true, step: there ? 0 : -1 }));
});

// What was recorded before may still wait in this browser.
new Waiting(document.querySelector('meta[name="csrf-token"]').content).pump();
