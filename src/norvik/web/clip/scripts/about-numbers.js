// What the numbers of the open topic mean: asked for when the dialog opens, never kept.

/**
 * @param {string} topic
 * @param {(text: string, wrong?: boolean) => void} tell
 */
export async function aboutNumbers(topic, tell) {
  const dialog = /** @type {HTMLDialogElement} */ (document.getElementById("about-numbers"));
  try {
    const answer = await fetch(`${dialog.dataset.address}?topic=${encodeURIComponent(topic)}`);
    if (!answer.ok) throw new Error(String(answer.status));
    dialog.innerHTML = await answer.text();
    dialog.showModal();
  } catch {
    tell("No connection: what the numbers mean cannot be shown now.", true);
  }
}
