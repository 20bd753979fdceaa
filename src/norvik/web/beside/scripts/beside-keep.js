// The question what goes into the review: this pair or the strip of the cycle, and its caption.

export class Keeping {
  /** keep(what, caption): "pair" or "strip". */
  constructor(dialog, keep) {
    this.dialog = dialog;
    this.caption = dialog.querySelector("input");
    dialog.addEventListener("close", () => {
      if (dialog.returnValue) keep(dialog.returnValue, this.caption.value);
    });
  }

  open() {
    // Closed by Escape it keeps what it returned before.
    this.dialog.returnValue = "";
    this.caption.value = "";
    this.dialog.showModal();
    this.caption.focus();
  }
}
