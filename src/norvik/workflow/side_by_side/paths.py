"""The way of a hand past the body in one cycle of each film, hip as origin, in trunk lengths."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point
from norvik.core.frame.laid_on import in_trunks
from norvik.core.time.in_step import CycleEvents
from norvik.store import tracks
from norvik.workflow.side_by_side.film import Film
from norvik.workflow.side_by_side.pairing import Pairing
from norvik.workflow.side_by_side.trunks import trunks_of, whole

#: What shows the hand, the best first.
HANDS = ("fingertips", "wrist")


@dataclass(frozen=True)
class HandPath:
    """places: trunk lengths ahead of the hip (x) and below it (y), one a frame; None where lost.

    events: (event, its place in `places`). point: of HANDS.
    """

    film: Film
    side: str
    point: str
    frames: range
    places: tuple[Point | None, ...]
    events: tuple[tuple[str, int], ...]


def hand_paths(connection: sqlite3.Connection, pairing: Pairing) -> tuple[HandPath, HandPath]:
    """Of the cycle of each film that is looked at, from the same point of the hand where both have

    one. Raises MeasureError with what to follow or to set where a film does not have it.
    """
    mine, theirs = pairing.cycles
    n, m = pairing.wish.n, pairing.wish.m if pairing.other.model is None else 0
    if not (n < len(mine) and m < len(theirs)):
        raise MeasureError(
            "Hand paths need a whole cycle in both films: mark each from one hand entry to the "
            "next."
        )
    sides = pairing.wish.side, pairing.wish.other_side
    films = pairing.one, pairing.other
    known = [_hands(connection, film, side) for film, side in zip(films, sides, strict=True)]
    point = next((p for p in HANDS if all(k.get(p) for k in known)), None)
    paths = []
    for which, film, side, hands, cycle in zip(
        ("first", "second"), films, sides, known, (mine[n], theirs[m]), strict=True
    ):
        own = point or next((p for p in HANDS if hands.get(p)), None)
        if own is None:
            raise MeasureError(
                f"Follow the {side} fingertips or wrist through the {which} film on the bench: "
                "then the paths can be laid on each other."
            )
        paths.append(_path(connection, film, side, own, hands[own], cycle, which))
    return paths[0], paths[1]


def _hands(connection: sqlite3.Connection, film: Film, side: str) -> dict[str, dict[int, Point]]:
    """Where each point of a hand is, by point and frame; "both" arms are shown by the right one."""
    side = "right" if side == "both" else side
    if film.model is not None:
        points = film.model.hands[side]
        return {HANDS[0]: dict(enumerate(points))}
    assert film.clip is not None
    return {
        track.point: {
            p.frame: Point(p.x, p.y)
            for p in tracks.points_of(connection, track.id)
            if p.x is not None and p.y is not None
        }
        for track in tracks.of_clip(connection, film.clip.id)
        if track.point in HANDS and track.side == side
    }


def _path(
    connection: sqlite3.Connection, film: Film, side: str, point: str, hand: dict[int, Point],
    cycle: CycleEvents, which: str,
) -> HandPath:  # fmt: skip
    frames = range(film.frame_of(cycle.begin_s), film.frame_of(cycle.end_s) + 1)
    trunks = whole(trunks_of(connection, film), frames)
    places: list[Point | None] = []
    for frame, trunk in zip(frames, trunks, strict=True):
        if trunk is None:
            raise MeasureError(
                f"Set shoulder and hip on a frame of the {which} film (T), or follow them: the "
                "trunk is what the paths are measured in."
            )
        at = hand.get(frame)
        places.append(in_trunks([at], [trunk])[0] if at is not None else None)
    if not any(places):
        raise MeasureError(
            f"The {side} hand of the {which} film is not followed in this cycle. Follow it there, "
            "or choose another cycle."
        )
    events = tuple((event, film.frame_of(at) - frames[0]) for event, at in cycle.events)
    return HandPath(film, side, point, frames, tuple(places), events)
