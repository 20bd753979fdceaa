"""The breath lane: one air makes one breath; bubbles belong to the stretch before the next."""

from __future__ import annotations

from itertools import pairwise

from norvik.core.events import Problem
from norvik.core.settle.placed import EPSILON_S, Breath, Exhale, Placed

#: Own choice: nobody takes two breaths within this time.
DOUBLE_AIR_S = 0.4


def settle_breaths(
    placed: list[Placed], problems: list[Problem]
) -> tuple[list[Breath], list[Exhale], list[tuple[float, float]]]:
    """Breaths in time order, complete stretches from face in to next air, closed bubbles."""
    marks = _without_double_air([p for p in placed if p.mark.lane == "breath"], problems)
    breaths: list[Breath] = []
    turn: Placed | None = None
    air: Placed | None = None
    down: Placed | None = None
    before_air: Placed | None = None

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
                problems.append(Problem(p.mark, "face down without an air before it"))
            else:
                down = p
    close()
    bubbles, unclear = _settle_bubbles(marks, problems)
    return breaths, _exhales(breaths, bubbles, unclear), bubbles or []


def _without_double_air(marks: list[Placed], problems: list[Problem]) -> list[Placed]:
    kept: list[Placed] = []
    last_air_s: float | None = None
    for p in marks:
        if p.mark.event == "air":
            if last_air_s is not None and p.time_s - last_air_s < DOUBLE_AIR_S - EPSILON_S:
                problems.append(Problem(p.mark, f"a second air within {DOUBLE_AIR_S} s"))
                continue
            last_air_s = p.time_s
        kept.append(p)
    return kept


def _side(air: Placed, turn: Placed | None) -> str:
    sides = ("left", "right", "front")
    if air.mark.side in sides:
        return air.mark.side
    if turn is not None and turn.mark.side in sides:
        return turn.mark.side
    return "front"


def _settle_bubbles(
    marks: list[Placed], problems: list[Problem]
) -> tuple[list[tuple[float, float]] | None, list[float]]:
    """Closed bubble stretches in seconds (None: no bubble mark at all), and where it is unclear."""
    closed: list[tuple[float, float]] = []
    unclear: list[float] = []
    on: Placed | None = None
    seen = False

    def drop(p: Placed, reason: str) -> None:
        problems.append(Problem(p.mark, reason))
        unclear.append(p.time_s)

    for p in marks:
        event = p.mark.event
        seen = seen or event.startswith("bubbles")
        if event == "bubbles-on":
            if on is not None:
                drop(on, "bubbles begin twice without an end between")
            on = p
        elif event == "bubbles-off":
            if on is None:
                drop(p, "bubbles end that never began")
            else:
                closed.append((on.time_s, p.time_s))
                on = None
        elif event == "air" and on is not None:
            drop(on, "these bubbles are not closed before the next air")
            on = None
    return (closed if seen else None), unclear


def _exhales(
    breaths: list[Breath], bubbles: list[tuple[float, float]] | None, unclear: list[float]
) -> list[Exhale]:
    if bubbles is None:
        return []
    stretches = []
    for before, after in pairwise(breaths):
        if before.down is None or before.down.length != after.air.length:
            continue
        start, end = before.down.time_s, after.air.time_s
        if end <= start or any(start <= t <= end for t in unclear):
            continue
        with_bubbles = sum(max(0.0, min(off, end) - max(on, start)) for on, off in bubbles)
        stretches.append(Exhale(start, end - start, with_bubbles))
    return stretches
