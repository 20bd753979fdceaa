"""The way of a point past the body in one cycle of each film, hip as origin, in trunk lengths.

The hand is what coaches look at; any other point that was followed can be drawn as well.
"""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point
from norvik.core.frame.laid_on import in_trunks
from norvik.core.strokes.names import Side
from norvik.core.time.in_step import CycleEvents
from norvik.store import tracks
from norvik.workflow.side_by_side.film import Film
from norvik.workflow.side_by_side.pairing import Pairing
from norvik.workflow.side_by_side.trunks import trunks_of, whole

#: What shows the hand, the best first.
HANDS = ("fingertips", "wrist")


@dataclass(frozen=True)
class PointPath:
    """places: trunk lengths ahead of the hip (x) and below it (y), one a frame; None where lost.

    events: (event, its place in `places`). point: as it is followed.
    """

    film: Film
    side: Side
    point: str
    frames: range
    places: tuple[Point | None, ...]
    events: tuple[tuple[str, int], ...]


def followed_in_both(connection: sqlite3.Connection, pairing: Pairing) -> list[str]:
    """Points that are followed on the arm's side of both films, the hand first."""
    one, other = _known(connection, pairing)
    return sorted(one.keys() & other.keys(), key=lambda p: (p not in HANDS, p))


def point_paths(
    connection: sqlite3.Connection, pairing: Pairing, point: str = ""
) -> tuple[PointPath, PointPath]:
    """Of the cycle of each film that is looked at. point: one that both films have, else the hand.

    Raises MeasureError with what to follow or to set where a film does not have it.
    """
    mine, theirs = pairing.cycles
    n, m = pairing.wish.n, pairing.wish.m if pairing.other.model is None else 0
    if not (n < len(mine) and m < len(theirs)):
        raise MeasureError(
            "Paths need a whole cycle in both films: mark each from one hand entry to the next."
        )
    sides = pairing.wish.side, pairing.wish.other_side
    films = pairing.one, pairing.other
    known = _known(connection, pairing)
    if not (point and all(point in k for k in known)):
        point = next((p for p in HANDS if all(p in k for k in known)), "")
    paths = []
    for which, film, side, places, cycle in zip(
        ("first", "second"), films, sides, known, (mine[n], theirs[m]), strict=True
    ):
        own = point or next((p for p in HANDS if p in places), "")
        if not own:
            raise MeasureError(
                f"Follow the {side} fingertips or wrist through the {which} film on the bench: "
                "then the paths can be laid on each other."
            )
        paths.append(_path(connection, film, side, own, places[own], cycle, which))
    return paths[0], paths[1]


Places = dict[str, dict[int, Point]]


def _known(connection: sqlite3.Connection, pairing: Pairing) -> tuple[Places, Places]:
    wish = pairing.wish
    return (
        _places(connection, pairing.one, wish.side),
        _places(connection, pairing.other, wish.other_side),
    )


def _places(connection: sqlite3.Connection, film: Film, side: Side) -> Places:
    """Where each point of a side is, by point and frame; "both" arms are shown by the right one."""
    side = "right" if side == "both" else side
    if film.model is not None:
        return {
            point: dict(enumerate(places))
            for (point, of), places in film.model.points.items()
            if of == side
        }
    assert film.clip is not None
    return {
        track.point: places
        for track in tracks.of_clip(connection, film.clip.id)
        if track.side == side
        and (
            places := {
                p.frame: Point(p.x, p.y)
                for p in tracks.points_of(connection, track.id)
                if p.x is not None and p.y is not None
            }
        )
    }


def _path(
    connection: sqlite3.Connection, film: Film, side: Side, point: str, points: dict[int, Point],
    cycle: CycleEvents, which: str,
) -> PointPath:  # fmt: skip
    frames = range(film.frame_of(cycle.begin_s), film.frame_of(cycle.end_s) + 1)
    trunks = whole(trunks_of(connection, film), frames)
    places: list[Point | None] = []
    for frame, trunk in zip(frames, trunks, strict=True):
        if trunk is None:
            raise MeasureError(
                f"Set shoulder and hip on a frame of the {which} film (T), or follow them: the "
                "trunk is what the paths are measured in."
            )
        at = points.get(frame)
        places.append(in_trunks([at], [trunk])[0] if at is not None else None)
    if not any(places):
        raise MeasureError(
            f"The {side} {point} of the {which} film is not followed in this cycle. Follow it "
            "there, or choose another cycle."
        )
    events = tuple((event, film.frame_of(at) - frames[0]) for event, at in cycle.events)
    return PointPath(film, side, point, frames, tuple(places), events)
