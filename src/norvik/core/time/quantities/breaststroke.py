"""How arms and legs go together in breaststroke, and how long each takes."""

from __future__ import annotations

from collections.abc import Callable

from norvik.core.strokes import Phase
from norvik.core.strokes.names import StrokeName
from norvik.core.time.legs import gap_pairs, leg_pairs
from norvik.core.time.phases import phase_ends
from norvik.core.time.quantities.quantity import (
    Interval,
    Occurrence,
    Quantity,
    Reading,
    from_timing,
    mean_interval,
    near_arm_event,
)
from norvik.core.time.timing import Timing

_BREAST: tuple[StrokeName, ...] = ("breaststroke",)
#: Gap: its name and what it is. Names T1b, T2, T3 as in the literature on the stroke.
_GAPS = {
    "t1": ("Glide: feet together until the outsweep (T1b)",
           "Outsweep minus feet together; below 0 where the hands part first."),
    "t2": ("Heels start up after the hands go forward (T2)",
           "Heels start up minus recovery of the hands; above 0 where the heels are later."),
    "t3": ("Kick starts after full extension (T3)",
           "Feet turned out minus full extension of the arms; below 0 where the kick is first."),
}  # fmt: skip
#: Gaps as limits name them, in percent of the cycle.
_LIMITED = {
    "t1": "Outsweep after the feet are together, share of the cycle",
    "t2": "Heels after the hands go forward, share of the cycle",
}


def _pairs(name: str) -> Callable[[Timing], list[Interval]]:
    return lambda timing: gap_pairs(timing.resolved, name) if timing.gaps is not None else []


def _of_cycle(path: str) -> Callable[[Timing], str]:
    def note(timing: Timing) -> str:
        pct = from_timing(timing, path)
        return "" if pct is None else f"{pct:.0f} % of the cycle".replace("-", "−")

    return note


def _heels(timing: Timing) -> list[Interval]:
    return leg_pairs(timing.resolved, Phase("heels", "heels", "set"))


def _pull(timing: Timing) -> list[Interval]:
    opens, phase = timing.resolved.stroke.opens, Phase("pull", "in", "shoot")
    return [e for c in timing.resolved.cycles if (e := phase_ends(c, phase, opens)) is not None]


def _pullout_dolphins(timing: Timing) -> Reading | None:
    """Dolphin kicks under water after a wall or start, the most of any."""
    if timing.stroke != "breaststroke":
        return None
    found = [
        Occurrence(w.push_s, float(w.beats))
        for w in timing.walls
        if w.push_s is not None and w.beats is not None
    ]
    if not found:
        return None
    return Reading(max(o.value for o in found), 0.0, tuple(found))


BREASTSTROKE = (
    *(
        mean_interval(
            f"{gap}-seconds", name, _pairs(gap), topic="coordination", strokes=_BREAST,
            definition=definition, path=f"gaps.{gap}_s", note=_of_cycle(f"gaps.{gap}_pct"),
            compared=False,
        )
        for gap, (name, definition) in _GAPS.items()
    ),
    *(
        mean_interval(
            gap, _LIMITED.get(gap, f"{name}, share of the cycle"), _pairs(gap), of_cycle=True,
            strokes=_BREAST, definition=definition, path=f"gaps.{gap}_pct", with_speed=True,
        )
        for gap, (name, definition) in _GAPS.items()
    ),
    Quantity(
        "pullout-dolphins", "Dolphin kicks in the pull-out", "kicks", 0, _pullout_dolphins,
        "Dolphin kicks under water after a wall or the start, the most of any.",
        strokes=_BREAST, counted=True,
    ),
    mean_interval(
        "breast-pull-time", "Insweep until the hands go forward", _pull, strokes=_BREAST,
        definition="From insweep to recovery of the hands, in seconds.",
    ),
    mean_interval(
        "heel-time", "Heels start up until the kick starts", _heels, strokes=_BREAST,
        definition="From heels start up to feet turned out: a long glide does not make it quick.",
    ),
    mean_interval(
        "heel-share", "Heels start up until the kick starts, share of the cycle", _heels,
        of_cycle=True, strokes=_BREAST, path="legs.heels.share_pct",
        definition="The same in percent of the mean cycle.",
    ),
    mean_interval(
        "breath-in-sweep", "Mouth out after the insweep starts, share of the cycle",
        near_arm_event("in"), of_cycle=True, strokes=_BREAST,
        definition="Mouth out of the water minus insweep; below 0 where the head is up first.",
    ),
)  # fmt: skip
