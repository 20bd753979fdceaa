"""From marks to timing. The one call that all callers make."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from norvik.core.errors import TimeBaseError
from norvik.core.strokes import STROKES
from norvik.core.strokes.events import Mark
from norvik.core.strokes.names import StrokeName
from norvik.core.time.breathing import breathing_of
from norvik.core.time.butterfly_gaps import fly_gaps_of
from norvik.core.time.certainty import Certainties, Uncertainties
from norvik.core.time.coordination import (
    coordination_of,
    front_quadrant_of,
    rhythm_pct,
)
from norvik.core.time.cycles import cycles_of, rate_of
from norvik.core.time.kick import kick_of
from norvik.core.time.legs import gaps_of, legs_of
from norvik.core.time.marker import DEFAULT_MARKER, Marker, Marking
from norvik.core.time.phases import PhaseTable, phases_of, symmetry_of
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import ResolvedMarks, resolve
from norvik.core.time.speed import hold_distance_m, speed_of
from norvik.core.time.timing import Timing
from norvik.core.time.walls import walls_of


def compute_timing(
    marks: Iterable[Mark],
    stroke: StrokeName,
    frame_interval_s: float | None = None,
    pool_m: float | None = None,
    marker: Marker = DEFAULT_MARKER,
    scale_u: float = 0.0,
) -> Timing:
    """Compute every timing quantity.

    marks: real seconds, any order. stroke: a name in STROKES (KeyError otherwise).
    frame_interval_s: real seconds between frames, above 0, or None when unknown (then no
    uncertainty is given). pool_m: length of the pool in metres, or None. marker: how well the
    events were marked. scale_u: relative standard uncertainty of the slow-motion factor.
    Raises TimeBaseError when frame_interval_s is given and not above 0.
    """
    if frame_interval_s is not None and not frame_interval_s > 0:
        raise TimeBaseError("The time between frames must be above 0 s.")
    rules = STROKES[stroke]
    marking = Marking(frame_interval_s, marker, scale_u)
    resolved = resolve(marks, rules)
    reasons = Reasons()
    two_arms = rules.alternating
    phases = phases_of(resolved, rules.phases, "phases", marking, reasons)
    speed = speed_of(resolved, reasons)
    timing = Timing(
        stroke=stroke,
        frame_interval_s=frame_interval_s,
        pool_m=pool_m,
        cycles=cycles_of(resolved, marking, reasons),
        rate=rate_of(resolved, marking, reasons),
        phases=phases,
        phases4=_phases4(resolved, marking, reasons),
        symmetry_pct=symmetry_of(phases, reasons) if two_arms else None,
        coordination=coordination_of(resolved, reasons) if two_arms else None,
        rhythm_pct=rhythm_pct(resolved, reasons) if two_arms else None,
        front_quadrant=front_quadrant_of(resolved, reasons) if two_arms else None,
        hold_distance_m=hold_distance_m(resolved, speed, reasons),
        breathing=breathing_of(resolved, reasons),
        kick=kick_of(resolved, reasons),
        legs=legs_of(resolved, marking, reasons),
        gaps=gaps_of(resolved, reasons),
        fly_gaps=fly_gaps_of(resolved, reasons),
        walls=walls_of(resolved, pool_m, reasons),
        speed=speed,
        problems=resolved.problems,
        reasons=reasons.by_path,
        resolved=resolved,
        marking=marking,
    )
    certainty = Certainties(timing, marker, scale_u)
    return replace(timing, certainty=certainty, uncertainty=Uncertainties(certainty))


def _phases4(resolved: ResolvedMarks, marking: Marking, reasons: Reasons) -> PhaseTable | None:
    """The four research phases, only where the hand's pass under the shoulder is marked at all."""
    rules = resolved.stroke
    if not rules.phases4:
        return None
    marked = any(resolved.marks_of("shoulder", arm) for arm in rules.arms)
    if marked:
        return phases_of(resolved, rules.phases4, "phases4", marking, reasons)
    empty: PhaseTable = {
        side: {phase.name: None for phase in rules.phases4} for side in ("left", "right", "both")
    }
    paths = [f"phases4.{side}.{name}" for side, row in empty.items() for name in row]
    reasons.missing(paths, "“under the shoulder” is not marked in this clip")
    return empty
