"""The breath lane: one air makes one breath; bubbles belong to the stretch before the next."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from itertools import pairwise

from norvik.core.strokes.events import Problem
from norvik.core.strokes.names import Side
from norvik.core.time.resolve.marks import EPSILON_S, Breath, Exhale, OrderedMark

#: Own choice: nobody takes two breaths within this time.
DOUBLE_AIR_S = 0.4


def settle_breaths(
    placed: list[OrderedMark], problems: list[Problem]
) -> tuple[list[Breath], list[Exhale], list[tuple[OrderedMark, OrderedMark]], OrderedMark | None]:
    """Breaths in time order, stretches from face in to next air, closed bubbles, the open turn.

    placed: the marks of the breath lane.
    """
    marks = _without_double_air(placed, problems)
    breaths: list[Breath] = []
    turn: OrderedMark | None = None
    air: OrderedMark | None = None
    down: OrderedMark | None = None
    before_air: OrderedMark | None = None

    def close() -> None:
        if air is not None:
            breaths.append(Breath(air, before_air, down, _side(air, before_air)))

    for p in marks:
        event = p.mark.event
        if event == "turn":
            turn = p
        elif event == "air":
            close()
            air, before_air, turn, down = p, turn, None, None
        elif event == "down":
            if air is None or down is not None:
                problems.append(Problem(p.mark, "“face back in” without “mouth out” before it"))
            else:
                down = p
    close()
    bubbles, unclear = _settle_bubbles(marks, problems)
    return breaths, _exhales(breaths, bubbles, unclear), bubbles or [], turn


def _without_double_air(marks: list[OrderedMark], problems: list[Problem]) -> list[OrderedMark]:
    kept: list[OrderedMark] = []
    last_air_s: float | None = None
    for p in marks:
        if p.mark.event == "air":
            if last_air_s is not None and p.time_s - last_air_s < DOUBLE_AIR_S - EPSILON_S:
                problems.append(Problem(p.mark, f"a second “mouth out” within {DOUBLE_AIR_S} s"))
                continue
            last_air_s = p.time_s
        kept.append(p)
    return kept


def _side(air: OrderedMark, turn: OrderedMark | None) -> Side:
    sides = ("left", "right", "front")
    if air.mark.side in sides:
        return air.mark.side
    if turn is not None and turn.mark.side in sides:
        return turn.mark.side
    return "front"


def _settle_bubbles(
    marks: list[OrderedMark], problems: list[Problem]
) -> tuple[list[tuple[OrderedMark, OrderedMark]] | None, list[float]]:
    """Closed bubble stretches (None: no bubble mark at all), and where it is unclear."""
    closed: list[tuple[OrderedMark, OrderedMark]] = []
    unclear: list[float] = []
    on: OrderedMark | None = None
    seen = False

    def drop(p: OrderedMark, reason: str) -> None:
        problems.append(Problem(p.mark, reason))
        unclear.append(p.time_s)

    for p in marks:
        event = p.mark.event
        seen = seen or event.startswith("bubbles")
        if event == "bubbles-on":
            if on is not None:
                drop(on, "exhaling starts twice without an end")
            on = p
        elif event == "bubbles-off":
            if on is None:
                drop(p, "exhaling ends but never started")
            else:
                closed.append((on, p))
                on = None
        elif event == "air" and on is not None:
            drop(on, "exhaling does not end before the next breath")
            on = None
    return (closed if seen else None), unclear


def _exhales(
    breaths: list[Breath],
    bubbles: list[tuple[OrderedMark, OrderedMark]] | None,
    unclear: list[float],
) -> list[Exhale]:
    if bubbles is None:
        return []
    stretches = []
    for before, after in pairwise(breaths):
        if before.down is None or before.down.length != after.air.length:
            continue
        start, end = before.down, after.air
        if end.time_s <= start.time_s or any(start.time_s <= t <= end.time_s for t in unclear):
            continue
        first = bisect_right(bubbles, start.time_s, key=_off)
        last = bisect_left(bubbles, end.time_s, key=_on)
        inside = [
            (max(on, start, key=_time), min(off, end, key=_time)) for on, off in bubbles[first:last]
        ]
        stretches.append(Exhale((start, end), tuple(inside)))
    return stretches


def _time(placed: OrderedMark) -> float:
    return placed.time_s


def _on(stretch: tuple[OrderedMark, OrderedMark]) -> float:
    return stretch[0].time_s


def _off(stretch: tuple[OrderedMark, OrderedMark]) -> float:
    return stretch[1].time_s
