"""The numbers beside the film: each with unit, plus-minus, count, and the frames it rests on."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from norvik.core.coordination import hand_overs
from norvik.core.quantities import QUANTITIES, Occurrence
from norvik.web.filters import number, plus_minus
from norvik.web.rope import LETTERS
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
class Panel:
    rate: tuple[Number, ...]
    arms: tuple[ArmShares, ...]
    coordination: tuple[Number, ...]
    breathing: tuple[Number, ...]
    problems: tuple[tuple[int, str, str], ...]
    cycles: int


def panel(timed: ClipTiming) -> Panel:
    """Everything the numbers panel shows of a clip."""
    timing = timed.timing
    problems = tuple(
        (p.mark.frame or 0, f"{p.mark.side} {p.mark.event}".strip(), p.reason)
        for p in timing.problems
    )
    arms = [_arm(timed, side) for side in timing.settled.stroke.arms]
    return Panel(
        rate=tuple(_rate(timed)),
        arms=tuple(a for a in arms if a.shares),
        coordination=tuple(_coordination(timed)),
        breathing=tuple(_breathing(timed)),
        problems=problems,
        cycles=timing.cycles.count,
    )


def _frames(timed: ClipTiming, times_s: Iterable[float]) -> tuple[int, ...]:
    return tuple(sorted({timed.frame_of(t) for t in times_s}))


def _quantity(timed: ClipTiming, quantity_id: str, reason: str, note: str = "") -> Number:
    quantity = QUANTITIES[quantity_id]
    reading = quantity.read(timed.timing)
    if reading is None:
        return Number(quantity.name, "–", quantity.unit, reason=reason)
    counted: tuple[Occurrence, ...] = reading.occurrences
    return Number(
        quantity.name,
        number(reading.value, quantity.digits),
        quantity.unit,
        plus_minus(reading.u, quantity.digits) if reading.u != 0 else "",
        note or f"n {len(counted)}",
        _frames(timed, (o.time_s for o in counted)),
    )


def _rate(timed: ClipTiming) -> list[Number]:
    timing = timed.timing
    rate, cycles = timing.rate, timing.cycles
    opens = _frames(timed, (c.start.time_s for c in timing.settled.cycles if c.start))
    per = timing.settled.stroke.strokes_per_cycle
    u = rate.u_cycles_per_min
    why = timing.reasons.get("rate.cycles_per_min", "")
    known = rate.cycles_per_min is not None
    note = f"{cycles.count} cycle{'s' if cycles.count != 1 else ''}" if known else ""
    strokes_u = plus_minus(u * per if u is not None else None, 2) if known else ""
    spread = f"spread {number(cycles.time_s.sd, 3)}" if cycles.time_s.sd is not None else ""
    return [
        Number(
            "Stroke rate", number(rate.strokes_per_min, 1), "strokes/min", strokes_u, note, opens,
            why,
        ),
        Number(
            "", number(rate.cycles_per_min, 2), "cycles/min",
            plus_minus(u, 2) if known else "", "", opens, why,
        ),
        Number("Cycle time", number(cycles.time_s.mean, 3), "s", spread, "", opens, why),
    ]  # fmt: skip


def _arm(timed: ClipTiming, side: str) -> ArmShares:
    timing = timed.timing
    shares = []
    for name, phase in timing.phases[side].items():
        if phase is not None and phase.share_pct is not None:
            shares.append(
                Share(
                    name,
                    LETTERS.get(name, ""),
                    phase.share_pct,
                    phase.mean_s,
                    plus_minus(phase.u_s, 3),
                )
            )
    starts = [c.start.time_s for c in timing.settled.cycles if c.side == side and c.start]
    return ArmShares(side, tuple(shares), len(starts), _frames(timed, starts))


def _coordination(timed: ClipTiming) -> list[Number]:
    timing = timed.timing
    if timing.coordination is None:
        return []
    reasons = timing.reasons
    index = _quantity(
        timed,
        "hand-over",
        reasons.get("coordination.index_pct", ""),
        timing.coordination.model or "",
    )
    found = [
        Number("Hand-over", index.value, "%", index.spread, index.note, index.frames, index.reason)
    ]
    for source, target, value in (
        ("left", "right", timing.coordination.left_to_right_s),
        ("right", "left", timing.coordination.right_to_left_s),
    ):
        name = f"{source} to {target}"
        frames = _frames(
            timed, (h.release.time_s for h in hand_overs(timing.settled, source, target))
        )
        key = f"coordination.{name.replace(' ', '_')}_s"
        kind = "" if value is None else ("gap" if value < 0 else "overlap")
        shown = number(abs(value) if value is not None else None, 2)
        found.append(Number(name, shown, "s", "", kind, frames, reasons.get(key, "")))
    rhythm = _quantity(timed, "hand-rhythm", reasons.get("rhythm_pct", ""))
    found.append(
        Number("Off even", rhythm.value, "%", rhythm.spread, "", rhythm.frames, rhythm.reason)
    )
    return found


def _breathing(timed: ClipTiming) -> list[Number]:
    timing = timed.timing
    breathing, reasons = timing.breathing, timing.reasons
    airs = _frames(timed, (b.air.time_s for b in timing.settled.breaths))
    if not timing.settled.breaths:
        return [Number("Breathing", "–", reason=reasons["breathing.pattern"])]
    pattern = breathing.pattern or []
    if pattern:
        steady = len(set(pattern)) == 1
        value = str(pattern[0]) if steady else ", ".join(str(p) for p in pattern)
        note = {True: "regular", False: "changes", None: ""}[breathing.regular]
        head = Number("Every", value, "strokes", "", note, airs)
    elif timing.settled.stroke.alternating:
        head = Number("Every", "–", "strokes", reason=reasons.get("breathing.pattern", ""))
    else:
        per_cycle, why = breathing.breaths_per_cycle, reasons.get("breathing.breaths_per_cycle", "")
        head = Number("Breaths", number(per_cycle, 2), "a cycle", "", "", airs, why)
    sides = breathing.sides or {}
    to = ", ".join(f"{n} {side}" for side, n in sides.items() if n)
    lasts = Number(
        "Air to face in", number(breathing.duration_s, 2), "s", "", to, airs,
        reasons.get("breathing.duration_s", ""),
    )  # fmt: skip
    found = [head, lasts]
    asked = [("exhale-share", "exhale_share_pct")]
    if timing.stroke == "freestyle":
        asked = [("breath-return", "return_s"), ("head-lead", "head_lead_s"), *asked]
    for quantity_id, key in asked:
        found.append(_quantity(timed, quantity_id, reasons.get(f"breathing.{key}", "")))
    return found
