"""What the numbers panel is made of, and how one quantity is written."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from norvik.core.strokes import Phase
from norvik.core.time.resolve import OrderedMark, Slot
from norvik.web.shared.filters import number, plus_minus
from norvik.workflow.clip_timing import ClipTiming


@dataclass(frozen=True, slots=True)
class Number:
    """value and spread as they are written; frames: where to look; reason: why it is missing."""

    name: str
    value: str
    unit: str = ""
    spread: str = ""
    note: str = ""
    frames: tuple[int, ...] = ()
    reason: str = ""


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

    side: str
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
        u = self.timing.uncertainty.get(path)
        shown = value if signed else abs(value)
        spread = "" if counted else plus_minus(u, digits)
        return Number(name, number(shown, digits), unit, spread, note, frames)

    def phase(self, name: str, path: str, phase: Phase, slots: Iterable[Slot]) -> Number | None:
        """Share and seconds of a phase; None where nothing of it is known."""
        head, side = path.split(".", 1) if "." in path else (path, "")
        table = getattr(self.timing, head)
        row = (table[side] if side else table)[phase.name]
        if row is None:
            return None
        opens = self.resolved.stroke.leg_cycle[0] if head == "legs" else self.resolved.stroke.opens
        at = [p for s in slots if (p := s.at(phase.start, opens)) is not None]
        whole = f"{path}.{phase.name}"
        seconds = f"{number(row.mean_s, 2)} s {plus_minus(row.u_s, 2)}"
        note = f"{seconds} · n {row.n}"
        if row.share_pct is None:
            return Number(name, number(row.mean_s, 2), "s", plus_minus(row.u_s, 2), f"n {row.n}",
                          self.of_marks(at))  # fmt: skip
        u = self.timing.uncertainty.get(f"{whole}.share_pct")
        return Number(name, number(row.share_pct, 1), "%", plus_minus(u, 1), note,
                      self.of_marks(at))  # fmt: skip
