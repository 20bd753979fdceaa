// Buttons that copy a text or a link, to be pasted into a message.

/** How long a button says that it has copied. */
const SAID_MS = 2500;

/** True when it lies in the clipboard. Over plain http browsers offer the older way alone. */
async function copied(text) {
  try {
    await navigator.clipboard.writeText(text);
    return true;
  } catch {
    const field = document.createElement("textarea");
    field.value = text;
    field.setAttribute("readonly", "");
    field.className = "sr-only";
    document.body.append(field);
    field.select();
    const fine = document.execCommand("copy");
    field.remove();
    return fine;
  }
}

document.addEventListener("click", async (event) => {
  const button = /** @type {HTMLElement | null} */ (/** @type {any} */ (event.target).closest("[data-copy]"));
  if (!button) return;
  button.dataset.word ??= button.textContent;
  button.textContent = (await copied(button.dataset.copy)) ? "Copied" : "Not copied";
  setTimeout(() => (button.textContent = button.dataset.word), SAID_MS);
});
