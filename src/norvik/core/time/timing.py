"""What time tells about a clip: all quantities of its marks as one object."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from norvik.core.strokes.events import Problem
from norvik.core.strokes.names import StrokeName
from norvik.core.time.breathing import Breathing
from norvik.core.time.butterfly_gaps import FlyGaps
from norvik.core.time.coordination import (
    Coordination,
    FrontQuadrant,
)
from norvik.core.time.cycles import Cycles, Rate
from norvik.core.time.kick import Kick
from norvik.core.time.legs import Gaps
from norvik.core.time.marker import Marking
from norvik.core.time.phases import PhaseTable, PhaseTime
from norvik.core.time.plus_minus import Certainty
from norvik.core.time.resolve import ResolvedMarks
from norvik.core.time.speed import Speed
from norvik.core.time.walls import Wall


@dataclass(frozen=True)
class Timing:
    """All quantities of one clip. None means unknown (or not of this stroke); `reasons` says why.

    Field names, units and nesting are those of `norvik timing --json` (docs/formats.md).
    """

    stroke: StrokeName
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
    marking: Marking = field(default_factory=Marking, compare=False)
    #: How sure each known quantity that rests on marks is, by its dotted path.
    certainty: Mapping[str, Certainty] = field(default_factory=dict, compare=False)
    #: Of these, how well the clip was measured: the standard uncertainty.
    uncertainty: Mapping[str, float] = field(default_factory=dict, compare=False)
    #: Quantities that were read from this timing already, by id.
    readings: dict[str, Any] = field(default_factory=dict, compare=False, repr=False)
