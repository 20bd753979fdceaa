"""Following points that no dot marks, on skin and suit of the film-like swimmer."""

from __future__ import annotations

from concurrent.futures import ProcessPoolExecutor
from fractions import Fraction
from functools import partial
from pathlib import Path

import numpy as np

from bench.figures import line
from norvik.core.frame.movement import UNSURE
from norvik.footage.follow import follow, grey_frames
from norvik.model.film import Conditions, Take, film
from norvik.model.filmlike.shot import FilmlikeShot
from norvik.model.filmlike.skin_points import nearest, place
from norvik.model.schedule import Swim

FPS, SECONDS, FOLLOWED = 60, 4, 80
#: Seconds a cycle.
STROKES = {"freestyle": 1.5, "backstroke": 1.5, "breaststroke": 1.5, "butterfly": 1.3}
#: Surface and ring of each point: shoulder, elbow, forearm, thigh, knee, calf, waist.
RINGS = (("arm", 4), ("arm", 10), ("arm", 14), ("leg", 3), ("leg", 6), ("leg", 8), ("trunk", 5))
BEGINS = (30, 90, 150)
#: As a phone that is set well writes it: about 14 Mbit/s.
CRF = 18


def _followed(room: Path, stroke: str) -> list[tuple[float | None, float]]:
    """For each frame in which a point is seen: pixels off, None where it is lost, and certainty."""
    take = Take(
        Swim(stroke=stroke, cycle_s=STROKES[stroke], seed=5), seconds=SECONDS, fps=FPS,
        style="filmlike", conditions=Conditions(crf=CRF),
    )  # fmt: skip
    path = room / f"bare-{stroke}.mp4"
    film(take, path)
    shot = FilmlikeShot(take)
    pictures = dict(grey_frames(path, Fraction(FPS), 0, FPS * SECONDS - 1))
    found: list[tuple[float | None, float]] = []
    for begin in BEGINS:
        frames = range(begin, min(begin + FOLLOWED, len(pictures)))
        for part, ring in RINGS:
            point = nearest(shot, begin, part, ring)
            if point is None:
                continue
            (x, y), _ = place(shot, begin, point)
            steps = {s.frame: s for s in follow(((n, pictures[n]) for n in frames), x, y, 1 / FPS)}
            for n in frames[1:]:
                (x, y), seen = place(shot, n, point)
                step = steps.get(n)
                if not seen:
                    continue
                if step is None or step.x is None or step.y is None:
                    found.append((None, 0.0))
                else:
                    found.append((float(np.hypot(step.x - x, step.y - y)), step.confidence))
    return found


def run(room: Path) -> None:
    with ProcessPoolExecutor(2) as pool:
        frames = [f for film_ in pool.map(partial(_followed, room), STROKES) for f in film_]
    off = np.array([away for away, _ in frames if away is not None])
    sure = np.array([away for away, c in frames if away is not None and c >= UNSURE])
    line("bare points: followed of the frames that show them", f"{off.size} of {len(frames)}",
         "at least 200")  # fmt: skip
    line("  pixels off, median", f"{np.median(off):.1f}", "at most 4")
    line("  pixels off, 95 %", f"{np.percentile(off, 95):.1f}", "under 12")
    line("  sure, and more than 12 off", f"{np.mean(sure > 12):.1%}", "at most 5 %")
