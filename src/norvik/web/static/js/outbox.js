// Marks on their way to the server: one after the other, kept over a lost connection and a reload.

export class Outbox {
  /**
   * on: { received(html, fine, values): each answer; told(sentence): how it stands;
   * also(): values that hold at the moment of sending, not of pressing }.
   */
  constructor(name, token, on) {
    this.key = `norvik-outbox-${name}`;
    this.token = token;
    this.on = on;
    this.busy = false;
    this.items = JSON.parse(localStorage.getItem(this.key) ?? "[]");
  }

  /** Sends what waits here from an earlier visit, and goes on whenever the connection is back. */
  start() {
    window.addEventListener("online", () => this.pump());
    return this.pump();
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

  /**
   * What to tell while a step has to wait: it was neither taken nor refused. Empty when there is an
   * answer to it. A page that is too old gets a new token and tries at once.
   */
  async again(answer) {
    const n = this.items.length;
    const wait = `${n} ${n === 1 ? "change waiting" : "changes waiting"} to be sent.`;
    if (answer.redirected || answer.status === 401) {
      return `You are signed out. Sign in again in another tab; ${wait}`;
    }
    if (answer.headers.get("X-Norvik-Token") === "old") {
      const fresh = await fetch("/token", { headers: { Accept: "application/json" } }).catch(() => null);
      if (!fresh) return `No connection: ${wait}`;
      if (fresh.redirected || !fresh.ok) {
        return `You are signed out. Sign in again in another tab; ${wait}`;
      }
      this.token = (await fresh.json()).token;
      return `Sending again: ${wait}`;
    }
    if (answer.status >= 500 || [408, 425, 429].includes(answer.status)) {
      return `Norvik is busy or its disk is full: ${wait}`;
    }
    return "";
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
          body: new URLSearchParams({ ...this.on.also(), ...values }),
          headers: { "X-CSRFToken": this.token, "HX-Request": "true" },
        });
      } catch {
        const n = this.items.length;
        this.on.told(`No connection: ${n} ${n === 1 ? "change waiting" : "changes waiting"} to be sent.`);
        setTimeout(() => this.pump(), 1500);
        break;
      }
      const again = await this.again(answer);
      if (again) {
        this.on.told(again);
        setTimeout(() => this.pump(), 4000);
        break;
      }
      // It waits here until its answer is whole: who looks meanwhile must not think that the page
      // knows what came of it. An answer that breaks off was taken all the same.
      const html = await answer.text().catch(() => null);
      this.items.shift();
      this.keep();
      if (html !== null) this.on.received(html, answer.ok, values);
      else this.on.told("The connection broke off: reload the page to see the last change.");
    }
    this.busy = false;
  }
}
