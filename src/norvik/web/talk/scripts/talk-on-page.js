// The talk bar on the bench and on films side by side: what is seen there.

import { TalkBar } from "./talk-bar.js";
import { InkReader, StanceReader, placeOf } from "./talk-scene.js";

/** On the bench: one film with its drawings. */
export function talkOnBench({ root, stage, drawing, token, tell }) {
  const bar = document.getElementById("talk-bar");
  const svg = /** @type {any} */ (document.getElementById("overlay"));
  if (!bar || !svg) return null;
  const box = document.getElementById("main");
  const ink = new InkReader(svg);
  const { width, height } = svg.viewBox.baseVal;
  const clip = Number(root.dataset.clip);
  return new TalkBar(bar, token, {
    clip,
    tell,
    boxes: () => [box],
    free: (event) =>
      !drawing.taking.now &&
      !event.target.closest("[data-point], g.drawing, button, input, label, a, dialog"),
    show: (frame) => stage.goto(frame),
    scene: () => ({
      layout: "beside",
      blend: 0.5,
      speed: stage.speed,
      playing: stage.playing,
      films: [
        {
          clip,
          size: [Math.round(width), Math.round(height)],
          title: bar.dataset.title,
          frame: stage.shown,
          place: placeOf(box, svg),
          ink: ink.read(),
        },
      ],
    }),
  });
}

/** Side by side: two films or three, with what is drawn on each; a drawn figure by its stances. */
export function talkBeside({ root, films, host, blend, player, lead, token, tell, drawn }) {
  const bar = document.getElementById("talk-bar");
  if (!bar) return null;
  const readers = films.map((film) =>
    film.isFigure ? new StanceReader(film) : new InkReader(film.figure.querySelector(".beside-drawn")),
  );
  return new TalkBar(bar, token, {
    clip: Number(root.dataset.clip),
    tell,
    boxes: () => films.map((film) => film.figure.querySelector(".beside-picture")),
    free: (event) => !drawn().taking && !event.target.closest("button, input, label, a"),
    show: null,
    scene: () => ({
      layout: host.dataset.laid,
      blend: Number(blend.value) / 100,
      speed: lead.speed,
      playing: player.on,
      // Laid over each other there are two; a third one is not seen then.
      films: (host.dataset.laid === "beside" ? films : films.slice(0, 2)).map(
        ({ figure, stage, width, height }, n) => ({
          ...whichFilm(figure.dataset),
          size: [Math.round(width), Math.round(height)],
          title: figure.querySelector(".beside-words b").textContent,
          frame: stage.shown,
          place: placeOf(figure.querySelector(".beside-picture"), readers[n].svg),
          ink: readers[n].read(),
        }),
      ),
    }),
  });
}

const whichFilm = ({ clip, model, figure }) =>
  clip ? { clip: Number(clip) } : model ? { model } : { figure };
