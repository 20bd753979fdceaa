// Several swimmers in the picture: the coach clicks head and hips of the one to be read.

import { written } from "./overlay.js";

/** drawing: asks for the clicks and posts them. told(sentence): where the page speaks. */
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
