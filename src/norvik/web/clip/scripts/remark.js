// A remark in the coach's own words, on the frame that is seen when the dialog opens.

export class RemarkDialog {
  /** on: { frame() of the film, told(sentence, wrong) }. */
  constructor(dialog, token, on) {
    this.dialog = dialog;
    this.form = dialog.querySelector("form");
    this.token = token;
    this.on = on;
    this.frame = 0;
    this.form.addEventListener("submit", (event) => {
      event.preventDefault();
      this.save();
    });
  }

  async open() {
    this.frame = await this.on.frame();
    this.dialog.showModal();
    this.form.elements.text.focus();
  }

  close() {
    this.dialog.close();
  }

  /** What is typed stays in the dialog until it is saved. */
  async save() {
    if (!this.form.elements.text.value.trim()) return this.close();
    const values = new URLSearchParams(/** @type {any} */ (new FormData(this.form)));
    values.set("frame", String(this.frame));
    values.set("on", "bench");
    try {
      const answer = await fetch(this.form.dataset.address, {
        method: "POST",
        body: values,
        headers: { "X-CSRFToken": this.token, Accept: "application/json" },
      });
      const said = await answer.json();
      if (!answer.ok) return this.on.told(said.sentence, true);
      this.form.reset();
      this.close();
      document.body.dispatchEvent(new CustomEvent("undoable", { detail: said }));
    } catch {
      this.on.told("No connection: the remark was not saved. Try again.", true);
    }
    return undefined;
  }
}
