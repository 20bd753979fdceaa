"""What the numbers panel is made of, and how one quantity is written."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from norvik.core.strokes.names import Side
from norvik.core.time.quantities import Quantity
from norvik.core.time.resolve import OrderedMark
from norvik.web.shared.filters import number, plus_minus, swimmer_plus_minus
from norvik.workflow.clip_timing import ClipTiming


@dataclass(frozen=True, slots=True)
class Number:
    """value, spread and swimmer as they are written; frames: where to look; reason: why missing.

    spread: plus-minus of this clip; swimmer: of the swimmer's own value, empty where the clip does
    not tell it. definition: what is measured, in one sentence.
    """

    name: str
    value: str
    unit: str = ""
    spread: str = ""
    note: str = ""
    frames: tuple[int, ...] = ()
    reason: str = ""
    definition: str = ""
    swimmer: str = ""


@dataclass(frozen=True, slots=True)
class Share:
    """One phase in the bar of an arm."""

    name: str
    letter: str
    share_pct: float
    seconds: float
    spread: str


@dataclass(frozen=True, slots=True)
class ArmShares:
    """The phases of one arm; frames: where its whole cycles begin."""

    side: Side
    shares: tuple[Share, ...]
    cycles: int
    frames: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Topic:
    """Numbers that belong together. id: a word for the page. later: numbers are not written yet."""

    id: str
    name: str
    numbers: tuple[Number, ...]
    later: bool = False


class Writer:
    """Writes quantities of one clip: value, unit, plus-minus, count, frames, reason."""

    def __init__(self, timed: ClipTiming) -> None:
        self.timed, self.timing = timed, timed.timing
        self.resolved = timed.timing.resolved

    def frames(self, times_s: Iterable[float]) -> tuple[int, ...]:
        return tuple(sorted({self.timed.frame_of(t) for t in times_s}))

    def of_marks(self, marks: Iterable[OrderedMark]) -> tuple[int, ...]:
        return tuple(sorted({p.mark.frame for p in marks if p.mark.frame is not None}))

    def cycles(self) -> tuple[int, ...]:
        return self.of_marks(c.start for c in self.resolved.cycles if c.start)

    def one(
        self,
        name: str,
        path: str,
        value: float | None,
        unit: str,
        digits: int = 2,
        *,
        note: str = "",
        frames: tuple[int, ...] = (),
        counted: bool = False,
        signed: bool = True,
    ) -> Number:
        """The quantity under a dotted path. counted: a count, which has no plus-minus.

        signed: False shows the size alone, where a note says which way it goes.
        """
        if value is None:
            reason = self.timing.reasons.get(path, "not known from these marks")
            return Number(name, "–", unit, reason=reason)
        sure = self.timing.certainty.get(path)
        shown = value if signed else abs(value)
        spread = "" if counted else plus_minus(sure.clip if sure else None, digits)
        swimmer = swimmer_plus_minus(sure.swimmer if sure and not counted else None, digits)
        return Number(name, number(shown, digits), unit, spread, note, frames, swimmer=swimmer)

    def quantity(self, q: Quantity) -> Number | None:
        """A declared quantity; None where it is not known and nothing is missing either."""
        reading = q.read(self.timing)
        if reading is None:
            reason = self.timing.reasons.get(q.path, "")
            if not reason:
                return None
            return Number(q.name, "–", q.unit, reason=reason, definition=q.definition)
        shown = reading.value if q.signed else abs(reading.value)
        spread = "" if q.counted else plus_minus(reading.u, q.digits)
        note = q.note(self.timing) if q.note else ""
        if q.intervals is not None or (q.topic == "phases" and note):
            note = " · ".join(x for x in (note, f"n {len(reading.occurrences)}") if x)
        frames = self.frames(o.time_s for o in reading.occurrences)
        value = number(shown, q.digits)
        swimmer = "" if q.counted else swimmer_plus_minus(reading.own, q.digits)
        return Number(
            q.name, value, q.unit, spread, note, frames, definition=q.definition, swimmer=swimmer
        )
