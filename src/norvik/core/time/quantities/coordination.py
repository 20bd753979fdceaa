"""How the two arms work together in freestyle and backstroke."""

from __future__ import annotations

from collections.abc import Callable

from norvik.core.strokes import Phase
from norvik.core.strokes.names import DIRECTIONS, Side, StrokeName
from norvik.core.time.coordination import front_quadrant_leads, hand_over_end, hand_overs
from norvik.core.time.phases import phase_seconds
from norvik.core.time.quantities.quantity import (
    Interval,
    Occurrence,
    Quantity,
    Reading,
    mean_interval,
    mean_reading,
    reading_of,
    share_of_counts,
)
from norvik.core.time.speed import reach_ends
from norvik.core.time.timing import Timing

_CRAWL: tuple[StrokeName, ...] = ("freestyle", "backstroke")


def _index(timing: Timing) -> Reading | None:
    index = timing.coordination.index_pct if timing.coordination else None
    cycle_s = timing.resolved.mean_cycle_s
    if index is None or not cycle_s:
        return None
    found = [
        Occurrence(h.release.time_s, 100 * h.seconds / cycle_s, h.release.mark.side)
        for a, b in DIRECTIONS
        for h in hand_overs(timing.resolved, a, b)
    ]
    return reading_of(timing, index, "coordination.index_pct", found)


def _model(timing: Timing) -> str:
    """The name of the coordination; in backstroke also the event that it is counted to.

    Published values of backstroke end at the end of the push: the exit comes later, after the hand
    has cleared, and makes the index 5 to 15 points higher.
    """
    model = (timing.coordination.model if timing.coordination else None) or ""
    if timing.stroke != "backstroke" or not model:
        return model
    return model if hand_over_end(timing.resolved) == "push-end" else f"{model}, to the exit"


def _change(from_side: Side, to_side: Side) -> Callable[[Timing], list[Interval]]:
    def intervals(timing: Timing) -> list[Interval]:
        return [(h.press, h.release) for h in hand_overs(timing.resolved, from_side, to_side)]

    return intervals


def _gap_or_overlap(side: Side) -> Callable[[Timing], str]:
    def note(timing: Timing) -> str:
        other = "right" if side == "left" else "left"
        value = getattr(timing.coordination, f"{side}_to_{other}_s", None)
        return "" if value is None else "gap" if value < 0 else "overlap"

    return note


def _front_quadrant(timing: Timing) -> Reading | None:
    share = timing.front_quadrant.share_pct if timing.front_quadrant else None
    leads = front_quadrant_leads(timing.resolved)
    if share is None or not leads:
        return None
    ahead = sum(shoulder.time_s > entry.time_s for entry, shoulder in leads)
    entries = timing.resolved.openings()
    shown = [Occurrence(p.time_s, share, p.mark.side) for p in entries[:1]]
    return share_of_counts(ahead, len(leads), shown)


def _hold_distance(timing: Timing) -> Reading | None:
    metres = timing.hold_distance_m
    if metres is None or timing.speed.m_per_s is None:
        return None
    v, opens = timing.speed.m_per_s, timing.resolved.stroke.opens
    phase = Phase("reach", opens, "press")
    found = [
        Occurrence(c.start.time_s, v * seconds, c.side)
        for c in timing.resolved.cycles
        if c.start and (seconds := phase_seconds(c, phase, opens)) is not None
    ]
    return mean_reading(timing, found, "hold_distance_m")


COORDINATION = (
    Quantity(
        "hand-over", "Arm coordination (IdC)", "%", 1, _index,
        "Index of coordination: exit of one hand minus the pull of the other, mean of both "
        "directions, in percent of the cycle. Below 0 catch-up, 0 opposition, above 0 "
        "superposition (Chollet, Chalies and Chatard 2000).",
        "coordination", _CRAWL, "coordination.index_pct", note=_model, with_speed=True,
    ),
    *(
        mean_interval(
            f"{a}-to-{b}", f"{a.capitalize()} exit against {b} pull", _change(a, b),
            definition=f"Exit of the {a} hand minus the pull of the {b} one, mean.",
            topic="coordination", strokes=_CRAWL, path=f"coordination.{a}_to_{b}_s",
            note=_gap_or_overlap(a), signed=False, compared=False,
        )
        for a, b in DIRECTIONS
    ),
    Quantity(
        "front-quadrant", "Front-quadrant timing", "% of entries", 0, _front_quadrant,
        "Share of hand entries at which the other hand has not passed under its shoulder.",
        "coordination", _CRAWL, "front_quadrant.share_pct", counted=True,
    ),
    mean_interval(
        "front-quadrant-lead", "Front quadrant, ahead by",
        lambda t: front_quadrant_leads(t.resolved), of_cycle=True, digits=1, look_at="start",
        definition="Hand entry until the other hand passes under its shoulder, mean; below 0 where "
        "it had passed before.",
        topic="coordination", strokes=_CRAWL, path="front_quadrant.lead_pct", with_speed=True,
    ),
    Quantity(
        "hold-distance", "Distance before the catch", "m", 2, _hold_distance,
        "How far the swimmer travels from hand entry to the start of the pull.",
        "speed", (*_CRAWL, "butterfly"), "hold_distance_m", with_speed=True,
    ),
    mean_interval(
        "hold-time", "Hand entry until the pull", lambda t: reach_ends(t.resolved),
        look_at="start", side=lambda ends: ends[0].mark.side, strokes=_CRAWL,
        definition="From hand entry to the start of the pull, at any speed.",
    ),
)  # fmt: skip
