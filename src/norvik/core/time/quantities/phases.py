"""Phases of the arm cycle and of the breaststroke kick, in percent of the cycle."""

from __future__ import annotations

import math
from collections.abc import Callable

from norvik.core.strokes import STROKES, Phase
from norvik.core.strokes.names import StrokeName
from norvik.core.time.phases import phase_ends
from norvik.core.time.quantities.quantity import (
    EVERY_STROKE,
    Occurrence,
    Quantity,
    Reading,
    from_timing,
    phase_share,
    reading_of,
)
from norvik.core.time.timing import Timing

_CRAWL: tuple[StrokeName, ...] = ("freestyle", "backstroke")
_NAMES = {"entry": "Entry and glide", "catch": "Catch", "pull": "Pull", "recovery": "Recovery"}
_NAMES4 = {"entry_catch": "Entry and catch", "pull": "Pull", "push": "Push", "recovery": "Recovery"}
_LEGS = {"heels": "Heels up", "kick": "Kick", "glide": "Legs together"}


def _share(table: str, name: str) -> Callable[[Timing], Reading | None]:
    """Reads the mean share of a phase of both sides together, with each cycle's own."""
    path = f"{table}.both.{name}"

    def read(timing: Timing) -> Reading | None:
        rules = timing.resolved.stroke
        phases = rules.phases if table == "phases" else rules.phases4
        phase = next((p for p in phases if p.name == name), None)
        value = from_timing(timing, f"{path}.share_pct")
        if phase is None or value is None:
            return None
        found = []
        for cycle in timing.resolved.cycles:
            ends = phase_ends(cycle, phase, rules.opens)
            if ends is not None:
                share = 100 * (ends[1].time_s - ends[0].time_s) / cycle.seconds
                found.append(Occurrence(ends[0].time_s, share, cycle.side))
        return reading_of(timing, value, f"{path}.share_pct", found)

    return read


def _seconds(path: str) -> Callable[[Timing], str]:
    """The same phase in seconds, for beside its share."""

    def note(timing: Timing) -> str:
        mean, u = from_timing(timing, f"{path}.mean_s"), from_timing(timing, f"{path}.u_s")
        if mean is None:
            return ""
        return f"{mean:.2f} s" + (f" ± {math.ceil(200 * u) / 100:.2f}" if u else "")

    return note


def _leg_share(name: str) -> Callable[[Timing], Reading | None]:
    path = f"legs.{name}"

    def read(timing: Timing) -> Reading | None:
        value = from_timing(timing, f"{path}.share_pct")
        phase = next((p for p in timing.resolved.stroke.leg_phases if p.name == name), None)
        if value is None or phase is None:
            return None
        opens = timing.resolved.stroke.leg_cycle[0]
        shown = [s.at(phase.start, opens) for s in timing.resolved.leg_slots]
        found = [Occurrence(p.time_s, value) for p in shown if p is not None]
        return reading_of(timing, value, f"{path}.share_pct", found)

    return read


def _symmetry(name: str) -> Callable[[Timing], Reading | None]:
    path = f"symmetry_pct.{name}"

    def read(timing: Timing) -> Reading | None:
        value = from_timing(timing, path)
        if value is None:
            return None
        shown = [Occurrence(c.start.time_s, value) for c in timing.resolved.cycles if c.start]
        return reading_of(timing, value, path, shown)

    return read


PHASES = (
    *(
        Quantity(
            f"phase-{p}", name, "%", 1, _share("phases", p),
            f"Mean share of the {name.lower()} in the arm cycle, both sides together.",
            "phases", EVERY_STROKE, f"phases.both.{p}.share_pct",
            note=_seconds(f"phases.both.{p}"), with_speed=True,
            compared=False,
        )
        for p, name in _NAMES.items()
    ),
    *(
        Quantity(
            f"phase4-{p.replace('_', '-')}", f"{name} (of four phases)", "%", 1,
            _share("phases4", p),
            "Mean share of the phase in the scheme of Chollet, Chalies and Chatard (2000), which "
            "splits the pull where the hand is under the shoulder.",
            "phases", tuple(s for s in EVERY_STROKE if STROKES[s].phases4),
            f"phases4.both.{p}.share_pct", note=_seconds(f"phases4.both.{p}"), compared=False,
        )
        for p, name in _NAMES4.items()
    ),
    *(
        Quantity(
            f"legs-{p}", name, "%", 1, _leg_share(p),
            f"Mean share of the leg phase \"{name.lower()}\" in the cycle.",
            "phases", ("breaststroke",), f"legs.{p}.share_pct", note=_seconds(f"legs.{p}"),
            compared=False,
        )
        for p, name in _LEGS.items()
    ),
    *(
        Quantity(
            f"symmetry-{p}", f"{name}, right against left", "%", 1, _symmetry(p),
            "Difference of the two arms in percent of their mean; + where the right one is longer "
            "(Robinson, Herzog and Nigg 1987).",
            "phases", _CRAWL, f"symmetry_pct.{p}", compared=False,
        )
        for p, name in _NAMES.items()
    ),
    # What limits are set for: each is the share of one stroke.
    Quantity(
        "entry-share", "Entry and glide, share of the cycle", "%", 0,
        phase_share(Phase("entry", "entry", "catch"), "catch", "phases.both.entry.share_pct",
                    _CRAWL),
        "Mean share of the cycle from hand entry to catch.", strokes=_CRAWL,
    ),
    Quantity(
        "fly-reach-share", "Entry until the catch, share of the cycle", "%", 0,
        phase_share(Phase("entry", "entry", "catch"), "catch", "phases.both.entry.share_pct",
                    ("butterfly",)),
        "Mean share of the cycle from the hands landing to the catch.", strokes=("butterfly",),
    ),
    Quantity(
        "breast-pull-share", "Insweep until the hands go forward, share of the cycle", "%", 0,
        phase_share(Phase("pull", "in", "shoot"), "shoot", "phases.both.pull.share_pct",
                    ("breaststroke",)),
        "Mean share of the cycle from insweep to recovery: a pause under the chin makes it long.",
        strokes=("breaststroke",),
    ),
)  # fmt: skip
