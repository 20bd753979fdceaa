// A press that an answer overtook. Leaving a field sends it, and the answer may put new buttons in
// the place of the old ones while the finger is still down: the browser then counts no click.

const PRESSED = "button, a[href], summary";
let pressed = null;

const words = (element) => element.textContent.replace(/\d+/g, "").replace(/\s+/g, " ").trim();

/** The same control, before and after an answer: numbers in its text may have moved on. */
function same(one, other) {
  return one.tagName === other.tagName && one.id === other.id && words(one) === words(other);
}

document.addEventListener("pointerdown", (event) => {
  pressed = event.button === 0 ? event.target.closest(PRESSED) : null;
});
document.addEventListener("pointercancel", () => {
  pressed = null;
});
document.addEventListener("pointerup", (event) => {
  const before = pressed;
  pressed = null;
  if (!before || before.isConnected) return;
  const now = document.elementFromPoint(event.clientX, event.clientY)?.closest(PRESSED);
  if (now && same(before, now)) now.click();
});
