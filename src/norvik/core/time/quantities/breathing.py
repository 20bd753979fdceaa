"""How often, to which side, when and how long the swimmer breathes."""

from __future__ import annotations

from norvik.core.strokes.names import Side
from norvik.core.time.breathing import breaths_in_push, head_leads, returns
from norvik.core.time.quantities.quantity import (
    Interval,
    Occurrence,
    Quantity,
    Reading,
    mean_interval,
    of_path,
    reading_of,
    share_of_counts,
)
from norvik.core.time.timing import Timing


def _exhale_share(timing: Timing) -> Reading | None:
    share = timing.breathing.exhale_share_pct
    if share is None:
        return None
    found = tuple(
        Occurrence(e.from_s, 100 * e.bubbles_s / e.seconds) for e in timing.resolved.exhales
    )
    return reading_of(timing, share, "breathing.exhale_share_pct", found)


def _one_side(timing: Timing) -> Reading | None:
    sided = [b for b in timing.resolved.breaths if b.side in ("left", "right")]
    if len(sided) < 3:
        return None
    left = sum(b.side == "left" for b in sided)
    more = max(left, len(sided) - left)
    share = 100 * more / len(sided)
    shown = [Occurrence(b.air.time_s, share, b.side) for b in sided]
    return share_of_counts(more, len(sided), shown)


def _regular(timing: Timing) -> Reading | None:
    regular = timing.breathing.regular
    if regular is None:
        return None
    airs = [Occurrence(b.air.time_s, float(regular), b.side) for b in timing.resolved.breaths]
    pattern = timing.breathing.pattern
    hits = (max(map(pattern.count, pattern)), len(pattern)) if pattern else None
    return Reading(float(regular), 0.0, tuple(airs), None, hits)


def _in_push(timing: Timing) -> Reading | None:
    share, breaths = timing.breathing.in_push_share_pct, timing.resolved.breaths
    if share is None:
        return None
    found = [Occurrence(b.air.time_s, share) for b in breaths]
    judged = breaths_in_push(timing.resolved)
    return share_of_counts(sum(judged), len(judged), found)


def _lasting(timing: Timing) -> list[Interval]:
    return [(b.air, b.down) for b in timing.resolved.breaths if b.down]


def _sides(timing: Timing) -> str:
    return ", ".join(f"{n} {side}" for side, n in (timing.breathing.sides or {}).items() if n)


def _breath_side(ends: Interval) -> Side:
    return next((p.mark.side for p in ends if p.mark.lane == "breath"), "")


BREATHING = (
    mean_interval(
        "breath-time", "Breath time", _lasting, look_at="start", topic="breathing",
        definition="Mouth out of the water until the face is back in.",
        path="breathing.duration_s", note=_sides, with_speed=True,
    ),
    mean_interval(
        "breath-share", "Breath time, share of the cycle", _lasting, of_cycle=True, digits=1,
        look_at="start", topic="breathing", path="breathing.share_of_cycle_pct",
        definition="Breath time in percent of the mean cycle.", compared=False,
    ),
    mean_interval(
        "breath-return", "Face back in before hand entry", lambda t: returns(t.resolved),
        look_at="start", topic="breathing", strokes=("freestyle",), path="breathing.return_s",
        side=_breath_side,
        definition="Face back in until the next entry of the hand on the breathing side; below 0 "
        "where the hand is first.",
    ),
    mean_interval(
        "head-lead", "Head turn before the pull", lambda t: head_leads(t.resolved),
        look_at="start", topic="breathing", strokes=("freestyle",), path="breathing.head_lead_s",
        side=_breath_side,
        definition="Head starts to turn until the arm on the breathing side starts to pull; below "
        "0 where the arm is first.",
    ),
    Quantity(
        "breath-in-push", "Breaths in the push", "%", 0,
        _in_push,
        "Share of breaths whose mouth is out between the pull and the hands' exit.",
        "breathing", ("butterfly",), "breathing.in_push_share_pct", counted=True,
    ),
    Quantity(
        "breath-one-side", "Breaths to the same side", "%", 0, _one_side,
        "Share of the breaths to the side that is used more.",
        strokes=("freestyle", "backstroke"), counted=True,
    ),
    Quantity(
        "breath-regular", "Regular breathing", "", 0, _regular,
        "The same count of strokes from breath to breath throughout.", counted=True,
    ),
    Quantity(
        "exhale-share", "Exhaling under water", "%", 0, _exhale_share,
        "Share of the time with the face in the water in which bubbles are seen.",
        "breathing", path="breathing.exhale_share_pct", with_speed=True,
    ),
    Quantity(
        "breaths-per-cycle", "Breaths per cycle", "", 2,
        of_path("breathing.breaths_per_cycle", lambda t: [b.air for b in t.resolved.breaths], True),
        "Breaths over whole cycles.", strokes=("breaststroke", "butterfly"),
        path="breathing.breaths_per_cycle", counted=True, with_speed=True, compared=False,
    ),
)  # fmt: skip
