"""Drawings of one film laid on the other at the same phase, as large as its swimmer is there."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass, replace

from norvik.core.frame.laid_on import Laid, lay
from norvik.core.frame.references import References
from norvik.store import references
from norvik.workflow.clip_drawings import TRUNK, Painted, drawings_of, paint, picture_size
from norvik.workflow.side_by_side.film import Film
from norvik.workflow.side_by_side.pairing import Pairing
from norvik.workflow.side_by_side.trunks import Trunks, trunks_of


@dataclass(frozen=True)
class Across:
    """Drawings of two films, laid across.

    own: what is drawn on each film. laid: on each film what is drawn on the other one, with its
    points where they belong here and its first and last frame here. trunks: of each film.
    """

    own: tuple[tuple[Painted, ...], tuple[Painted, ...]]
    laid: tuple[tuple[Painted, ...], tuple[Painted, ...]]
    trunks: tuple[Trunks, Trunks]

    @property
    def mirror(self) -> bool | None:
        return opposite(*self.trunks)


def opposite(one: Trunks, other: Trunks) -> bool | None:
    """Do two swimmers swim in opposite directions? None where the points do not tell."""
    ways = one.swims_to, other.swims_to
    return ways[0] != ways[1] if all(ways) else None


def size_of(film: Film) -> tuple[int, int]:
    """Width and height of a film's picture in source pixels, as drawings are measured in."""
    if film.model is not None:
        return film.model.size
    assert film.clip is not None
    return picture_size(film.clip.recording)


def across(connection: sqlite3.Connection, pairing: Pairing) -> Across:
    films = pairing.one, pairing.other
    trunks = trunks_of(connection, films[0]), trunks_of(connection, films[1])
    own = _own(connection, films[0]), _own(connection, films[1])
    return Across(
        own,
        (
            tuple(_laid(connection, pairing, own[1], trunks, back=True)),
            tuple(_laid(connection, pairing, own[0], trunks, back=False)),
        ),
        trunks,
    )


def _own(connection: sqlite3.Connection, film: Film) -> tuple[Painted, ...]:
    return drawings_of(connection, film.timed).painted if film.timed else ()


def _laid(
    connection: sqlite3.Connection, pairing: Pairing, drawn: Iterable[Painted],
    trunks: tuple[Trunks, Trunks], back: bool,
) -> list[Painted]:  # fmt: skip
    """back: from the second film on the first one."""
    to_film = pairing.one if back else pairing.other
    from_trunks, to_trunks = trunks[::-1] if back else trunks
    # The other half of the same clip has the same drawings already.
    if pairing.one.key == pairing.other.key:
        return []
    clip = to_film.clip
    to = references.of_clip(connection, clip.id) if clip else References()
    shown_on = clip or (pairing.one.clip if not back else pairing.other.clip)
    found = []
    for painted in drawn:
        d = painted.stored
        if d.kind == TRUNK or shown_on is None:
            continue
        places = frames_there(pairing, d.first, d.last, back)
        here = frames_there(pairing, d.frame, d.frame, back)
        how = _how(from_trunks, to_trunks, d.frame, (here or places or (None,))[0])
        if places is None or how is None:
            continue
        points = how.points(d.points)
        moved = replace(d, points=points, first=places[0], last=places[1])
        found.append(Painted(moved, tuple(paint(moved, shown_on, to)), painted.said))
    return found


def _how(from_trunks: Trunks, to_trunks: Trunks, frame: int, there: int | None) -> Laid | None:
    mine = from_trunks.near(frame)
    theirs = to_trunks.near(there) if there is not None else None
    return lay(mine[1], theirs[1]) if mine and theirs else None


def frames_there(
    pairing: Pairing, first: int, last: int | None, back: bool
) -> tuple[int, int] | None:
    """First and last frame of the one film that belong to those of the other; None without any.

    back: from the second film's frames to the first one's.
    """
    one = pairing.one
    if not back:
        last = one.last if last is None else last
        if last < one.first or first > one.last:
            return None
        there = pairing.frames[one.clamped(first) - one.first : one.clamped(last) - one.first + 1]
        return min(there), max(there)
    last = pairing.other.last if last is None else last
    mine = [n for n, f in enumerate(pairing.frames) if first <= f <= last]
    if mine:
        return one.first + mine[0], one.first + mine[-1]
    # Between two frames of a slower film: the one whose partner comes next.
    after = next((n for n, f in enumerate(pairing.frames) if f >= first), None)
    if after is None or first < pairing.frames[0]:
        return None
    return one.first + after, one.first + after
