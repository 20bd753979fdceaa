"""Measures on the frame as reading proposes them, beside what they truly are in model films."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from bench.swum_films import SwumFilm, takes
from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point
from norvik.core.frame.measures import MEASURES, take
from norvik.core.reading.limbs import Limbs, limbs_of
from norvik.core.reading.on_frame import PLANS, VIEW, ReadMeasure, read_measures
from norvik.core.reading.places import Places
from norvik.core.reading.stroke import near_side
from norvik.model.dials import with_faults
from norvik.model.film import Take
from norvik.reading.followed import evenly
from norvik.reading.read import read_followed
from norvik.reading.templates import templates_of

Series = NDArray[np.float64]

#: Faults that change what is measured, so that following the swimmer shows.
MOVING = {
    "freestyle": ("dropped-elbow", "reaches-down", "hand-above-elbow", "legs-low", "straight-arm",
                  "head-forward", "kick-knees", "entry-close"),
    "backstroke": ("back-legs-low", "back-head-up", "back-knees", "back-kick-big"),
    "breaststroke": ("breast-dive", "breast-upright", "breast-head-bob", "breast-hands-stop"),
    "butterfly": ("fly-dive", "fly-no-press", "fly-elbows-low", "fly-high"),
}  # fmt: skip
_OTHER = {"left": "right", "right": "left"}
#: A point of a measure as the model calls it; what it is without a side stands in the middle.
_JOINTS = {
    "shoulder": "own shoulder", "elbow": "own elbow", "wrist": "own wrist", "hip": "own hip",
    "fingertips": "own fingertip", "one ankle": "left ankle", "other ankle": "right ankle",
}  # fmt: skip
#: Events of one kind are no nearer to each other than this, seconds.
_SAME_S = 0.3


@dataclass(frozen=True)
class Proposed:
    """One proposed measure. film: what tells its film from the others. here: where a coach clicks
    in that picture, pixels. value: of the proposal, true: at the true event; in its unit.
    """

    film: int
    read: ReadMeasure
    here: Series
    value: float
    true: float
    limbs: Limbs


def moving_takes(
    first_seed: int, films: Mapping[str, int], seconds: float = 6
) -> list[tuple[Take, bool]]:
    """Takes from the side under water, three in four of them with a fault that is measured."""
    found = []
    own = [t for t in takes(first_seed, films, seconds) if t[0].view == VIEW]
    for k, (one, mirrored) in enumerate(own):
        rng = np.random.default_rng(first_seed + 7 * k)
        faults = MOVING[one.swim.stroke]
        fault, amount = faults[(k + first_seed // 1000) % len(faults)], float(rng.uniform())
        if rng.uniform() < 0.75:
            one = with_faults(one, {fault: amount})
        found.append((one, mirrored))
    return found


def proposed_of(film: SwumFilm, learnt: Mapping[str, Places]) -> Iterator[Proposed]:
    """What reading proposes of a film, by what was learnt."""
    stroke = film.shot.take.swim.stroke_name
    read = read_followed(film.followed, stroke, VIEW)
    templates = templates_of(stroke, VIEW)
    assert templates is not None  # there are some for every stroke from the side
    if not read.events:
        return
    times_s, joints = evenly(film.followed)
    limbs = limbs_of(joints)
    found = read_measures(joints, times_s, limbs, stroke, templates.arms, learnt, read.events)
    own = near_side(stroke, limbs.heading)
    true_own = _OTHER[own] if film.mirrored else own
    for one in found:
        when = _true_event(film, PLANS[stroke][one.measure].event, true_own, one.event_s)
        if when is None:
            continue
        here, there = (_true(film, one.measure, true_own, t) for t in (one.time_s, when))
        value, true = _value(one.measure, np.array(one.points)), _value(one.measure, there)
        if value is not None and true is not None:
            yield Proposed(id(film), one, here, value, true, limbs)


#: A measure follows the swimmer when its means over films go with the true ones as well as this,
#: and neither much less nor much more than they do.
_LEAST_ALIKE, _SLOPES = 0.8, (0.6, 1.6)


def follows(proposed: list[Proposed]) -> tuple[float, float, bool]:
    """(correlation of the films' means with the true ones, its slope, does it follow)."""
    films = sorted({p.film for p in proposed})
    means = np.array([
        np.mean([(p.true, p.value) for p in proposed if p.film == film], axis=0) for film in films
    ])  # fmt: skip
    if len(films) < 4 or np.ptp(means[:, 0]) == 0:
        return 0.0, 0.0, False
    alike = float(np.corrcoef(means.T)[0, 1])
    slope = float(np.polyfit(means[:, 0], means[:, 1], 1)[0])
    return alike, slope, alike >= _LEAST_ALIKE and _SLOPES[0] <= slope <= _SLOPES[1]


def nothing_learnt(stroke: str) -> dict[str, Places]:
    """Every measure where its joints are seen."""
    return {
        name: Places(tuple((0.0, 0.0) for _ in plan.points), 0.0)
        for name, plan in PLANS[stroke].items()
    }


def _true_event(film: SwumFilm, event: str, side: str, near_s: float) -> float | None:
    marks = film.shot.plan.marks(0, float(film.shot.times[-1]))
    at = [m.time_s for m in marks if m.event == event and m.side in (side, "both", "")]
    best = min(at, key=lambda t: abs(t - near_s), default=None)
    return best if best is not None and abs(best - near_s) < _SAME_S else None


def _true(film: SwumFilm, measure: str, side: str, time_s: float) -> Series:
    """Where a coach clicks, pixels."""
    n = min(round(time_s / float(np.diff(film.shot.times[:2])[0])), len(film.shot.times) - 1)
    found = []
    for point in MEASURES[measure].points:
        name = _JOINTS[point]
        if "line" in measure and point == "shoulder":
            name = "neck"
        joint = name.replace("own ", f"{side} ").replace(" ", "_")
        x, y = film.shot.camera.project(film.shot.joints[joint][n])
        found.append([film.shot.camera.width_px - 1 - x if film.mirrored else x, y])
    return np.array(found)


def _value(measure: str, points: Series) -> float | None:
    try:
        return take(MEASURES[measure], [Point(float(x), float(y)) for x, y in points]).value
    except MeasureError:
        return None
