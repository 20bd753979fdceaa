"""Findings from what was measured, followed or chosen on the frames of a clip.

A fault names what shows it: "high-elbow<" (under the fault limit of that measure's band),
"elbow-angle>" (over it), "body-roll~10" (left and right differ by more than 10), or
"first-contact=thumb" (that option was chosen). Any one of them is enough.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from norvik.core.judging.coaching_model import Band, Catalogue, Fault
from norvik.core.judging.judged import (
    CLEAR_FROM,
    LEAST_SEVERITY,
    SEEN_SEVERITY,
    Finding,
    Judged,
    Verdict,
    schools_used,
)
from norvik.core.judging.margin import margin_of
from norvik.core.judging.verdicts import near_fault, surely_good, verdict_of
from norvik.core.strokes.names import Side
from norvik.core.time.own_spread import of_values
from norvik.core.time.plus_minus import Certainty
from norvik.core.time.quantities import Occurrence, Quantity, Reading

_RULE = re.compile(r"(?P<what>[a-z-]+)(?:(?P<side>[<>])|~(?P<apart>\d+)|=(?P<option>[a-z-]+))")


@dataclass(frozen=True, slots=True)
class Rule:
    """One way in which a fault shows. apart: in the measure's unit. option: of a choice."""

    what: str
    direction: str = ""
    apart: float | None = None
    option: str = ""

    @classmethod
    def read(cls, text: str) -> Rule:
        """ValueError for a text that is no rule."""
        found = _RULE.fullmatch(text)
        if found is None:
            raise ValueError(text)
        apart = found["apart"]
        return cls(
            found["what"], found["side"] or "", float(apart) if apart else None,
            found["option"] or "",
        )  # fmt: skip


@dataclass(frozen=True, slots=True)
class OnFrame:
    """All takings of one measure, or of one choice, on one side.

    found: when (real seconds) and the value; u: standard uncertainty of their mean. chosen: the
    options of a choice instead, in the order of `found`. band: that holds for the swimmer.
    least: takings from which on it can show a fault.
    """

    what: str
    name: str
    unit: str
    digits: int
    side: Side
    found: tuple[Occurrence, ...]
    u: float | None = None
    band: Band | None = None
    chosen: tuple[str, ...] = ()
    least: int = 1

    @property
    def mean(self) -> float:
        return math.fsum(o.value for o in self.found) / len(self.found)

    @property
    def reading(self) -> Reading:
        """The mean of the takings, with how well they tell the swimmer."""
        certainty = None
        if self.u is not None:
            certainty = Certainty(self.u, own=of_values([o.value for o in self.found]))
        return Reading(self.mean, self.u, self.found, certainty)

    @property
    def margin(self) -> float:
        """How far the swimmer's own value may be off, in the measure's unit."""
        return margin_of(self.what, self.unit, self.reading)


@dataclass(frozen=True, slots=True)
class Obstacle:
    """A measure or choice that cannot be judged on this clip, and why."""

    what: str
    why: str


#: What one measure says against the swimmer.
EvidenceKind = Literal["fault", "open", "watch"]


@dataclass(frozen=True, slots=True)
class Evidence:
    """What one measure or choice says of a fault. kind: "fault", "open" or "watch".

    severity: how far beyond the limit, in spans of the band; may be outside 0 to 1. share: of the
    takings that show it. shown: those takings.
    """

    kind: EvidenceKind
    side: Side
    severity: float
    share: float
    judged: Judged | None
    shown: tuple[Occurrence, ...]


def by_frame(
    fault: Fault, taken: Sequence[OnFrame], catalogue: Catalogue, schools: dict[str, str]
) -> Finding | None:
    """What the frames say about one fault: the worst of what was taken; None when nothing does."""
    said: list[Evidence] = []
    for text in fault.shown_by:
        rule = Rule.read(text)
        mine = [t for t in taken if t.what == rule.what]
        if rule.option:
            said += [_chosen(t, rule.option) for t in mine if rule.option in t.chosen]
        elif rule.apart is not None:
            said += _apart(mine, rule.apart)
        else:
            said += [e for t in mine if t.band and (e := _beyond(t, t.band, rule.direction))]
    for kind in ("fault", "open", "watch"):
        of_kind = [e for e in said if e.kind == kind]
        if not of_kind:
            continue
        worst = max(of_kind, key=lambda e: e.severity * e.share)
        severity = worst.severity
        if kind == "fault":
            severity = max(LEAST_SEVERITY, min(1.0, severity))
        judged = tuple(e.judged for e in of_kind if e.judged is not None)
        sides = {e.side for e in of_kind}
        return Finding(
            id=fault.id,
            kind=kind,
            title=fault.name,
            says=fault.shows,
            side=sides.pop() if len(sides) == 1 and fault.sided else "",
            degree="clear" if severity >= CLEAR_FROM else "slight",
            severity=severity if kind == "fault" else 0.0,
            share=worst.share,
            judged=judged,
            instants=tuple(sorted({o.time_s for e in of_kind for o in e.shown})),
            schools=schools_used(judged, catalogue, schools),
        )
    return None


