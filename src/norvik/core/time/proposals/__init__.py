"""Where the next events probably lie, from the rhythm of what is marked: arms, legs and breaths.

A proposal is no mark: it enters no number until the coach has looked at its frame and confirmed it.
"""

from __future__ import annotations

from collections.abc import Sequence

from norvik.core.time.proposals.arms import LEAST_CYCLES, arm_proposals
from norvik.core.time.proposals.breaths import breath_proposals
from norvik.core.time.proposals.legs import leg_proposals
from norvik.core.time.proposals.proposal import Proposal
from norvik.core.time.resolve import ResolvedMarks

__all__ = ["LEAST_CYCLES", "Proposal", "merged", "propose"]

#: Two proposals of one event that lie nearer than this are one, in seconds.
_SAME_S = 0.2


def propose(
    resolved: ResolvedMarks, until_s: float, least_cycles: int = LEAST_CYCLES
) -> list[Proposal]:
    """Events that follow the last mark of each arm, of the legs and of the breaths, in time order.

    until_s: real seconds up to which events are proposed. least_cycles: cycles of an arm that
    have to be marked (1 copies the one that is). Legs need one cycle, breaths two whole breaths.
    Nothing is proposed beyond a wall that is marked.
    """
    found = [
        *arm_proposals(resolved, until_s, least_cycles),
        *leg_proposals(resolved, until_s),
        *breath_proposals(resolved, until_s),
    ]
    return sorted(found, key=lambda p: p.time_s)


def merged(usual: Sequence[Proposal], seen: Sequence[Proposal]) -> list[Proposal]:
    """Proposals from the rhythm and from followed points, in time order.

    What was seen on the film counts more than what is usual: a usual one near a seen one goes.
    """
    kept = [
        p
        for p in usual
        if not any(
            (s.lane, s.side, s.event) == (p.lane, p.side, p.event)
            and abs(s.time_s - p.time_s) < _SAME_S
            for s in seen
        )
    ]
    return sorted([*kept, *seen], key=lambda p: p.time_s)
