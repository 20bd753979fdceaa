"""Judging: what is good, what is a fault, what cannot be told, each with its evidence."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import replace

from norvik.core.judging.coaching_model import Band, Catalogue, Fault
from norvik.core.judging.judged import (
    CLEAR_FROM,
    LEAST_SEVERITY,
    SEEN_SEVERITY,
    Finding,
    FindingKind,
    Judged,
    Proof,
    Seen,
    schools_used,
)
from norvik.core.judging.kit import in_the_way, quantities_changed
from norvik.core.judging.margin import margin_of
from norvik.core.judging.on_frame import (
    Obstacle,
    OnFrame,
    Rule,
    absent_on_frame,
    by_frame,
    hidden,
    strengths_on_frame,
)
from norvik.core.judging.verdicts import near_fault, surely_good, verdict_of
from norvik.core.strokes.names import Side
from norvik.core.time.quantities import QUANTITIES, Occurrence
from norvik.core.time.timing import Timing


def judge(band: Band, timing: Timing) -> Judged | None:
    """Hold a quantity against a band. None when the marks do not tell its value.

    With an unknown uncertainty, and for a share of counts, the value is taken as it is.
    """
    quantity = QUANTITIES[band.quantity]
    reading = quantity.of(timing)
    if reading is None or not math.isfinite(reading.value):
        return None
    margin = margin_of(quantity.id, quantity.unit, reading)
    verdict, beyond = verdict_of(band, reading.value, margin)
    return Judged(band, quantity, reading, verdict, beyond, margin=margin)


#: In which order kinds of findings are said.
_ORDER = {"strength": 0, "fault": 1, "watch": 2, "open": 3, "absent": 4}


def find(
    timing: Timing,
    seen: Iterable[Seen],
    catalogue: Catalogue,
    level: str,
    schools: dict[str, str],
    on_frame: Sequence[OnFrame] = (),
    obstacles: Sequence[Obstacle] = (),
    kit: Sequence[str] = (),
) -> list[Finding]:
    """All findings of a clip: strengths, then faults by severity, what to watch, open questions.

    level: the swimmer's. schools: question to chosen school. on_frame: what was measured, followed
    or chosen on its frames; obstacles: what cannot be judged there. kit: worn in the clip.
    """
    ticked = list(seen)
    faults = find_faults(timing, ticked, catalogue, level, schools, on_frame, obstacles, kit)
    strengths = find_strengths(timing, ticked, faults, catalogue, schools, on_frame, kit)
    return in_order(strengths + [f for f in faults if f.kind != "absent"])


def find_faults(
    timing: Timing,
    seen: Iterable[Seen],
    catalogue: Catalogue,
    level: str,
    schools: dict[str, str],
    on_frame: Sequence[OnFrame] = (),
    obstacles: Sequence[Obstacle] = (),
    kit: Sequence[str] = (),
) -> list[Finding]:
    """All findings of a clip.

    Faults by severity, what to watch, open questions, what was ticked as good, and the faults that
    the numbers rule out ("absent"). kit: worn in the clip; what it changes is not measured.
    A tick stays what the coach says, with what the numbers say of it.
    """
    ticked = list(seen)
    by_eye = [f for tick in ticked if (f := _by_eye(tick, catalogue))]
    names = {s.what for s in ticked}
    found: list[Finding] = []
    for fault in catalogue.faults.values():
        if not applies(fault, catalogue, level, schools):
            continue
        measured = None
        if not in_the_way(fault, kit):
            measured = _measured(fault, timing, catalogue, schools, on_frame)
        if fault.id in names:
            by_eye = [_proven(f, measured) if f.id == fault.id else f for f in by_eye]
        elif one := measured or hidden(fault, obstacles):
            found.append(one)
    return in_order(found + by_eye)


def _measured(
    fault: Fault, timing: Timing, catalogue: Catalogue, schools: dict[str, str],
    on_frame: Sequence[OnFrame],
) -> Finding | None:  # fmt: skip
    """What all numbers together say of a fault: one that shows it goes before one that does not."""
    said = [
        _by_number(fault, timing, catalogue, schools) if fault.bands else None,
        by_frame(fault, on_frame, catalogue, schools) or absent_on_frame(fault, on_frame),
    ]
    known = [f for f in said if f is not None]
    return min(known, key=lambda f: _ORDER[f.kind], default=None)


#: What the numbers say of a tick, by what they find.
_PROOFS: dict[FindingKind, Proof] = {"fault": "proved", "absent": "refuted"}


def _proven(tick: Finding, measured: Finding | None) -> Finding:
    """A tick with the numbers beside it: another side's numbers say nothing of it."""
    if measured is None or (tick.side and measured.side and tick.side != measured.side):
        return tick
    proof = _PROOFS.get(measured.kind, "")
    # First the frames on which the measure is drawn.
    shown = measured.instants if proof == "proved" else ()
    both = tuple(dict.fromkeys((*shown, *tick.instants)))
    return replace(tick, judged=measured.judged, proof=proof, instants=both,
                   schools=measured.schools)  # fmt: skip


