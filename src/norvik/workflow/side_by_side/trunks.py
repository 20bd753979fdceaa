"""Shoulder and hip of the swimmer on the frames of a film, from whatever was set there."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from norvik.core.frame.geometry import Point
from norvik.core.frame.laid_on import Trunk, Way, mostly_to
from norvik.core.frame.measures import MEASURES
from norvik.store import drawings, tracks
from norvik.store.drawings import StoredDrawing
from norvik.workflow.clip_drawings import TRUNK
from norvik.workflow.side_by_side.film import Film


@dataclass(frozen=True)
class Trunks:
    """at: by frame."""

    at: Mapping[int, Trunk] = field(default_factory=dict)

    def near(self, frame: int) -> tuple[int, Trunk] | None:
        """The trunk on a frame, or on the nearest one that has it; None without any."""
        if not self.at:
            return None
        found = min(self.at, key=lambda f: (abs(f - frame), f))
        return found, self.at[found]

    @property
    def swims_to(self) -> Way:
        """Which way the swimmer swims in the picture; empty where this does not tell."""
        return mostly_to(list(self.at.values()))


def trunks_of(connection: sqlite3.Connection, film: Film) -> Trunks:
    """What is known of the trunk: followed points first, then what was set or measured by hand.

    What was set as the trunk stands above a followed or measured one on the same frame.
    """
    if film.model is not None:
        return Trunks(dict(enumerate(film.model.trunks)))
    assert film.clip is not None
    at: dict[int, Trunk] = {}
    stored = [d for d in drawings.of_clip(connection, film.clip.id) if film.clip.holds(d.frame)]
    for d in stored:
        if found := _measured(d):
            at[d.frame] = found
    at |= _followed(connection, film)
    for d in stored:
        if d.kind == TRUNK:
            at[d.frame] = Trunk(*d.points)
    return Trunks(at)


def _measured(drawing: StoredDrawing) -> Trunk | None:
    measure = MEASURES.get(drawing.name) if drawing.kind == "measure" else None
    if measure is None or len(drawing.points) != len(measure.points):
        return None
    places = dict(zip(measure.points, drawing.points, strict=True))
    shoulder, hip = places.get("shoulder"), places.get("hip")
    return Trunk(shoulder, hip) if shoulder and hip and shoulder != hip else None


def _followed(connection: sqlite3.Connection, film: Film) -> dict[int, Trunk]:
    assert film.clip is not None
    known: dict[tuple[str, str], dict[int, Point]] = {}
    for track in tracks.of_clip(connection, film.clip.id):
        if track.point in ("shoulder", "hip"):
            known[track.point, track.side] = {
                p.frame: Point(p.x, p.y)
                for p in tracks.points_of(connection, track.id)
                if p.x is not None and p.y is not None
            }
    found: dict[int, Trunk] = {}
    for side in ("left", "right"):
        shoulders, hips = known.get(("shoulder", side), {}), known.get(("hip", side), {})
        for frame in sorted(shoulders.keys() & hips.keys()):
            if shoulders[frame] != hips[frame]:
                found.setdefault(frame, Trunk(shoulders[frame], hips[frame]))
    return found


def whole(trunks: Trunks, frames: range) -> list[Trunk | None]:
    """The trunk on every frame; between two that are known it moves evenly, None without any."""
    if not trunks.at:
        return [None] * len(frames)
    known = sorted(trunks.at)
    values = np.array([[*trunks.at[f].shoulder, *trunks.at[f].hip] for f in known])
    each = [np.interp(frames, known, values[:, n]) for n in range(4)]
    return [
        Trunk(Point(float(a), float(b)), Point(float(c), float(d)))
        for a, b, c, d in zip(*each, strict=True)
    ]
