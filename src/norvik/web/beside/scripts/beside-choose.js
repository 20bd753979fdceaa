// Choosing the films of a comparison by mouse and by keys.

/**
 * By mouse a choice is made at once; by keys with Enter, or when the field is left: arrows pass by
 * others.
 */
export function chooseByKeys(form) {
  let keyed = null;
  form.addEventListener("keydown", (event) => {
    if (!event.target.matches("select") || event.key === "Tab") return;
    if (event.key === "Enter") {
      event.preventDefault();
      form.submit();
    } else if (event.key === "Escape") event.target.blur();
    else keyed ??= event.target;
  });
  form.addEventListener("pointerdown", () => {
    keyed = null;
  });
  form.addEventListener("change", (event) => {
    if (event.target.matches("select") && event.target !== keyed) form.submit();
  });
  form.addEventListener("focusout", (event) => {
    if (event.target === keyed && keyed.value !== keyed.querySelector("[selected]")?.value) form.submit();
    keyed = null;
  });
}
