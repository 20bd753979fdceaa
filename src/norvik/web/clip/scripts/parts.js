// Bringing the page to what the server answered; what is alike stays as it is, unpainted.

/** Puts each part of an answer in the place of the one with its id. */
export function replaceParts(html) {
  const answer = document.createElement("template");
  answer.innerHTML = html;
  for (const fresh of [...answer.content.children]) bring(document.getElementById(fresh.id), fresh);
}

/** The sentence of an answer that refused. */
export function sentenceOf(html) {
  return new DOMParser().parseFromString(html, "text/html").body.textContent.trim();
}

function bring(old, fresh) {
  const parts = [...fresh.querySelectorAll("[data-part]")];
  const names = (of) => [...of.querySelectorAll("[data-part]")].map((p) => p.dataset.part).join();
  if (!parts.length || names(old) !== names(fresh)) {
    old.replaceWith(fresh);
    return;
  }
  for (const { name, value } of fresh.attributes) {
    if (old.getAttribute(name) !== value) old.setAttribute(name, value);
  }
  for (const part of parts) {
    const there = old.querySelector(`[data-part="${part.dataset.part}"]`);
    // data-same: the server says that the page has it already.
    if (!("same" in part.dataset) && !there.isEqualNode(part)) {
      there.replaceWith(part);
      // Buttons in it that htmx answers are new to it.
      if (part.querySelector("[hx-post]")) htmx.process(part);
    }
  }
}