def absent_on_frame(fault: Fault, taken: Sequence[OnFrame]) -> Finding | None:
    """Do the frames rule a fault out?

    Only where everything taken for it is surely on the near side of its limit, on enough takings.
    """
    judged: list[Judged] = []
    shown: list[Occurrence] = []
    for text in fault.shown_by:
        rule = Rule.read(text)
        mine = [t for t in taken if t.what == rule.what]
        if rule.option or rule.apart is not None:
            shown += [o for t in mine if rule.option not in t.chosen for o in t.found]
            continue
        for t in mine:
            if t.band is None:
                continue
            limit = t.band.fault_below if rule.direction == "<" else t.band.fault_above
            if limit is None:
                continue
            beyond = limit - t.mean if rule.direction == "<" else t.mean - limit
            if beyond > -t.margin or len(t.found) < t.least:
                return None
            judged.append(_judged(t, t.band, "good", beyond))
            shown += t.found
    if not judged:
        return None
    return Finding(
        id=fault.id,
        kind="absent",
        title=fault.name,
        says=fault.shows,
        judged=tuple(judged),
        instants=tuple(sorted({o.time_s for o in shown})),
    )


def strengths_on_frame(
    taken: Iterable[OnFrame], in_faults: set[str], catalogue: Catalogue, schools: dict[str, str]
) -> list[Finding]:
    """Measures that are surely good and have a word of praise, each once."""
    found: dict[str, list[Judged]] = {}
    bad = set(in_faults)
    for t in taken:
        if t.band is None or not t.band.praise or not t.found:
            continue
        verdict, beyond = verdict_of(t.band, t.mean, t.margin)
        if not surely_good(t.band, t.mean, t.margin):
            bad.add(t.what)
        found.setdefault(t.what, []).append(_judged(t, t.band, verdict, beyond))
    return [
        Finding(
            id=f"on-frame-{what}",
            kind="strength",
            title=judged[0].quantity.name,
            says=judged[0].band.praise,
            degree="clear",
            severity=0.5,
            judged=tuple(judged),
            instants=tuple(o.time_s for o in judged[0].reading.occurrences[:1]),
            schools=schools_used(judged, catalogue, schools),
        )
        for what, judged in found.items()
        if what not in bad
    ]


def hidden(fault: Fault, obstacles: Iterable[Obstacle]) -> Finding | None:
    """An open question where everything that would show a fault cannot be judged on this clip."""
    rules = {Rule.read(text).what for text in fault.shown_by}
    why = {o.what: o.why for o in obstacles if o.what in rules}
    if not rules or set(why) != rules:
        return None
    said = ", ".join(dict.fromkeys(why.values()))
    return Finding(
        id=fault.id,
        kind="open",
        title=fault.name,
        says=f"Can't be judged on this clip: {said}. Film it again: {fault.views[0]}.",
    )


def _chosen(t: OnFrame, option: str) -> Evidence:
    shown = tuple(o for o, c in zip(t.found, t.chosen, strict=True) if c == option)
    return Evidence("fault", t.side, SEEN_SEVERITY["clear"], len(shown) / len(t.found), None, shown)


def _apart(mine: Sequence[OnFrame], limit: float) -> list[Evidence]:
    """Left and right against each other; the flatter side is the one that shows it.

    Sides that are nearer to each other than half the limit are alike, however they were measured.
    """
    sides = {t.side: t for t in mine}
    if not {"left", "right"} <= set(sides):
        return []
    left, right = sides["left"], sides["right"]
    beyond = abs(left.mean - right.mean) - limit
    margin = math.hypot(left.margin, right.margin)
    if beyond <= -margin or beyond < -limit / 2:
        return []
    kind: EvidenceKind = "fault" if beyond > margin else "open"
    flat = min(left, right, key=lambda t: t.mean)
    return [Evidence(kind, flat.side, beyond / limit, 1.0, None, flat.found)]


def _beyond(t: OnFrame, band: Band, direction: str) -> Evidence | None:
    """What one measure says in one direction; None when it says nothing against the swimmer."""
    under = direction == "<"
    limit, good = (band.fault_below, band.good_from) if under else (band.fault_above, band.good_to)
    if limit is None:
        return None

    def past(value: float, edge: float) -> float:
        return edge - value if under else value - edge

    kind: EvidenceKind
    value, margin = t.mean, t.margin
    beyond = past(value, limit)
    if beyond > margin:
        kind = "fault" if len(t.found) >= t.least else "watch"
    elif beyond > -margin and (good is None or past(value, good) > 0):
        kind = "open"
    elif good is not None and past(value, good) > margin and near_fault(band, value):
        kind = "watch"
    else:
        return None
    shown = tuple(o for o in t.found if past(o.value, limit) > 0)
    share = len(shown) / len(t.found) if shown else 1.0
    verdict: Verdict = "unsure" if kind == "open" else kind
    judged = _judged(t, band, verdict, beyond)
    return Evidence(kind, t.side, beyond / band.full, share, judged, shown or t.found)


def _judged(t: OnFrame, band: Band, verdict: Verdict, beyond: float) -> Judged:
    name = f"{t.name}, {t.side}" if t.side else t.name
    quantity = Quantity(t.what, name, t.unit, t.digits, lambda _: None)
    return Judged(band, quantity, t.reading, verdict, beyond, t.side, t.margin)
