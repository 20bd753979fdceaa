"""The stroke rate of films that are not from the side: from in front and from overhead."""

from __future__ import annotations

from concurrent.futures import ProcessPoolExecutor

import numpy as np

from bench.figures import line
from bench.swum_films import FPS, takes
from norvik.model.film import Shot, Take, shot_of
from norvik.reading.detect import Detector
from norvik.reading.follow import usual_trunk
from norvik.reading.followed import follow_film
from norvik.reading.network import LitePose
from norvik.reading.read import read_followed
from norvik.reading.stir import Stir

VIEWS = ("front-under", "overhead")
_SEED, _FILMS = 12_500, {"plain": 1, "filmlike": 1}


def true_cycle(shot: Shot) -> float:
    """Mean seconds of the whole cycles that a film shows."""
    cycles = [
        c.end - next(iter(c.at.values()))
        for lane in shot.plan.arms.values()
        for c in lane
        if next(iter(c.at.values())) >= 0 and c.end < shot.times[-1]
    ]
    return float(np.mean(cycles))


def _told(job: tuple[Take, bool]) -> tuple[str, float, bool]:
    """(view, share by which the cycle is off, does its plus-minus hold); inf where none is told."""
    take, _ = job
    shot, stir, finder = shot_of(take), Stir(), Detector()
    pictures = [np.ascontiguousarray(shot.frame(n)[:, :, ::-1]) for n in range(len(shot.times))]
    frames = ((n, float(shot.times[n]), picture) for n, picture in enumerate(pictures))
    usual = usual_trunk(iter(pictures[::FPS]), finder)
    followed = follow_film(stir.beside(frames), LitePose(), finder, usual)
    cycle = read_followed(followed, take.swim.stroke_name, take.view, stir).cycle
    if cycle is None:
        return take.view, np.inf, False
    off = abs(cycle.seconds / true_cycle(shot) - 1)
    return take.view, off, off <= cycle.u95 / cycle.seconds


def run() -> None:
    with ProcessPoolExecutor(2) as pool:
        found = list(pool.map(_told, takes(_SEED, _FILMS, 8, views=VIEWS)))
    for view in VIEWS:
        offs = np.array([off for seen, off, _ in found if seen == view])
        held = [holds for seen, _, holds in found if seen == view]
        line(
            f"stroke rate without a mark, {view}, {len(offs)} films",
            f"within 1 %: {np.mean(offs <= 0.01):.2f}, 2 %: {np.mean(offs <= 0.02):.2f}, "
            f"plus-minus holds {np.mean(held):.2f}",
            "0.90, 1.00, 0.90",
        )
