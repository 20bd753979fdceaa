"""What the commands that judge, compare and prescribe print: one JSON object each.

Held stable; unrounded; what is unknown is null. Ids of faults, drills, quantities and schools are
those of the catalogue. The JSON Schema of each follows from its declaration here.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from typing import Any, Literal

import msgspec

from norvik.core.followup.change import Comparison
from norvik.core.judging.coaching_model import Catalogue
from norvik.core.judging.judged import Finding, Judged
from norvik.core.judging.ranking import Ranked
from norvik.core.prescription.plan.sets import REST_S
from norvik.core.prescription.prescribe import (
    Prescription,
    SwimmerProfile,
    effort_of,
    topics_of,
)
from norvik.core.strokes.names import Side, StrokeName

VERSION: Literal[1] = 1


class Evidence(msgspec.Struct):
    """limit: the fault limit on the value's side. u: of the swimmer's value, standard."""

    quantity: str
    value: float
    u: float | None
    limit: float | None
    verdict: Literal["good", "watch", "fault", "open"]


class JsonFinding(msgspec.Struct):
    """kind "rule" is a fault that breaks a rule of competition; local rules prevail."""

    id: str
    kind: Literal["fault", "watch", "strength", "open", "rule"]
    side: Literal["left", "right"] | None
    degree: float | None
    evidence: list[Evidence]


class Findings(msgspec.Struct):
    version: Literal[1]
    stroke: StrokeName
    level: str
    schools: dict[str, str]
    findings: list[JsonFinding]
    reasons: dict[str, str]


class Line(msgspec.Struct):
    id: str
    side: Literal["left", "right"] | None
    unit: str
    before: float
    after: float
    difference: float
    smallest_real_change: float | None
    verdict: Literal["better", "worse", "changed", "none", "unknown"]
    worked_on: bool
    effect_size: float | None
    interval95: list[float] | None


class Headline(msgspec.Struct):
    better: int
    worse: int
    changed: int


class Change(msgspec.Struct):
    version: Literal[1]
    lines: list[Line]
    headline: Headline
    reasons: dict[str, str]


class JsonDrill(msgspec.Struct):
    """repeats: the lowest of its dose. cautions: body parts and tags that it needs care for."""

    id: str
    repeats: int
    distance_m: int | None
    seconds: int | None
    effort: int
    rest_s: int
    cautions: list[str]


class LeftOutDrill(msgspec.Struct):
    drill: str
    reason: str


class JsonFocus(msgspec.Struct):
    fault: str
    drills: list[JsonDrill]
    left_out: list[LeftOutDrill]


class Prescribed(msgspec.Struct):
    """order: faults in the order of work. instead: what to do where pain leaves no drill."""

    version: Literal[1]
    order: list[str]
    focuses: list[JsonFocus]
    reasons: dict[str, str]


#: Command: the object it prints.
class FilmMeasure(msgspec.Struct):
    """A measure on the frame as the film proposes it. points: pixels of the frame, in the order of
    the measure's points. value, u: in its unit, u the standard uncertainty; null where the points
    cannot give it.
    """

    measure: str
    side: Side
    frame: int
    points: list[tuple[float, float]]
    value: float | None
    unit: str
    u: float


class ReadFilm(msgspec.Struct):
    """What a film tells without a mark; a null has its reason.

    score: how like itself the movement is one cycle later, up to 1. confidence: by event, 0 to 1.
    """

    version: Literal[1]
    rate_cycles_per_min: float | None
    rate_u95: float | None
    score: float | None
    cycles: float | None
    frames_read: int
    seen: float
    events: int
    confidence: dict[str, float]
    reasons: dict[str, str]
    measures: list[FilmMeasure] = []


ANSWERS: Mapping[str, type[msgspec.Struct]] = {
    "judge": Findings,
    "change": Change,
    "prescribe": Prescribed,
    "read": ReadFilm,
}


def schema_of(command: str) -> dict[str, Any]:
    """JSON Schema, draft 2020-12."""
    (reference,), parts = msgspec.json.schema_components(
        [ANSWERS[command]], ref_template="#/$defs/{name}"
    )
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": f"norvik {command}",
        **reference,
        "$defs": {name: {**part, "additionalProperties": False}
                  if "properties" in part else part for name, part in parts.items()},
    }  # fmt: skip


def findings_answer(
    stroke: StrokeName,
    level: str,
    schools: Mapping[str, str],
    found: Iterable[Finding],
    catalogue: Catalogue,
    reasons: Mapping[str, str],
) -> Findings:
    return Findings(
        VERSION, stroke, level, dict(schools),
        [
            JsonFinding(
                f.id, _kind(f, catalogue), _side(f.side),
                f.severity if f.kind == "fault" else None, [_evidence(j) for j in f.judged],
            )
            for f in found
        ],
        dict(reasons),
    )  # fmt: skip


def _kind(found: Finding, catalogue: Catalogue) -> Any:
    fault = catalogue.faults.get(found.id)
    return "rule" if found.kind == "fault" and fault and fault.rule else found.kind


def _side(side: Side) -> Any:
    return side if side in ("left", "right") else None


def _evidence(judged: Judged) -> Evidence:
    reading = judged.reading
    u = reading.own.u if reading.own else reading.u
    verdict: Any = "open" if judged.verdict == "unsure" else judged.verdict
    return Evidence(judged.quantity.id, reading.value, u or None, judged.limit, verdict)


def change_answer(compared: Iterable[Comparison], reasons: Mapping[str, str]) -> Change:
    lines = [_line(c) for c in compared]
    count = {v: sum(x.verdict == v for x in lines) for v in ("better", "worse", "changed")}
    return Change(VERSION, lines, Headline(**count), dict(reasons))


def _line(c: Comparison) -> Line:
    verdict: Any = "none" if c.verdict == "same" else c.verdict
    return Line(
        c.after.what, _side(c.after.side), c.after.unit, c.before.value, c.after.value,
        c.difference, c.least, verdict, c.worked_on, c.effect,
        list(c.interval) if c.interval else None,
    )  # fmt: skip


def prescription_answer(
    ranked: Sequence[Ranked],
    prescriptions: Iterable[Prescription],
    catalogue: Catalogue,
    receiver: SwimmerProfile,
    reasons: Mapping[str, str],
) -> Prescribed:
    return Prescribed(
        VERSION,
        [r.fault.id for r in ranked],
        [
            JsonFocus(
                p.fault.id,
                [
                    JsonDrill(
                        d.id, d.repeats[0], d.metres, d.seconds,
                        effort_of(d, catalogue, receiver.schools),
                        d.rest_s or REST_S[effort_of(d, catalogue, receiver.schools)],
                        sorted(_care(p, d.id, receiver)),
                    )
                    for d in p.drills
                ],
                [LeftOutDrill(x.drill.id, x.reason) for x in p.left_out],
            )
            for p in prescriptions
        ],
        dict(reasons),
    )  # fmt: skip


def _care(p: Prescription, drill_id: str, receiver: SwimmerProfile) -> Collection[str]:
    drill = next(d for d in p.drills if d.id == drill_id)
    return topics_of(p.fault, [drill], receiver.level)
