"""Breaths: after two whole ones of a length, the next comes after the same time."""

from __future__ import annotations

from itertools import pairwise

from norvik.core.statistics import mean
from norvik.core.strokes.names import Side
from norvik.core.time.proposals.proposal import MOST_CYCLES, RECENT, Proposal, before_wall
from norvik.core.time.resolve import Breath, ResolvedMarks

_OTHER: dict[Side, Side] = {"left": "right", "right": "left"}


def breath_proposals(resolved: ResolvedMarks, until_s: float) -> list[Proposal]:
    """Turn, air and face down of the breaths that follow, up to until_s (seconds).

    The side goes on as it was: the same one, or the other each time where the last two differ.
    """
    if not resolved.breaths:
        return []
    last = resolved.breaths[-1]
    same = [b for b in resolved.breaths if b.air.length == last.air.length and b.turn is not None]
    whole = [b for b in same if b.down is not None][-RECENT:]
    if len(whole) < 2:
        return []
    period_s = mean([b.air.time_s - a.air.time_s for a, b in pairwise(same[-RECENT:])])
    turn_s = mean([b.air.time_s - b.turn.time_s for b in whole if b.turn])
    down_s = mean([b.down.time_s - b.air.time_s for b in whole if b.down])
    if period_s is None or turn_s is None or down_s is None or not turn_s + down_s < period_s:
        return []
    changes = len(same) > 1 and same[-1].side != same[-2].side
    return [
        p
        for p in _following(last, resolved.open_turn_s, (period_s, turn_s, down_s), changes)
        if p.time_s <= before_wall(resolved, last.air.time_s, until_s)
    ]


def _following(
    last: Breath, open_turn_s: float | None, usual: tuple[float, float, float], changes: bool
) -> list[Proposal]:
    """What is left of the last breath, then whole ones. open_turn_s: a turn without its air yet."""
    period_s, turn_s, down_s = usual
    found = []
    if last.down is None:
        found.append(Proposal(last.air.time_s + down_s, "", "down", "breath"))
    side, air_s = last.side, last.air.time_s
    for n in range(MOST_CYCLES):
        side = _OTHER.get(side, side) if changes else side
        turned = n == 0 and open_turn_s is not None
        air_s = open_turn_s + turn_s if turned and open_turn_s is not None else air_s + period_s
        if not turned:
            found.append(Proposal(air_s - turn_s, side, "turn", "breath"))
        found.append(Proposal(air_s, side, "air", "breath"))
        found.append(Proposal(air_s + down_s, "", "down", "breath"))
    return found
