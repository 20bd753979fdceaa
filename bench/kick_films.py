"""Films of model swimmers who kick twice, four times and six times in a cycle of the arms."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from bench.swum_films import SwumFilm, followed, pointed, takes
from norvik.core.reading.kick_count import BEATS, kick_features
from norvik.core.reading.kick_motion import leg_rhythms
from norvik.core.reading.kicks import instants
from norvik.core.reading.limbs import limbs_of
from norvik.core.reading.phase import phase_path
from norvik.core.reading.stroke import clock_of, leg_heights
from norvik.model.film import Take
from norvik.reading.followed import evenly, legs_evenly
from norvik.reading.read import read_followed
from norvik.reading.templates import templates_of

Series = NDArray[np.float64]

_STROKES = ("freestyle", "backstroke")
Kicked = tuple[tuple[Take, bool], Callable[[tuple[Take, bool]], SwumFilm]]


@dataclass(frozen=True)
class KickFilm:
    """beats: true kicks in a cycle. features: what the count is told from, of how the picture
    changes or, of tracked points, of the joints; None where none could be taken. told: kicks in a
    cycle as they were read, 0 where none was told. most_at, cycles: instants in which the legs
    change most, and of every opening of a cycle. kicks: true instants. All in seconds.
    """

    stroke: str
    view: str
    style: str
    beats: int
    features: Series | None
    told: int
    most_at: tuple[float, ...] = ()
    openings: tuple[float, ...] = ()
    kicks: tuple[float, ...] = ()


def kicked(first_seed: int, films: Mapping[str, int]) -> list[Kicked]:
    """Takes of each count, stroke and view. films: how many of each, by style."""
    return [(take, followed) for take in _takes(first_seed, films)]


def kicked_points(first_seed: int, films: Mapping[str, int]) -> list[Kicked]:
    return [(take, pointed) for take in _takes(first_seed, films)]


def _takes(first_seed: int, films: Mapping[str, int]) -> list[tuple[Take, bool]]:
    return [
        (replace(take, swim=replace(take.swim, beats=beats)), mirrored)
        for beats in BEATS
        for take, mirrored in takes(first_seed + 1000 * beats, films, seconds=9)
        if take.swim.stroke in _STROKES
    ]


def features_of(job: Kicked, joints: tuple[str, ...] = ()) -> KickFilm:
    """Film or place a swimmer, follow, and look at the feet. joints: of tracked points."""
    take, make = job
    return film_features(make(take), joints)


def film_features(film: SwumFilm, joints: tuple[str, ...] = ()) -> KickFilm:
    take = film.shot.take
    stroke, beats = take.swim.stroke_name, take.swim.beats
    read = read_followed(film.followed, stroke, take.view)
    templates = templates_of(stroke, take.view, film.followed.by_points)
    told = KickFilm(stroke, take.view, take.style, beats, None, 0)
    if read.cycle is None or not read.events or templates is None:
        return told
    times_s, places = evenly(film.followed)
    limbs = limbs_of(places)
    apart = float(np.median(np.diff(times_s)))
    path = phase_path(limbs.arms, templates.arms, read.cycle.seconds, apart, True)
    numbers, openings = clock_of(times_s, path.phase)
    kicks = [e.time_s for e in read.events if e.lane == "leg"]
    if kicks:
        count = round(len(kicks) * read.cycle.seconds / (kicks[-1] - kicks[0]))
        told = replace(told, told=count)
    changed = legs_evenly(film.followed, times_s)
    if changed is None:
        found = kick_features(leg_heights(limbs), path.crossed, joints, times_s, numbers, openings)
        return replace(told, features=found)
    rhythms = leg_rhythms(times_s, changed, numbers, openings)
    if rhythms is None:
        return told
    first = rhythms.most_at(beats)
    most_at = instants([first + n / beats for n in range(beats)], numbers, openings, times_s)
    true = [m.time_s for m in film.shot.plan.marks(0, float(times_s[-1])) if m.lane == "leg"]
    return replace(
        told, features=rhythms.shares, most_at=tuple(most_at), openings=tuple(openings),
        kicks=tuple(true),
    )  # fmt: skip
