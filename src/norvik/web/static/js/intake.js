// Sends clips to the library one after the other, with progress and cancel for each.

const form = document.getElementById("intake");
const drop = document.getElementById("drop");
const files = document.getElementById("files");
const list = document.getElementById("uploads");
const rowTemplate = document.getElementById("upload-row");
const token = document.querySelector('meta[name="csrf-token"]').content;

let chain = Promise.resolve();

function megabytes(bytes) {
  return `${(bytes / 1e6).toFixed(1)} MB`;
}

function add(file) {
  const row = rowTemplate.content.firstElementChild.cloneNode(true);
  const told = row.querySelector("[data-told]");
  row.querySelector("[data-name]").textContent = file.name;
  told.textContent = "waits";
  list.append(row);
  // What the clip is counts as it stands when the clip is dropped, not when its turn comes.
  const facts = new URLSearchParams(new FormData(form));
  facts.set("name", file.name);
  const request = new XMLHttpRequest();
  let cancelled = false;
  row.querySelector("[data-cancel]").addEventListener("click", () => {
    cancelled = true;
    request.abort();
    finish(row, "cancelled");
  });
  chain = chain.then(() => (cancelled ? null : send(file, facts, request, row, told)));
}

function send(file, facts, request, row, told) {
  const bar = row.querySelector("progress");
  const began = performance.now();
  return new Promise((resolve) => {
    request.upload.addEventListener("progress", (event) => {
      bar.value = event.loaded / event.total;
      const rate = event.loaded / ((performance.now() - began) / 1000);
      told.textContent = `${megabytes(event.loaded)} of ${megabytes(event.total)}, ${megabytes(rate)}/s`;
    });
    request.addEventListener("loadend", () => {
      let answer = null;
      try {
        answer = JSON.parse(request.responseText);
      } catch {
        // No JSON: the connection broke, or the answer is a page.
      }
      if (request.status === 201) {
        finish(row, "is in; being prepared", answer.page);
      } else if (answer?.sentence) {
        finish(row, answer.sentence, answer.there, true);
      } else if (request.status !== 0 || !row.dataset.done) {
        finish(row, "The connection broke off. Drop the clip again.", null, true);
      }
      resolve();
    });
    request.open("POST", `${form.dataset.url}?${facts}`);
    request.setRequestHeader("X-CSRFToken", token);
    request.setRequestHeader("Accept", "application/json");
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.send(file);
  });
}

function finish(row, sentence, page = null, bad = false) {
  if (row.dataset.done) return;
  row.dataset.done = "true";
  const told = row.querySelector("[data-told]");
  told.textContent = sentence;
  told.classList.toggle("text-caution", bad);
  told.classList.toggle("font-semibold", bad);
  row.querySelector("progress").hidden = bad;
  row.querySelector("[data-cancel]").remove();
  if (page) {
    const open = row.querySelector("[data-open]");
    open.href = page;
    open.hidden = false;
    // One clip only: go straight to where it turns into the bench.
    if (!bad && list.children.length === 1) location.assign(page);
  }
}

function addAll(chosen) {
  for (const file of chosen) add(file);
}

files.addEventListener("change", () => {
  addAll([...files.files]);
  files.value = "";
});
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
