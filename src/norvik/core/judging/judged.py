"""What a judgement is made of: a value against its band, and a finding with its evidence."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Literal

from norvik.core.judging.coaching_model import LEVEL_WORDS, Band, Catalogue
from norvik.core.strokes.names import Side
from norvik.core.time.quantities import Quantity, Reading

#: Of a value against its band. unsure: a limit lies within the margin.
Verdict = Literal["good", "watch", "fault", "unsure"]
#: Of a finding. open: nobody can tell. rule: of competition. absent: the numbers rule it out.
FindingKind = Literal["strength", "fault", "watch", "open", "rule", "absent"]
#: How strongly a fault shows; "" where that is not said.
Degree = Literal["", "slight", "clear"]
#: What the numbers of a clip say of what was ticked on it.
Proof = Literal["", "proved", "refuted"]

#: Own choice: severity from which a measured finding is called clear.
CLEAR_FROM = 0.4
#: Own choice: the severity of what was ticked by eye.
SEEN_SEVERITY: dict[Degree, float] = {"slight": 0.35, "clear": 0.8}
#: Own choice: a fault that just passes its limit still weighs something.
LEAST_SEVERITY = 0.1


@dataclass(frozen=True, slots=True)
class Seen:
    """What the coach ticked: id of a fault or strength, side, degree, and where."""

    what: str
    side: Side
    degree: Degree
    time_s: float | None = None


@dataclass(frozen=True)
class Judged:
    """One quantity against one band: "good", "watch", "fault" or "unsure" (limits within margin).

    side: of what was measured on the frame, where it has one. margin: how far the swimmer's own
    value may be off.
    """

    band: Band
    quantity: Quantity
    reading: Reading
    verdict: Verdict
    beyond: float
    side: Side = ""
    margin: float = 0.0

    @property
    def limit(self) -> float | None:
        """The fault limit on the side on which the value lies."""
        if self.band.fault_below is not None and (
            self.band.fault_above is None or self.reading.value < self._middle
        ):
            return self.band.fault_below
        return self.band.fault_above

    @property
    def aim(self) -> str:
        """Where the good range begins, in words: "at most 30 %"; empty inside it or without one."""
        value, digits, unit = self.reading.value, self.quantity.digits, self.quantity.unit
        if self.band.good_from is not None and value < self.band.good_from:
            return f"at least {self.band.good_from:.{digits}f} {unit}".replace("-", "−")
        if self.band.good_to is not None and value > self.band.good_to:
            return f"at most {self.band.good_to:.{digits}f} {unit}".replace("-", "−")
        return ""

    @property
    def _middle(self) -> float:
        below, above = self.band.fault_below or 0.0, self.band.fault_above or 0.0
        return (below + above) / 2


@dataclass(frozen=True)
class Finding:
    """kind: "strength", "fault", "watch", "open", or "absent" where numbers rule a fault out.

    severity and share: 0 to 1. share: of the cycles (or breaths) in which it shows. instants: where
    to look, real seconds. schools: names of the schools whose bands were used. seen: ticked by eye;
    proof: what the numbers of the same clip say of that tick, "proved", "refuted" or nothing.
    """

    id: str
    kind: FindingKind
    title: str
    says: str
    side: Side = ""
    degree: Degree = ""
    severity: float = 0.0
    share: float = 1.0
    judged: tuple[Judged, ...] = ()
    instants: tuple[float, ...] = ()
    seen: bool = False
    schools: tuple[str, ...] = field(default=())
    proof: Proof = ""


def schools_used(
    judged: Iterable[Judged], catalogue: Catalogue, schools: dict[str, str]
) -> tuple[str, ...]:
    """Names of the schools whose bands were used, and of the level whose bands were."""
    used = list(judged)
    questions = {q for j in used for q in j.band.school}
    named = sorted(catalogue.questions[q].chosen(schools).name for q in questions)
    if any(j.band.levels for j in used):
        named.append(f"for {LEVEL_WORDS[catalogue.level][1]}")
    return tuple(named)
