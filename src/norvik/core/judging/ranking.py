"""The current: which fault to start with, because of what it costs and what it feeds."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable
from dataclasses import dataclass

from norvik.core.judging.coaching_model import COSTS, Catalogue, Fault
from norvik.core.judging.judged import Finding

#: Own choice: what each cost weighs; loads of the body double when that part hurts.
WEIGHTS = {"D": 1.0, "P": 1.0, "R": 0.8, "A": 0.8, "S": 1.0, "B": 1.0}
#: Own choice: what each further cost of a fault adds, as a share of its weight.
FURTHER = 0.25
#: Own choice: relief downstream is worth half for each step away.
PER_STEP = 0.5
_PLACES = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth",
           "tenth", "eleventh")  # fmt: skip
#: What a painful part makes of a cost.
PAINFUL = {"S": "shoulder", "B": "back"}


@dataclass(frozen=True)
class Ranked:
    """A fault in the order of work. score = own + relief; reasons in words, first one first."""

    fault: Fault
    findings: tuple[Finding, ...]
    own: float
    relief: float
    feeds: tuple[str, ...]
    hurts: tuple[str, ...]
    reasons: tuple[str, ...]

    @property
    def score(self) -> float:
        return self.own + self.relief


#: Parts of the stroke.
PARTS = ("head", "breathing", "body", "legs", "rotation", "recovery", "entry", "catch", "pull",
         "timing", "wall")  # fmt: skip
#: Orders of work that go by parts, each part setting up the next (common practice; the place of
#: breathing in the first one is an own choice). Source first goes by no part.
ORDERS: dict[str, tuple[tuple[str, ...], ...]] = {
    "source": (),
    "line": (("head",), ("body",), ("legs",), ("rotation",), ("breathing",), ("recovery",),
             ("entry",), ("catch",), ("pull",), ("timing",), ("wall",)),
    "breath": (("breathing",), ("head", "body", "legs"), ("rotation",), ("recovery",), ("entry",),
               ("catch", "pull"), ("timing",), ("wall",)),
}  # fmt: skip


def stage_of(fault: Fault, order: str) -> int:
    """Place of a fault's part in an order of work, from 0; 0 for all where parts do not count."""
    stages = ORDERS[order]
    return next((n for n, parts in enumerate(stages) if fault.part in parts), len(stages))


def rank(
    findings: Iterable[Finding], catalogue: Catalogue, pain: Iterable[str], order: str = "source"
) -> list[Ranked]:
    """Order the found faults.

    What loads a painful part first, then by the order of work, then by score. Findings of both
    sides of one fault are one point to work on. order: of ORDERS. Those that load a painful part
    keep among themselves the order that they have without the pain: else one of them could push
    another back just because it hurts.
    """
    by_fault: dict[str, list[Finding]] = {}
    for finding in findings:
        if finding.kind == "fault":
            by_fault.setdefault(finding.id, []).append(finding)
    painful = set(pain)
    own = _all_own(by_fault, catalogue, painful)
    painless = _all_own(by_fault, catalogue, set())
    ranked, without_pain = [], {}
    for fault_id, found in by_fault.items():
        fault = catalogue.faults[fault_id]
        steps = downstream(fault_id, catalogue)
        fed = {other: n for other, n in steps.items() if other in own}
        relief = sum(own[other] * PER_STEP**n for other, n in fed.items())
        without_pain[fault_id] = painless[fault_id] + sum(
            painless[other] * PER_STEP**n for other, n in fed.items()
        )
        feeds = tuple(sorted(fed, key=lambda other: (fed[other], other)))
        hurts = tuple(sorted(set(fault.loads) & painful))
        reasons = _reasons(fault, found, feeds, hurts, catalogue)
        if ORDERS[order] and not hurts:
            reasons = (_place_in(fault, by_fault, catalogue, order), *reasons)
        ranked.append(Ranked(fault, tuple(found), own[fault_id], relief, feeds, hurts, reasons))

    def place(r: Ranked) -> tuple[bool, int, float, str]:
        score = without_pain[r.fault.id] if r.hurts else r.score
        return not r.hurts, stage_of(r.fault, order), -score, r.fault.id

    return sorted(ranked, key=place)


def _place_in(fault: Fault, found: Iterable[str], catalogue: Catalogue, order: str) -> str:
    """The place of a fault's part among the parts in which something was found, in words."""
    stages = sorted({stage_of(catalogue.faults[f], order) for f in found})
    at = stages.index(stage_of(fault, order))
    said = " and ".join(ORDERS[order][stages[at]])
    place = "last" if at == len(stages) - 1 and at else _PLACES[at]
    return f"{said.capitalize()} comes {place}."


def downstream(fault_id: str, catalogue: Catalogue) -> dict[str, int]:
    """Every fault that this one leads to, with the number of steps. Loops end where they began."""
    steps: dict[str, int] = {}
    waiting = deque([(fault_id, 0)])
    while waiting:
        at, n = waiting.popleft()
        for other in catalogue.faults[at].leads_to:
            if other != fault_id and other not in steps:
                steps[other] = n + 1
                waiting.append((other, n + 1))
    return steps


def _all_own(
    by_fault: dict[str, list[Finding]], catalogue: Catalogue, painful: set[str]
) -> dict[str, float]:
    return {f: _own(catalogue.faults[f], found, painful) for f, found in by_fault.items()}


def upstream(fault_id: str, found: Iterable[str], catalogue: Catalogue) -> list[str]:
    """Of the found faults those that lead to this one, nearest first: where the cause may lie."""
    steps = {
        other: downstream(other, catalogue).get(fault_id) for other in found if other != fault_id
    }
    known = [(n, other) for other, n in steps.items() if n is not None]
    return [other for _, other in sorted(known)]


def _own(fault: Fault, found: list[Finding], painful: set[str]) -> float:
    weights = sorted(
        (WEIGHTS[c] * (2 if PAINFUL.get(c) in painful else 1) for c in fault.costs), reverse=True
    )
    # What a point in own words costs nobody has said: it weighs like one whole cost.
    weight = weights[0] + FURTHER * sum(weights[1:]) if weights else 1.0
    return weight * max(f.severity * f.share for f in found)


def _reasons(
    fault: Fault,
    found: list[Finding],
    feeds: tuple[str, ...],
    hurts: tuple[str, ...],
    catalogue: Catalogue,
) -> tuple[str, ...]:
    reasons = []
    if hurts:
        reasons.append(f"It loads the {' and the '.join(hurts)}, which hurts: first priority.")
    if feeds:
        names = [catalogue.faults[f].name.lower() for f in feeds[:3]]
        more = len(feeds) - len(names)
        listed = ", ".join(names) + (f" and {more} more" if more else "")
        what = (
            "another fault found here"
            if len(feeds) == 1
            else f"{len(feeds)} other faults found here"
        )
        reasons.append(f"It leads to {what}: {listed}.")
    costs = [COSTS[c] for c in fault.costs]
    degree = "clear" if any(f.degree == "clear" for f in found) else "slight"
    if costs:
        reasons.append(f"{degree.capitalize()}; it costs {', '.join(costs)}.")
    else:
        reasons.append("In your own words.")
    return tuple(reasons)