def find_strengths(
    timing: Timing,
    seen: Iterable[Seen],
    faults: Iterable[Finding],
    catalogue: Catalogue,
    schools: dict[str, str],
    on_frame: Sequence[OnFrame] = (),
    kit: Sequence[str] = (),
) -> list[Finding]:
    """What the numbers praise.

    No strength rests on a measure that shows a fault, or would, nor on one that the kit changes.
    """
    in_faults = {
        Rule.read(text).what
        for name in {s.what for s in seen} & set(catalogue.faults)
        for text in catalogue.faults[name].shown_by
    }
    in_faults |= {j.quantity.id for f in faults if f.kind != "absent" for j in f.judged}
    in_faults |= quantities_changed(catalogue, kit)
    found = _strengths_by_number(timing, catalogue, schools, in_faults)
    return in_order(found + strengths_on_frame(on_frame, in_faults, catalogue, schools))


def in_order(found: list[Finding]) -> list[Finding]:
    """By kind, the gravest first."""
    return sorted(found, key=lambda f: (_ORDER[f.kind], -f.severity, f.id, f.side))


def applies(fault: Fault, catalogue: Catalogue, level: str, schools: dict[str, str]) -> bool:
    """Is this a fault at all for a swimmer of this level and these schools?"""
    if fault.levels and level not in fault.levels:
        return False
    return not any(
        catalogue.questions[q].chosen(schools).id == s for q, s in fault.unless_school.items()
    )


def _by_number(
    fault: Fault, timing: Timing, catalogue: Catalogue, schools: dict[str, str]
) -> Finding | None:
    judged = []
    for band_id in fault.bands:
        one = judge(catalogue.band(band_id, schools, timing.resolved.mean_cycle_s), timing)
        if one is None:
            return None
        judged.append(one)
    verdicts = {j.verdict for j in judged}
    kind: FindingKind
    if verdicts == {"fault"}:
        kind = "fault"
    elif verdicts <= {"fault", "unsure"}:
        kind = "open"
    elif verdicts <= {"fault", "unsure", "watch"} and all(
        near_fault(j.band, j.reading.value) for j in judged if j.verdict == "watch"
    ):
        kind = "watch"
    elif any(j.beyond <= -j.margin for j in judged):
        # One limit that is surely kept is enough: all of them must be passed for the fault.
        kind = "absent"
    else:
        return None
    severity = min(min(1.0, max(0.0, j.beyond / j.band.full)) for j in judged)
    if kind == "fault":
        severity = max(LEAST_SEVERITY, severity)
    leading = judged[0]
    showing = [o for o in leading.reading.occurrences if _outside(leading.band, o.value)]
    occurrences = leading.reading.occurrences
    share = len(showing) / len(occurrences) if occurrences else 1.0
    return Finding(
        id=fault.id,
        kind=kind,
        title=fault.name,
        says=fault.shows,
        side=_common_side(showing) if fault.sided else "",
        degree="clear" if severity >= CLEAR_FROM else "slight",
        severity=severity if kind == "fault" else 0.0,
        share=max(share, 1 / len(occurrences)) if occurrences else 1.0,
        judged=tuple(judged),
        instants=tuple(o.time_s for o in (showing or occurrences)),
        schools=schools_used(judged, catalogue, schools),
    )


def _outside(band: Band, value: float) -> bool:
    below, above = band.fault_below, band.fault_above
    return (below is not None and value < below) or (above is not None and value > above)


def _common_side(found: Iterable[Occurrence]) -> Side:
    sides = {o.side for o in found}
    return sides.pop() if len(sides) == 1 else ""


def _by_eye(tick: Seen, catalogue: Catalogue) -> Finding | None:
    fault, strength = catalogue.faults.get(tick.what), catalogue.strengths.get(tick.what)
    kind: FindingKind
    if fault:
        kind, name, says, severity = "fault", fault.name, fault.shows, SEEN_SEVERITY[tick.degree]
    elif strength:
        kind, name, says, severity = "strength", strength.name, strength.praise, 1.0
    else:
        return None
    return Finding(
        id=tick.what,
        kind=kind,
        title=name,
        says=says,
        side=tick.side,
        degree=tick.degree,
        severity=severity,
        instants=() if tick.time_s is None else (tick.time_s,),
        seen=True,
    )


def _strengths_by_number(
    timing: Timing, catalogue: Catalogue, schools: dict[str, str], in_faults: set[str]
) -> list[Finding]:
    found = []
    for band_id in dict.fromkeys(b.id for b in catalogue.bands):
        band = catalogue.band(band_id, schools, timing.resolved.mean_cycle_s)
        if not band.praise or band.quantity in in_faults:
            continue
        one = judge(band, timing)
        if one and surely_good(band, one.reading.value, one.margin):
            found.append(
                Finding(
                    id=band_id,
                    kind="strength",
                    title=one.quantity.name,
                    says=band.praise,
                    degree="clear",
                    severity=0.5,
                    judged=(one,),
                    instants=tuple(o.time_s for o in one.reading.occurrences[:1]),
                    schools=schools_used([one], catalogue, schools),
                )
            )
    return found
