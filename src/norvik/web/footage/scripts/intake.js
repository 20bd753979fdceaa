// Sends clips to the library by the tus protocol: in pieces, so that a lost connection or a server
// that starts anew costs at most one piece. What is whole is then made a clip.

const form = document.getElementById("intake");
const drop = document.getElementById("drop");
const files = document.getElementById("files");
const list = document.getElementById("uploads");
const rowTemplate = document.getElementById("upload-row");
const token = document.querySelector('meta[name="csrf-token"]').content;
const unfinished = document.getElementById("unfinished");

/** Milliseconds before each new try of a piece; after the last the coach is asked. */
const RETRY_MS = [500, 1000, 2000, 4000, 8000, 8000, 15000, 15000];
/** Two at a time keep the line full while one is being taken in. */
const AT_ONCE = 2;
const waiting = [];
let sending = 0;

function size(bytes) {
  return bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(2)} GB`;
}

function duration(seconds) {
  if (seconds < 90) return `${Math.ceil(seconds)} s`;
  return `${Math.round(seconds / 60)} min`;
}

/** One file on its way. */
class Coming {
  constructor(file) {
    this.file = file;
    // What the clip is counts as it stands when the clip is dropped, not when its turn comes.
    this.facts = new FormData(/** @type {any} */ (form));
    this.row = rowTemplate.content.firstElementChild.cloneNode(true);
    this.told = this.row.querySelector("[data-told]");
    this.bar = this.row.querySelector("progress");
    this.again = this.row.querySelector("[data-again]");
    this.row.querySelector("[data-name]").textContent = file.name;
    this.told.textContent = "waits";
    this.row.querySelector("[data-cancel]").addEventListener("click", () => this.cancel());
    this.again.addEventListener("click", () => {
      this.again.hidden = true;
      this.told.textContent = "goes on …";
      this.upload.start();
    });
    list.append(this.row);
  }

  async send() {
    this.upload = new tus.Upload(this.file, {
      endpoint: form.dataset.uploads,
      chunkSize: Number(form.dataset.chunk),
      retryDelays: RETRY_MS,
      headers: { "X-CSRFToken": token, Accept: "application/json" },
      metadata: { filename: this.file.name.slice(0, 300), filetype: this.file.type },
      removeFingerprintOnSuccess: true,
      onShouldRetry: (error) => {
        const status = error.originalResponse?.getStatus() ?? 0;
        // What the server refuses it will refuse again; a piece out of place is put right by asking.
        return status === 0 || status === 409 || status === 423 || status === 400 || status >= 502;
      },
      onProgress: (sent, of) => this.progress(sent, of),
      onError: (error) => this.broke(error),
      onSuccess: () => this.take(),
    });
    const before = await this.upload.findPreviousUploads();
    if (before.length) this.upload.resumeFromPreviousUpload(before[0]);
    if (this.over) return;
    this.upload.start();
  }

  progress(sent, of) {
    const now = performance.now();
    this.bar.value = of ? sent / of : 1;
    // Bytes that a former try had sent do not count for the rate.
    this.from ??= { sent, now };
    const seconds = (now - this.from.now) / 1000;
    const rate = seconds > 0.5 ? (sent - this.from.sent) / seconds : 0;
    const left = rate > 0 && sent < of ? `, ${duration((of - sent) / rate)} left` : "";
    this.told.textContent = `${size(sent)} of ${size(of)}` + (rate > 0 ? ` at ${size(rate)}/s${left}` : "");
  }

  broke(error) {
    const status = error.originalResponse?.getStatus() ?? 0;
    let sentence = null;
    try {
      sentence = JSON.parse(error.originalResponse.getBody()).sentence;
    } catch {
      // No JSON: the connection broke, or the answer is a page.
    }
    if (sentence && status < 500 && status !== 409) {
      this.finish(sentence, null, true);
      return;
    }
    this.from = undefined;
    this.told.textContent = sentence ?? "Connection lost. What was sent is kept.";
    this.again.hidden = false;
    done(this);
  }

  /** Every byte is there: make it a clip. */
  async take() {
    this.bar.value = 1;
    this.told.textContent = "is looked at …";
    this.facts.set("upload", this.upload.url.split("/").at(-1));
    this.facts.set("name", this.file.name);
    let answer = null;
    let status = 0;
    for (let n = 0; n < 6 && answer === null; n += 1) {
      try {
        const response = await fetch(form.dataset.take, {
          method: "POST",
          body: this.facts,
          headers: { "X-CSRFToken": token, Accept: "application/json" },
        });
        status = response.status;
        answer = await response.json();
      } catch {
        this.told.textContent = "No connection; retrying …";
        await new Promise((resolve) => setTimeout(resolve, 1000 * 2 ** n));
      }
    }
    if (status === 201) {
      this.finish("uploaded", answer.page);
      this.row.dataset.clip = answer.clip;
      // One clip only: go straight to where it turns into the bench.
      if (list.children.length === 1 && this.facts.get("swimmer_id")) location.assign(answer.page);
      else brought(answer.clip);
    } else {
      const sentence = answer?.sentence ?? "Connection lost. Drop the clip again: what was sent is kept.";
      this.finish(sentence, answer?.there, true);
    }
  }

  cancel() {
    this.over = true;
    // Also on the server: nothing half-sent stays there.
    this.upload?.abort(true).catch(() => {});
    this.finish("cancelled");
  }

  finish(sentence, page = null, bad = false) {
    this.over = true;
    this.told.textContent = sentence;
    this.told.classList.toggle("text-caution", bad);
    this.told.classList.toggle("text-muted", !bad);
    this.told.classList.toggle("font-semibold", bad);
    this.bar.hidden = true;
    this.again.hidden = true;
    this.row.querySelector("[data-cancel]").remove();
    this.row.dataset.done = "true";
    if (page) {
      const open = this.row.querySelector("[data-open]");
      open.href = page;
      open.hidden = false;
    }
    done(this);
  }
}

function done(coming) {
  if (coming.counted) {
    coming.counted = false;
    sending -= 1;
  }
  next();
}

function next() {
  while (sending < AT_ONCE && waiting.length) {
    const coming = waiting.shift();
    if (coming.over) continue;
    sending += 1;
    coming.counted = true;
    coming.send();
  }
}

function addAll(chosen) {
  for (const file of chosen) waiting.push(new Coming(file));
  next();
}

/** Shows what has come in, to be looked over; once its first stretch is there with a picture. */
async function brought(clip, tries = 0) {
  const old = document.getElementById(`clip-${clip}`);
  if (tries > 60 || old?.querySelector("img")) return;
  const made = await rowOf(clip);
  if (made && (!old || made.querySelector("img"))) {
    if (old) {
      made.querySelector("input").checked = old.querySelector("input").checked;
      old.replaceWith(made);
    } else {
      document.getElementById("brought").hidden = false;
      document.getElementById("clip-rows").append(made);
      // The clip itself stands below now: its upload need not.
      uploadOf(clip)?.remove();
    }
    htmx.process(made);
  }
  setTimeout(() => brought(clip, tries + 1), 2000);
}

const uploadOf = (clip) => list.querySelector(`[data-clip="${clip}"]`);

/** The row of a clip as it is now; null when the connection is gone. */
async function rowOf(clip) {
  try {
    const answer = await fetch(`${form.dataset.rows}?${new URLSearchParams({ ids: clip })}`);
    const fresh = document.createElement("template");
    fresh.innerHTML = answer.ok ? await answer.text() : "";
    return fresh.content.querySelector(".clip-row");
  } catch {
    return null;
  }
}

/** What an earlier visit did not finish: the browser may not open the files again by itself. */
function tellUnfinished() {
  const names = Object.keys(localStorage)
    .filter((key) => key.startsWith("tus::"))
    .map((key) => JSON.parse(localStorage.getItem(key)).metadata?.filename)
    .filter(Boolean);
  if (!names.length) return;
  unfinished.hidden = false;
  unfinished.textContent = `Not finished last time: ${names.join(", ")}. Choose ${names.length === 1 ? "it" : "them"} again to resume the upload.`;
}

function takeChosen() {
  addAll([...files.files]);
  files.value = "";
}
files.addEventListener("change", takeChosen);
for (const name of ["dragover", "dragenter"]) {
  drop.addEventListener(name, (event) => {
    event.preventDefault();
    drop.classList.add("bg-shallow");
  });
}
for (const name of ["dragleave", "drop"]) {
  drop.addEventListener(name, () => drop.classList.remove("bg-shallow"));
}
drop.addEventListener("drop", (event) => {
  event.preventDefault();
  addAll([...event.dataTransfer.files]);
});
form.addEventListener("submit", (event) => event.preventDefault());
addEventListener("beforeunload", (event) => {
  if (sending) event.preventDefault();
});
/** Whose the dropped clips will be, and as what they are swum: said where they are dropped. */
function sayWhose() {
  const swimmer = form.elements.swimmer_id;
  const stroke = form.elements.stroke;
  const name = swimmer.value ? swimmer.selectedOptions[0].textContent : "unassigned";
  document.getElementById("goes-to").textContent =
    `${name}, ${stroke.selectedOptions[0].textContent.toLowerCase()}`;
}
form.addEventListener("change", sayWhose);
sayWhose();
tellUnfinished();
// Chosen on a slow line, before this script had come.
if (files.files.length) takeChosen();
form.dataset.ready = "true";
