"""Read a clip's film: where the swimmer is, how often, and which events."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from norvik.core.errors import NotFoundError, ReadingError
from norvik.core.reading.cycle import CycleTime
from norvik.core.reading.stroke import ReadEvent
from norvik.core.strokes.names import Side, StrokeName
from norvik.reading.detect import Detector, shown_by
from norvik.reading.followed import Followed, follow_film
from norvik.reading.network import LitePose
from norvik.reading.parts import SwumPart, swum_parts
from norvik.reading.pictures import clip_pictures, clip_times, trunk_in_clip
from norvik.reading.read import Read, read_followed
from norvik.reading.stir import Stir
from norvik.reading.tracked import followed_by_points
from norvik.work.place import Place
from norvik.work.report import JobGivesWay, Report

#: Every so many frames it is looked whether a review copy waits.
_LOOK_AROUND = 16


@dataclass(frozen=True, slots=True)
class ReadFilm:
    """film: name of the review copy, with so many frames. first, last: frames of the clip. real_s:
    real seconds of the recording's frames. factor: source pixels to one of the copy. tap: head and
    hips of the swimmer whom the coach showed (x and y of each, pixels of the copy), on frame begin.
    points: joints that were tracked through most of the clip, to frame to x, y (pixels of the copy)
    and confidence; with any the film is not looked at.
    """

    film: str
    rate: Fraction
    frames: int
    first: int
    last: int
    real_s: NDArray[np.float64]
    stroke: StrokeName
    view: str
    factor: float
    tap: tuple[float, float, float, float] | None
    begin: int
    points: dict[str, dict[int, tuple[float, float, float]]] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class MeasureRead:
    """A measure on the frame as the film proposes it. points: source pixels. u: standard
    uncertainty in the measure's unit.
    """

    frame: int
    measure: str
    side: Side
    points: tuple[tuple[float, float], ...]
    u: float


@dataclass(frozen=True, slots=True)
class FilmRead:
    """seen: share of the frames read in which the swimmer was found. poses: rows of frame, then
    x, y in source pixels and visibility of every joint. by_points: what was tracked was read, not
    the picture. The rest as in reading.read.Read.
    """

    seen: float
    cycle: CycleTime | None
    events: tuple[ReadEvent, ...]
    reasons: Mapping[str, str]
    looks_like: tuple[str, float] | None
    parts: tuple[SwumPart, ...]
    poses: NDArray[np.float32] | None
    measures: tuple[MeasureRead, ...] = ()
    by_points: bool = False


def read_clip(order: ReadFilm, place: Place, report: Report) -> FilmRead:
    """Gives way to review copies that wait."""
    if order.points:
        # Nothing is left that the picture would have to be asked for.
        report("reading the tracked points", 0, None)
        times_s = clip_times(order.first, order.last, order.real_s)
        return _film_read(followed_by_points(order.points, times_s), order, None)
    copy = place.footage.at_hand(order.film)
    if not copy.is_file():
        raise NotFoundError("The review copy of this clip is missing. Prepare the clip again.")
    try:
        network, finder = LitePose(), Detector()
    except ReadingError as error:
        return nothing_read({"rate": error.sentence, "events": error.sentence})
    first, last = order.first, order.last
    tapped = shown_by(*order.tap) if order.tap else None
    report("looking for the swimmer", 0, None)
    usual = None if tapped else trunk_in_clip(copy, finder, first, last, order.frames)

    def told(frame: int) -> None:
        report("reading", frame - first, max(1, last - first))
        if frame % _LOOK_AROUND == 0 and report.copy_waits():
            raise JobGivesWay

    stir = Stir()
    pictures = stir.beside(clip_pictures(copy, order.rate, order.begin, last, order.real_s))
    followed = follow_film(pictures, network, finder, usual, tapped, told)
    return _film_read(followed, order, stir)


def _film_read(followed: Followed, order: ReadFilm, stir: Stir | None) -> FilmRead:
    found = read_followed(followed, order.stroke, order.view, stir)
    return FilmRead(
        found.followed.seen, found.cycle, tuple(found.events), dict(found.reasons),
        found.looks_like, tuple(swum_parts(followed, order.view)), _packed(followed, order.factor),
        _measures(found, order.factor), followed.by_points,
    )  # fmt: skip


def nothing_read(reasons: Mapping[str, str]) -> FilmRead:
    return FilmRead(0.0, None, (), reasons, None, (), None)


def _measures(found: Read, factor: float) -> tuple[MeasureRead, ...]:
    frames = sorted(found.followed.times_s)
    times = np.array([found.followed.times_s[frame] for frame in frames])
    return tuple(
        MeasureRead(
            frames[int(np.argmin(np.abs(times - m.time_s)))], m.measure, m.side,
            tuple((x * factor, y * factor) for x, y in m.points), m.u,
        )
        for m in found.measures
    )  # fmt: skip


def _packed(followed: Followed, factor: float) -> NDArray[np.float32] | None:
    if not followed.poses:
        return None
    rows = [
        np.concatenate([
            [pose.frame],
            np.concatenate([pose.points * factor, pose.visible[:, None]], axis=1).ravel(),
        ])
        for pose in followed.poses
    ]  # fmt: skip
    return np.asarray(rows, np.float32)
