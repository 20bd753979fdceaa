"""Everything that time tells about a clip, from its marks. The one call that all callers make."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

from norvik.core.errors import TimeBaseError
from norvik.core.strokes import STROKES
from norvik.core.strokes.events import Mark, Problem
from norvik.core.time.breathing import Breathing, breathing_of
from norvik.core.time.butterfly_gaps import FlyGaps, fly_gaps_of
from norvik.core.time.coordination import (
    Coordination,
    FrontQuadrant,
    coordination_of,
    front_quadrant_of,
    rhythm_pct,
)
from norvik.core.time.cycles import Cycles, Rate, cycles_of, rate_of
from norvik.core.time.kick import Kick, kick_of
from norvik.core.time.legs import Gaps, gaps_of, legs_of
from norvik.core.time.phases import PhaseTable, PhaseTime, phases_of, symmetry_of
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import ResolvedMarks, resolve
from norvik.core.time.speed import Speed, hold_distance_m, speed_of
from norvik.core.time.uncertainty import Uncertainties
from norvik.core.time.walls import Wall, walls_of


@dataclass(frozen=True)
class Timing:
    """All quantities of one clip. None means unknown (or not of this stroke); `reasons` says why.

    Field names, units and nesting are those of `norvik timing --json` (docs/formats.md).
    """

    stroke: str
    frame_interval_s: float | None
    pool_m: float | None
    cycles: Cycles
    rate: Rate
    phases: PhaseTable
    phases4: PhaseTable | None
    symmetry_pct: dict[str, float | None] | None
    coordination: Coordination | None
    rhythm_pct: float | None
    front_quadrant: FrontQuadrant | None
    hold_distance_m: float | None
    breathing: Breathing
    kick: Kick | None
    legs: dict[str, PhaseTime | None] | None
    gaps: Gaps | None
    walls: list[Wall]
    speed: Speed
    fly_gaps: FlyGaps | None
    problems: tuple[Problem, ...]
    reasons: dict[str, str]
    resolved: ResolvedMarks

    @cached_property
    def uncertainty(self) -> Uncertainties:
        """Standard uncertainty of each known quantity that rests on frames, by its dotted path."""
        return Uncertainties(self)


def compute_timing(
    marks: Iterable[Mark],
    stroke: str,
    frame_interval_s: float | None = None,
    pool_m: float | None = None,
) -> Timing:
    """Compute every timing quantity.

    marks: real seconds, any order. stroke: a name in STROKES (KeyError otherwise).
    frame_interval_s: real seconds between frames, above 0, or None when unknown (then no
    uncertainty is given). pool_m: length of the pool in metres, or None.
    Raises TimeBaseError when frame_interval_s is given and not above 0.
    """
    if frame_interval_s is not None and not frame_interval_s > 0:
        raise TimeBaseError("The time between frames must be above 0 s.")
    rules = STROKES[stroke]
    resolved = resolve(marks, rules)
    reasons = Reasons()
    two_arms = rules.alternating
    phases = phases_of(resolved, rules.phases, "phases", frame_interval_s, reasons)
    speed = speed_of(resolved, reasons)
    return Timing(
        stroke=stroke,
        frame_interval_s=frame_interval_s,
        pool_m=pool_m,
        cycles=cycles_of(resolved, frame_interval_s, reasons),
        rate=rate_of(resolved, frame_interval_s, reasons),
        phases=phases,
        phases4=_phases4(resolved, frame_interval_s, reasons),
        symmetry_pct=symmetry_of(phases, reasons) if two_arms else None,
        coordination=coordination_of(resolved, reasons) if two_arms else None,
        rhythm_pct=rhythm_pct(resolved, reasons) if two_arms else None,
        front_quadrant=front_quadrant_of(resolved, reasons) if two_arms else None,
        hold_distance_m=hold_distance_m(resolved, speed, reasons),
        breathing=breathing_of(resolved, reasons),
        kick=kick_of(resolved, reasons),
        legs=legs_of(resolved, frame_interval_s, reasons),
        gaps=gaps_of(resolved, reasons),
        fly_gaps=fly_gaps_of(resolved, reasons),
        walls=walls_of(resolved, pool_m, reasons),
        speed=speed,
        problems=resolved.problems,
        reasons=reasons.by_path,
        resolved=resolved,
    )


def _phases4(
    resolved: ResolvedMarks, frame_interval_s: float | None, reasons: Reasons
) -> PhaseTable | None:
    """The four research phases, only where the hand's pass under the shoulder is marked at all."""
    rules = resolved.stroke
    if not rules.phases4:
        return None
    marked = any(resolved.marks_of("shoulder", arm) for arm in rules.arms)
    if marked:
        return phases_of(resolved, rules.phases4, "phases4", frame_interval_s, reasons)
    empty: PhaseTable = {
        side: {phase.name: None for phase in rules.phases4} for side in ("left", "right", "both")
    }
    paths = [f"phases4.{side}.{name}" for side, row in empty.items() for name in row]
    reasons.missing(paths, "no shoulder is marked in the clip")
    return empty
