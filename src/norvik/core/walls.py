"""What happens at the wall: glide in, turn, time under water, breakout."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from norvik.core.reasons import Reasons
from norvik.core.settle import Placed, Settled

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


def walls_of(settled: Settled, pool_m: float | None, reasons: Reasons) -> list[Wall]:
    """One record for each wall in time order. pool_m: length of the pool in metres."""
    turns = [w for w in settled.walls if w.mark.event != "breakout"]
    pairs: list[tuple[Placed | None, Placed | None]] = []
    touch: Placed | None = None
    for mark in turns:
        if mark.mark.event == "touch":
            touch = mark
        else:
            pairs.append((touch, mark))
            touch = None
    if touch is not None:
        pairs.append((touch, None))
    return [
        _wall(settled, touch, push, pool_m, f"walls.{n}", reasons)
        for n, (touch, push) in enumerate(pairs)
    ]


def _wall(
    settled: Settled,
    touch: Placed | None,
    push: Placed | None,
    pool_m: float | None,
    path: str,
    reasons: Reasons,
) -> Wall:
    breakout = _breakout(settled, push)
    under_s = breakout.time_s - push.time_s if breakout and push else None
    values: dict[str, float | int | None] = {
        "touch_s": touch.time_s if touch else None,
        "push_s": push.time_s if push else None,
        "breakout_s": breakout.time_s if breakout else None,
        "under_water_s": under_s,
        "beats": _beats(settled, push, breakout),
        "strokes_before_breath": _strokes_before_breath(settled, breakout),
        "breakout_m": _breakout_m(settled, push, breakout),
        "glide_in_s": _glide_in(settled, touch),
        "turn_s": push.time_s - touch.time_s if push and touch else None,
        "five_m_in_out_s": _five_in_out(settled, touch, push, pool_m),
    }
    whys = {
        "touch_s": "no touch is marked before this push",
        "push_s": "no push follows this touch",
        "breakout_s": "no breakout is marked after the push",
        "under_water_s": "needs a push and a breakout",
        "beats": "needs a push, a breakout and beats of the legs",
        "strokes_before_breath": f"needs a breakout, {settled.stroke.release}s and an air",
        "breakout_m": "needs a breakout and a pass after it",
        "glide_in_s": f"needs a touch with a last {settled.stroke.reach} before it",
        "turn_s": "needs a touch and a push",
        "five_m_in_out_s": "needs the pool's length and passes 5 m before and after the wall",
    }
    for name, value in values.items():
        if value is None:
            reasons.missing(f"{path}.{name}", whys[name])
    return Wall(**values)  # type: ignore[arg-type]


def _breakout(settled: Settled, push: Placed | None) -> Placed | None:
    if push is None:
        return None
    return next(
        (w for w in settled.walls if w.mark.event == "breakout" and w.length == push.length),
        None,
    )


def _beats(settled: Settled, push: Placed | None, breakout: Placed | None) -> int | None:
    if push is None or breakout is None or not settled.beats:
        return None
    return sum(push.order < b.order < breakout.order for b in settled.beats)


def _strokes_before_breath(settled: Settled, breakout: Placed | None) -> int | None:
    if breakout is None:
        return None
    airs = [
        b.air
        for b in settled.breaths
        if b.air.order > breakout.order and b.air.length == breakout.length
    ]
    if not airs:
        return None
    event = settled.stroke.release
    releases = [p for arm in settled.stroke.arms for p in settled.marks_of(event, arm)]
    return sum(breakout.order < p.order < airs[0].order for p in releases)


def _breakout_m(settled: Settled, push: Placed | None, breakout: Placed | None) -> float | None:
    if push is None or breakout is None:
        return None
    known = [(push.time_s, 0.0)] + [
        (p.time_s, p.mark.metres or 0.0) for p in settled.passes if p.length == push.length
    ]
    for (t0, m0), (t1, m1) in pairwise(known):
        if t0 <= breakout.time_s <= t1 and t1 > t0:
            return m0 + (m1 - m0) * (breakout.time_s - t0) / (t1 - t0)
    return None


def _glide_in(settled: Settled, touch: Placed | None) -> float | None:
    if touch is None:
        return None
    stroke = settled.stroke
    if stroke.reach == stroke.opens:
        reaches = settled.openings()
    else:
        reaches = [p for arm in stroke.arms for p in settled.marks_of(stroke.reach, arm)]
    before = [p for p in reaches if p.length == touch.length - 1 and p.order < touch.order]
    return touch.time_s - max(p.time_s for p in before) if before else None


def _five_in_out(
    settled: Settled, touch: Placed | None, push: Placed | None, pool_m: float | None
) -> float | None:
    if touch is None or push is None or pool_m is None:
        return None

    def passed(metres: float, length: int) -> float | None:
        for p in settled.passes:
            if p.length == length and abs((p.mark.metres or 0) - metres) < SAME_PLACE_M:
                return p.time_s
        return None

    into, out = passed(pool_m - 5, touch.length - 1), passed(5, push.length)
    return out - into if into is not None and out is not None else None
