// What was recorded waits in the browser's own store until the server has it: nothing is lost when
// the line drops or the tab is closed. A few seconds at a time, each take in its order.

import { createStore, del, entries, get, keys, set } from "./idb-keyval.min.js";

const store = createStore("norvik-talks", "waiting");
const RETRY_MS = 1500;
const numbered = (n) => String(n).padStart(6, "0");

export class Waiting extends EventTarget {
  /** Events: "change" when more or less waits; detail.sentence when something is to be told. */
  constructor(token) {
    super();
    this.token = token;
    this.count = 0;
    /** Take key to the number that the server gave it. */
    this.takes = new Map();
    /** Keys of the takes of this page. */
    this.own = new Set();
    window.addEventListener("online", () => this.pump());
  }

  /** A take begins. url: where it is asked for; mime; place: where in the talk it goes. */
  async begin(key, url, mime, place) {
    this.own.add(key);
    await set(`${key} take`, { url, mime, place }, store);
  }

  /** bit: { n, sound, deeds, inks, until } */
  async put(key, bit) {
    await set(`${key} ${numbered(bit.n)}`, bit, store);
    this.pump();
  }

  /** Resolves when nothing waits any more, or when it has to wait for the line. */
  async pump() {
    if (this.busy) {
      this.more = true;
      return this.busy;
    }
    this.busy = this.send().finally(() => {
      this.busy = null;
    });
    await this.busy;
    if (this.more) {
      this.more = false;
      return this.pump();
    }
    return undefined;
  }

  async send() {
    const all = (await entries(store)).filter(([key]) => !key.endsWith(" take"));
    all.sort(([a], [b]) => (a < b ? -1 : 1));
    this.tell(all.length);
    for (const [name, bit] of all) {
      const [key] = name.split(" ");
      const outcome = await this.one(key, bit);
      if (outcome === "wait") {
        setTimeout(() => this.pump(), RETRY_MS);
        return;
      }
      await del(name, store);
      this.tell(this.count - 1);
    }
    await this.forget();
  }

  /** Takes of earlier pages of which nothing waits any more. */
  async forget() {
    const all = (await keys(store)).map(String);
    const held = new Set(all.filter((name) => !name.endsWith(" take")).map((name) => name.split(" ")[0]));
    for (const name of all) {
      const [key] = name.split(" ");
      if (name.endsWith(" take") && !held.has(key) && !this.own.has(key)) await del(name, store);
    }
  }

  tell(count, sentence = "") {
    this.count = count;
    this.dispatchEvent(new CustomEvent("change", { detail: { count, sentence } }));
  }

  /** "kept", "refused", or "wait". */
  async one(key, bit) {
    const take = await get(`${key} take`, store);
    if (!take) return "refused";
    if (!this.takes.has(key)) {
      const after = take.place.after;
      const values = { key, mime: take.mime, ...take.place };
      // It follows a take of this page, whose number only the server knows.
      if (after !== undefined && !this.takes.has(after)) delete values.after;
      else if (after !== undefined) values.after = this.takes.get(after);
      const answer = await this.post(take.url, new URLSearchParams(values));
      if (answer === "wait" || answer === "refused") return answer;
      this.takes.set(key, answer.take);
    }
    const form = new FormData();
    if (bit.sound?.size) form.append("sound", bit.sound);
    form.append("deeds", JSON.stringify(bit.deeds));
    form.append("inks", JSON.stringify(bit.inks));
    form.append("until", String(bit.until));
    const answer = await this.post(`${take.url}${this.takes.get(key)}/bits/${bit.n}`, form);
    return typeof answer === "string" ? answer : "kept";
  }

  async post(url, body) {
    let answer;
    try {
      answer = await fetch(url, {
        method: "POST",
        body,
        headers: { "X-CSRFToken": this.token, Accept: "application/json" },
      });
    } catch {
      this.tell(this.count, "No connection: the recording is safe in this browser and is sent later.");
      return "wait";
    }
    if (answer.redirected || answer.status === 401) {
      this.tell(this.count, "You are signed out. Sign in again in another tab; the recording is safe.");
      return "wait";
    }
    if (answer.headers.get("X-Norvik-Token") === "old") {
      const fresh = await fetch("/token", { headers: { Accept: "application/json" } }).catch(() => null);
      if (fresh?.ok && !fresh.redirected) this.token = (await fresh.json()).token;
      return "wait";
    }
    if (answer.status >= 500 || [408, 425, 429].includes(answer.status)) {
      this.tell(this.count, "Norvik is busy or its disk is full: the recording is safe in this browser.");
      return "wait";
    }
    const said = await answer.json().catch(() => ({}));
    if (answer.ok) return said;
    this.tell(this.count, said.sentence ?? "A piece of the recording was refused.");
    return "refused";
  }
}
