"""What happens at the wall: glide in, turn, time under water, breakout."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from norvik.core.strokes.definitions import event_name
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import OrderedMark, ResolvedMarks

#: Metres are read from notes; two that differ by less than this are the same place.
SAME_PLACE_M = 1e-6


@dataclass(frozen=True, slots=True)
class Wall:
    """One wall: a push with the touch before it, or a touch that no push follows (a finish).

    breakout_m: distance from the wall, linear between passes. five_m_in_out_s: from 5 m before
    the touch to 5 m after the push. Times in seconds of the clip or of duration.
    """

    touch_s: float | None = None
    push_s: float | None = None
    breakout_s: float | None = None
    under_water_s: float | None = None
    beats: int | None = None
    strokes_before_breath: int | None = None
    breakout_m: float | None = None
    glide_in_s: float | None = None
    turn_s: float | None = None
    five_m_in_out_s: float | None = None


@dataclass(frozen=True, slots=True)
class WallMarks:
    """The marks that a wall's times rest on: instants and intervals by the name of the time.

    breakout: the places before and after the breakout, each with its metres, and the breakout.
    """

    instants: dict[str, OrderedMark]
    intervals: dict[str, tuple[OrderedMark, OrderedMark]]
    breakout: tuple[OrderedMark, float, OrderedMark, float, OrderedMark] | None


def _pairs(resolved: ResolvedMarks) -> list[tuple[OrderedMark | None, OrderedMark | None]]:
    """Touch and push of each wall in time order; one of the two may be missing."""
    turns = [w for w in resolved.walls if w.mark.event in ("touch", "push")]
    pairs: list[tuple[OrderedMark | None, OrderedMark | None]] = []
    touch: OrderedMark | None = None
    for mark in turns:
        if mark.mark.event == "touch":
            touch = mark
        else:
            pairs.append((touch, mark))
            touch = None
    if touch is not None:
        pairs.append((touch, None))
    return pairs


def walls_of(resolved: ResolvedMarks, pool_m: float | None, reasons: Reasons) -> list[Wall]:
    """One record for each wall in time order. pool_m: length of the pool in metres."""
    return [
        _wall(resolved, touch, push, pool_m, f"walls.{n}", reasons)
        for n, (touch, push) in enumerate(_pairs(resolved))
    ]


def wall_marks(resolved: ResolvedMarks, pool_m: float | None) -> list[WallMarks]:
    """What each wall of `walls_of` rests on."""
    return [_marks(resolved, touch, push, pool_m) for touch, push in _pairs(resolved)]


def _marks(
    resolved: ResolvedMarks,
    touch: OrderedMark | None,
    push: OrderedMark | None,
    pool_m: float | None,
) -> WallMarks:
    breakout = _breakout(resolved, push)
    instants = {"touch_s": touch, "push_s": push, "breakout_s": breakout}
    intervals = {
        "under_water_s": (push, breakout) if push and breakout else None,
        "glide_in_s": _glide_in(resolved, touch),
        "turn_s": (touch, push) if touch and push else None,
        "five_m_in_out_s": _five_in_out(resolved, touch, push, pool_m),
    }
    return WallMarks(
        {name: mark for name, mark in instants.items() if mark},
        {name: ends for name, ends in intervals.items() if ends},
        _around_breakout(resolved, push, breakout),
    )


def _wall(
    resolved: ResolvedMarks,
    touch: OrderedMark | None,
    push: OrderedMark | None,
    pool_m: float | None,
    path: str,
    reasons: Reasons,
) -> Wall:
    breakout = _breakout(resolved, push)
    marks = _marks(resolved, touch, push, pool_m)
    values: dict[str, float | int | None] = dict.fromkeys(Wall.__slots__)
    values |= {name: mark.time_s for name, mark in marks.instants.items()}
    values |= {name: b.time_s - a.time_s for name, (a, b) in marks.intervals.items()}
    values["beats"] = _beats(resolved, push, breakout)
    values["strokes_before_breath"] = _strokes_before_breath(resolved, breakout)
    if marks.breakout is not None:
        before, m0, after, m1, out = marks.breakout
        share = (out.time_s - before.time_s) / (after.time_s - before.time_s)
        values["breakout_m"] = m0 + (m1 - m0) * share
    leaves, reaches = (event_name(e) for e in (resolved.stroke.release, resolved.stroke.reach))
    whys = {
        "touch_s": "no touch is marked before this push-off",
        "push_s": "no push-off follows this touch",
        "breakout_s": "no breakout is marked after the push-off",
        "under_water_s": "needs push-off and breakout",
        "beats": "needs push-off, breakout and kicks",
        "strokes_before_breath": f"needs breakout, {leaves} and a breath",
        "breakout_m": "needs a breakout and a pass after it",
        "glide_in_s": f"needs touch and the last {reaches} before it",
        "turn_s": "needs touch and push-off",
        "five_m_in_out_s": "needs the pool's length and passes 5 m before and after the wall",
    }
    for name, value in values.items():
        if value is None:
            reasons.missing(f"{path}.{name}", whys[name])
    return Wall(**values)  # type: ignore[arg-type]


def _breakout(resolved: ResolvedMarks, push: OrderedMark | None) -> OrderedMark | None:
    if push is None:
        return None
    return next(
        (w for w in resolved.walls if w.mark.event == "breakout" and w.length == push.length),
        None,
    )


def _beats(
    resolved: ResolvedMarks, push: OrderedMark | None, breakout: OrderedMark | None
) -> int | None:
    if push is None or breakout is None or not resolved.beats:
        return None
    return sum(push.order < b.order < breakout.order for b in resolved.beats)


def _strokes_before_breath(resolved: ResolvedMarks, breakout: OrderedMark | None) -> int | None:
    if breakout is None:
        return None
    airs = [
        b.air
        for b in resolved.breaths
        if b.air.order > breakout.order and b.air.length == breakout.length
    ]
    if not airs:
        return None
    event = resolved.stroke.release
    releases = [p for arm in resolved.stroke.arms for p in resolved.marks_of(event, arm)]
    return sum(breakout.order < p.order < airs[0].order for p in releases)


def _around_breakout(
    resolved: ResolvedMarks, push: OrderedMark | None, breakout: OrderedMark | None
) -> tuple[OrderedMark, float, OrderedMark, float, OrderedMark] | None:
    """The known places between which the breakout lies; the push counts as 0 m."""
    if push is None or breakout is None:
        return None
    known = [(push, 0.0)] + [
        (p, p.mark.metres or 0.0) for p in resolved.passes if p.length == push.length
    ]
    for (before, m0), (after, m1) in pairwise(known):
        inside = before.time_s <= breakout.time_s <= after.time_s
        if inside and after.time_s > before.time_s:
            return before, m0, after, m1, breakout
    return None


def _glide_in(
    resolved: ResolvedMarks, touch: OrderedMark | None
) -> tuple[OrderedMark, OrderedMark] | None:
    """The last reach before the touch, and the touch."""
    if touch is None:
        return None
    stroke = resolved.stroke
    if stroke.reach == stroke.opens:
        reaches = resolved.openings()
    else:
        reaches = [p for arm in stroke.arms for p in resolved.marks_of(stroke.reach, arm)]
    before = [p for p in reaches if p.length == touch.length - 1 and p.order < touch.order]
    return (max(before, key=lambda p: p.time_s), touch) if before else None


def _five_in_out(
    resolved: ResolvedMarks,
    touch: OrderedMark | None,
    push: OrderedMark | None,
    pool_m: float | None,
) -> tuple[OrderedMark, OrderedMark] | None:
    """The passes 5 m before the touch and 5 m after the push."""
    if touch is None or push is None or pool_m is None:
        return None

    def passed(metres: float, length: int) -> OrderedMark | None:
        for p in resolved.passes:
            if p.length == length and abs((p.mark.metres or 0) - metres) < SAME_PLACE_M:
                return p
        return None

    into, out = passed(pool_m - 5, touch.length - 1), passed(5, push.length)
    return (into, out) if into is not None and out is not None else None
