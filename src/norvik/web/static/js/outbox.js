// Marks on their way to the server: one after the other, kept over a lost connection and a reload.

export class Outbox {
  /** received(html) gets each answer; told(sentence) says how it stands. */
  constructor(name, token, received, told) {
    this.key = `norvik-outbox-${name}`;
    this.token = token;
    this.received = received;
    this.told = told;
    this.busy = false;
    this.items = JSON.parse(localStorage.getItem(this.key) ?? "[]");
    window.addEventListener("online", () => this.pump());
    this.pump();
  }

  send(url, values) {
    this.items.push({ url, values });
    this.keep();
    return this.pump();
  }

  keep() {
    if (this.items.length) localStorage.setItem(this.key, JSON.stringify(this.items));
    else localStorage.removeItem(this.key);
  }

  async pump() {
    if (this.busy) return;
    this.busy = true;
    while (this.items.length) {
      const { url, values } = this.items[0];
      let answer;
      try {
        answer = await fetch(url, {
          method: "POST",
          body: new URLSearchParams(values),
          headers: { "X-CSRFToken": this.token, "HX-Request": "true" },
        });
      } catch {
        const n = this.items.length;
        this.told(`No connection: ${n} ${n === 1 ? "step waits" : "steps wait"} here and will be sent.`);
        setTimeout(() => this.pump(), 1500);
        break;
      }
      if (answer.redirected) {
        this.told("You were signed out. Sign in again in another tab; your marks wait here.");
        setTimeout(() => this.pump(), 4000);
        break;
      }
      this.items.shift();
      this.keep();
      this.received(await answer.text(), answer.ok, values);
    }
    this.busy = false;
  }
}
