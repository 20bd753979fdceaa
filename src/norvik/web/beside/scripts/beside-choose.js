// Choosing the films of a comparison by mouse and by keys.

/**
 * By mouse a choice is made at once; by keys with Enter, or when the field is left: arrows pass by
 * others. Escape leaves what was chosen before.
 */
export function chooseByKeys(form) {
  /** The field that keys are choosing in, and what it was. */
  let keyed = null;
  let before = "";
  form.addEventListener("focusin", (event) => {
    if (event.target.matches("select")) before = event.target.value;
  });
  form.addEventListener("keydown", (event) => {
    const field = event.target;
    if (!field.matches("select") || event.key === "Tab") return;
    if (event.key === "Enter") {
      event.preventDefault();
      form.submit();
    } else if (event.key === "Escape") {
      field.value = before;
      field.blur();
    } else keyed ??= field;
  });
  form.addEventListener("pointerdown", () => {
    keyed = null;
  });
  form.addEventListener("change", (event) => {
    if (event.target.matches("select") && event.target !== keyed) form.submit();
  });
  form.addEventListener("focusout", (event) => {
    if (event.target === keyed && keyed.value !== before) form.submit();
    keyed = null;
  });
}
