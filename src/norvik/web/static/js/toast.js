// One toast for every step that can be undone: what was done, and Undo.

const SHOWN_MS = 12000;
const toast = document.getElementById("toast");
const token = document.querySelector('meta[name="csrf-token"]')?.content;
let timer = 0;

/** Shows a step: { text, id }. */
export function show({ text, id }) {
  if (!toast) return;
  toast.querySelector("[data-text]").textContent = text;
  toast.dataset.step = id;
  toast.hidden = false;
  clearTimeout(timer);
  timer = setTimeout(hide, SHOWN_MS);
}

function hide() {
  toast.hidden = true;
}

async function undo() {
  const button = toast.querySelector("[data-undo]");
  button.disabled = true;
  try {
    const answer = await fetch(`/undo/${toast.dataset.step}`, {
      method: "POST",
      headers: { "X-CSRFToken": token, Accept: "application/json" },
    });
    if (answer.ok) location.reload();
    else toast.querySelector("[data-text]").textContent = (await answer.json()).sentence;
  } catch {
    toast.querySelector("[data-text]").textContent = "No connection. Try again.";
  } finally {
    button.disabled = false;
  }
}

if (toast) {
  document.body.addEventListener("undoable", (event) => show(event.detail));
  toast.querySelector("[data-undo]").addEventListener("click", undo);
  toast.querySelector("[data-close]").addEventListener("click", hide);
  // Z undoes wherever nothing else answers to it: the bench and the cut have histories of their own.
  document.addEventListener("keydown", (event) => {
    const typing = event.target.closest?.("input, textarea, select, [contenteditable]");
    if (event.key !== "z" || event.ctrlKey || event.metaKey || event.altKey || typing) return;
    if (toast.hidden || document.getElementById("bench") || document.getElementById("cut")) return;
    event.preventDefault();
    undo();
  });
  if (toast.dataset.step)
    show({ text: toast.querySelector("[data-text]").textContent, id: toast.dataset.step });
}
