// A list of clips by keyboard: go, choose, edit details, throw away.

import { typing } from "./transport.js";

const tools = document.getElementById("tools");
const form = document.getElementById("describe");
const wish = document.getElementById("wish");
const throwAway = document.getElementById("throw-away");

const rows = () => [...document.querySelectorAll(".clip-row")];
const box = (row) => row.querySelector('input[name="ids"]');
const chosen = () => rows().filter((row) => box(row).checked);
const ids = () => chosen().map((row) => row.dataset.clip);
let at = -1;

function go(to) {
  const all = rows();
  if (!all.length) return;
  at = Math.min(all.length - 1, Math.max(0, to));
  box(all[at]).focus();
  all[at].scrollIntoView({ block: "nearest" });
}

function count() {
  const n = chosen().length;
  tools.hidden = n === 0;
  document.getElementById("chosen-count").textContent = String(n);
  for (const row of rows()) row.classList.toggle("chosen", box(row).checked);
  if (n === 0) close();
}

function close() {
  form.hidden = true;
  throwAway.replaceChildren();
}

function choose(row, on = !box(row).checked) {
  box(row).checked = on;
  count();
}

function describe() {
  if (!chosen().length && rows()[at]) choose(rows()[at], true);
  if (!chosen().length) return;
  throwAway.replaceChildren();
  form.hidden = false;
  form.querySelector("select").focus();
}

function askToThrowAway() {
  if (!chosen().length && rows()[at]) choose(rows()[at], true);
  if (!chosen().length) return;
  form.hidden = true;
  const button = tools.querySelector('[data-tool="throw-away"]');
  // Whoever may not remove anything has no such button, and the key does nothing.
  if (!button) return;
  htmx.ajax("POST", button.dataset.address, {
    target: "#throw-away",
    swap: "innerHTML",
    values: { ids: ids() },
  });
}

const keys = {
  ArrowDown: (event) => {
    go(at + 1);
    if (event.shiftKey && rows()[at]) choose(rows()[at], true);
  },
  ArrowUp: (event) => {
    go(at - 1);
    if (event.shiftKey && rows()[at]) choose(rows()[at], true);
  },
  a: () => {
    const all = rows().every((row) => box(row).checked);
    for (const row of rows()) box(row).checked = !all;
    count();
  },
  e: describe,
  Delete: askToThrowAway,
  Escape: () => {
    if (!form.hidden || throwAway.children.length) close();
    else {
      for (const row of rows()) box(row).checked = false;
      count();
    }
    go(at);
  },
  Enter: () => {
    if (rows()[at]) location.assign(rows()[at].dataset.open);
  },
  "/": () => document.getElementById("words")?.focus(),
};

document.addEventListener("keydown", (event) => {
  const inForm = form.contains(/** @type {Node} */ (event.target));
  if (event.key === "Escape" && (inForm || event.target.id === "words")) {
    event.target.blur();
    keys.Escape();
    return;
  }
  if (inForm && event.key === "Enter" && event.target.matches("select, [type=checkbox]")) {
    // A list of choices would only open: here Enter says that all is said.
    event.preventDefault();
    form.requestSubmit();
    return;
  }
  if (typing(event) || inForm || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === "Enter" && event.target.closest("button, a, summary")) return;
  const act = keys[event.key.length === 1 ? event.key.toLowerCase() : event.key];
  if (!act || !document.querySelector("[data-library]")) return;
  event.preventDefault();
  act(event);
});

document.addEventListener("change", (event) => {
  if (event.target.name === "ids") count();
});
document.addEventListener("focusin", (event) => {
  const row = event.target.closest(".clip-row");
  if (row) at = rows().indexOf(row);
});
document.addEventListener("click", (event) => {
  const tab = event.target.closest(".state-tab");
  if (tab) {
    wish.elements.state.value = tab.dataset.state;
    htmx.trigger(wish, "wish");
  }
  const tool = event.target.closest("[data-tool]")?.dataset.tool;
  if (tool === "describe") describe();
  if (tool === "throw-away") askToThrowAway();
  if (tool === "none") {
    close();
    keys.Escape();
  }
  if (tool === "close" || tool === "keep") close();
});

document.body.addEventListener("htmx:configRequest", (event) => {
  if (event.detail.elt === form) event.detail.parameters.ids = ids();
  if (event.detail.elt === wish) {
    // An address that can be read: only what is asked for.
    for (const [name, value] of Object.entries({ ...event.detail.parameters })) {
      if (!value) delete event.detail.parameters[name];
    }
  }
});

/** Puts the rows that came back in the places of the old ones; what was said of them is done. */
document.body.addEventListener("htmx:beforeSwap", (event) => {
  if (event.detail.requestConfig.elt !== form || event.detail.xhr.status !== 200) return;
  const answer = document.createElement("template");
  answer.innerHTML = event.detail.xhr.responseText;
  for (const fresh of answer.content.querySelectorAll(".clip-row")) {
    box(fresh).checked = false;
    document.getElementById(fresh.id)?.replaceWith(fresh);
  }
  htmx.process(document.querySelector("[data-library]"));
  form.reset();
  form.hidden = true;
  count();
  go(at);
});
document.body.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target.id !== "found") return;
  at = -1;
  count();
});
count();
