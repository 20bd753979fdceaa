"""The figure of how it should look, at the same instant of the stroke as a frame of the film."""

from __future__ import annotations

from itertools import pairwise

from norvik.core.judging.coaching_model import Fault
from norvik.core.strokes.names import Side
from norvik.model.dials import DIALS
from norvik.model.stance import events_of, plainest_phase
from norvik.workflow.clip_timing import ClipTiming


def phase_on_figure(timed: ClipTiming, time_s: float, side: Side = "") -> float | None:
    """Share of the figure's cycle, 0 to 1, at an instant of the film; None outside marked cycles.

    Between two events of the arm that both have, the one is stretched on the other: the catch of
    the film is the catch of the figure. side: the arm to go by, else any that is known there.
    """
    resolved = timed.timing.resolved
    known = events_of(timed.clip.stroke)
    arms = [a for a in resolved.stroke.arms if not side or a in (side, "both")]
    for cycle in resolved.cycles:
        if cycle.side not in (arms or resolved.stroke.arms) or not (cycle.start and cycle.end):
            continue
        if not cycle.start.time_s <= time_s < cycle.end.time_s:
            continue
        places = [(cycle.start.time_s, 0.0)]
        places += sorted(
            (m.time_s, known[event]) for event, m in cycle.inner.items() if event in known
        )
        places.append((cycle.end.time_s, 1.0))
        for (begin, low), (end, high) in pairwise(places):
            if begin <= time_s < end and high >= low:
                return low + (high - low) * (time_s - begin) / (end - begin)
    return None


def phase_for(timed: ClipTiming, time_s: float, side: Side, fault: Fault) -> float | None:
    """As above; where the film is not marked there, the instant at which the fault shows most."""
    found = phase_on_figure(timed, time_s, side)
    if found is None and fault.id in DIALS:
        return plainest_phase(fault.id)
    return found
