// The card of what the film told: when it has been read the timeline has proposals; several swimmers in the picture.

import { written } from "./overlay.js";

/** reload(): brings the timeline up to date; asked for when the film has been read while the page is open. */
export function followReading(reload) {
  const open = () => document.getElementById("reading").dataset.open;
  let before = open();
  document.body.addEventListener("htmx:afterSettle", () => {
    if (open() === before) return;
    before = open();
    reload();
  });
}

/** The coach clicks head and hips of the one to be read. drawing: asks for the clicks and posts them. told(sentence): where the page speaks. */
export function showSwimmer(drawing, told) {
  return drawing.begin(["the head of the swimmer", "the hips"], async (points, frame) => {
    const html = await drawing.post("POST", "../reading/", { frame, points: written(points) });
    if (html === null) {
      told("The film cannot be read from here. Check the connection and try again.", true);
      return;
    }
    const card = document.createElement("template");
    card.innerHTML = html;
    document.getElementById("reading").replaceWith(card.content.firstElementChild);
    htmx.process(document.getElementById("reading"));
  });
}
