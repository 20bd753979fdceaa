// The review: the coach's words are kept while they are typed; the button prints the page.

document.getElementById("print").addEventListener("click", () => window.print());

/** Milliseconds without a key after which what is typed is sent. */
const PAUSE_MS = 600;
const form = document.getElementById("words-form");

if (form) {
  const told = document.getElementById("words-kept");
  let waiting;
  let unsaved = false;

  /** keepalive: also while the page is being left. */
  async function keep() {
    clearTimeout(waiting);
    if (!unsaved) return;
    unsaved = false;
    try {
      const answer = await fetch(form.dataset.keep, {
        method: "POST",
        body: new FormData(/** @type {any} */ (form)),
        headers: { Accept: "application/json" },
        keepalive: true,
      });
      if (answer.ok && !answer.redirected) {
        told.textContent = "Saved.";
        return;
      }
      const said = await answer.json().catch(() => ({}));
      told.textContent = said.sentence ?? "Not saved: sign in again in another tab, then type on.";
    } catch {
      told.textContent = "No connection: not saved yet.";
    }
    unsaved = true;
    waiting = setTimeout(keep, 4000);
  }

  form.addEventListener("input", () => {
    unsaved = true;
    told.textContent = "…";
    clearTimeout(waiting);
    waiting = setTimeout(keep, PAUSE_MS);
  });
  form.addEventListener("change", keep);
  // Who is quick types before this script is there.
  const typed = (field) => field.defaultValue !== undefined && field.value !== field.defaultValue;
  if ([...form.querySelectorAll("textarea, input[type=date]")].some(typed)) {
    unsaved = true;
    keep();
  }
  form.addEventListener("submit", () => {
    unsaved = false;
    clearTimeout(waiting);
  });
  addEventListener("pagehide", keep);
  addEventListener("beforeunload", (event) => {
    if (!unsaved) return;
    keep();
    event.preventDefault();
  });
}
