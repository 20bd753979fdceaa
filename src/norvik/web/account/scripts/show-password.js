// A box beside password fields that shows what is typed.

document.addEventListener("change", (event) => {
  const box = /** @type {HTMLInputElement} */ (event.target);
  if (!box.matches("[data-show-passwords]")) return;
  for (const field of box.form?.querySelectorAll("[data-password]") ?? []) {
    /** @type {HTMLInputElement} */ (field).type = box.checked ? "text" : "password";
  }
});

export {};
