"""The strip of instants: which frames of the films stand in one row, and what lies between rows."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from norvik.core.errors import MarkError
from norvik.core.strokes.definitions import event_name
from norvik.core.time.in_step import CycleEvents
from norvik.workflow.side_by_side.film import Film
from norvik.workflow.side_by_side.pairing import Pairing

#: Rows are the events of the cycle, or every tenth of it.
ROWS = ("events", "tenths")


@dataclass(frozen=True, slots=True)
class StripRow:
    """One row of the strip.

    frames: one of each film. seconds: from the beginning of its cycle. after: frames since the row
    before, and 0 in the first.
    """

    name: str
    frames: tuple[int, ...]
    seconds: tuple[float, ...]
    after: tuple[int, ...]


def strip_rows(pairings: Sequence[Pairing], by: str = "events") -> list[StripRow]:
    """Of the cycles of all films that are looked at, from their opening to their end.

    pairings: of the first film with each other one. Raises MarkError where a film has no whole
    cycle, or another stroke.
    """
    one = pairings[0].one
    if any(p.other.stroke != one.stroke for p in pairings):
        raise MarkError("Two strokes have no instants in common. Choose films of one stroke.")
    mine = pairings[0].cycles[0]
    known = [(one, mine, pairings[0].wish.n)]
    known += [(p.other, p.cycles[1], p.wish.m if p.other.model is None else 0) for p in pairings]
    if any(not 0 <= n < len(cycles) for _, cycles, n in known):
        raise MarkError(
            "A strip needs a whole cycle in every film: mark each from one hand entry to the next."
        )
    columns = [(film, cycles[n]) for film, cycles, n in known]
    instants = _tenths(columns) if by == "tenths" else _events(columns)
    return rows_of(
        (
            name,
            tuple(film.frame_of(t) for (film, _), t in zip(columns, times, strict=True)),
            tuple(t - cycle.begin_s for (_, cycle), t in zip(columns, times, strict=True)),
        )
        for name, times in instants
    )


def rows_of(
    instants: Iterable[tuple[str, tuple[int, ...], tuple[float, ...]]],
) -> list[StripRow]:
    """Rows from (name, a frame of each film, its seconds), with the frames since the row before."""
    rows: list[StripRow] = []
    for name, frames, seconds in instants:
        before = rows[-1].frames if rows else frames
        after = tuple(b - a for a, b in zip(before, frames, strict=True))
        rows.append(StripRow(name, frames, seconds, after))
    return rows


_Column = tuple[Film, CycleEvents]


def _events(columns: Sequence[_Column]) -> list[tuple[str, list[float]]]:
    """Events that all cycles have, and the beginning of the next cycle."""
    known = [dict(cycle.events) for _, cycle in columns]
    names = [e for e, _ in columns[0][1].events if all(e in k for k in known)]
    found = [(event_name(e), [k[e] for k in known]) for e in names]
    opens = event_name(columns[0][1].events[0][0])
    return [*found, (f"next {opens}", [cycle.end_s for _, cycle in columns])]


def _tenths(columns: Sequence[_Column]) -> list[tuple[str, list[float]]]:
    return [
        (
            f"{10 * n} %",
            [c.begin_s + n / 10 * (c.end_s - c.begin_s) for _, c in columns],
        )
        for n in range(11)
    ]
