"""Two films side by side: which to compare, and the second one's frame for each of the first."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

import numpy as np

from norvik.core.errors import ForbiddenError, MarkError
from norvik.core.strokes import STROKES
from norvik.core.time.in_step import (
    WAYS,
    CycleEvents,
    InStep,
    by_clock,
    by_event,
    by_phase,
    cycles_of_arm,
)
from norvik.model.stance import STEPS, events_of
from norvik.store import clips, reviews
from norvik.store.clips import Clip
from norvik.workflow.clip_timing import ClipTiming, time_clip


@dataclass(frozen=True, slots=True)
class Wish:
    """What is asked for. way: of WAYS. side, other_side: the arm to go by. event: for "event".

    n, m: cycle or event of each film. one_frame, other_frame: the common instant for "clock" and
    "hand"; None for the first frame.
    """

    way: str = "phase"
    side: str = ""
    other_side: str = ""
    event: str = ""
    n: int = 0
    m: int = 0
    one_frame: int | None = None
    other_frame: int | None = None


@dataclass(frozen=True)
class Pairing:
    """frames: of the other film for each frame of the first one, from its first on. cycles: of the

    arm of each film. cannot: why the way that was asked for is not possible; then it is by clock.
    """

    one: ClipTiming
    other: ClipTiming
    wish: Wish
    step: InStep
    frames: tuple[int, ...]
    cycles: tuple[tuple[CycleEvents, ...], tuple[CycleEvents, ...]]
    cannot: str = ""


@dataclass(frozen=True)
class BesideFigure:
    """stances: for each frame of the film, from its first on, which of STEPS stances of the figure

    belongs to it. cycles: of the arm that is gone by.
    """

    one: ClipTiming
    side: str
    stances: tuple[int, ...]
    cycles: tuple[CycleEvents, ...]
    cannot: str = ""


def beside_figure(connection: sqlite3.Connection, clip: Clip, side: str) -> BesideFigure:
    """A film beside the figure of how it should look, by phase.

    The figure swims the right arm's cycle; the film goes by the arm that is asked for.
    """
    timed = time_clip(connection, clip)
    arms = STROKES[clip.stroke].arms
    side = side if side in arms else arms[-1]
    cycles = tuple(cycles_of_arm(timed.timing.resolved, side))
    shares = events_of(clip.stroke)
    model = [
        CycleEvents(side, tuple((e, k + share) for e, share in shares.items()), k + 1.0)
        for k in range(len(cycles))
    ]
    frames = clip.last_frame - clip.first_frame + 1
    try:
        step = by_phase(cycles, model)
    except MarkError as error:
        return BesideFigure(timed, side, (0,) * frames, cycles, error.sentence)
    first, last = step.anchors[0], step.anchors[-1]
    times = timed.time_base.real_s[clip.first_frame : clip.last_frame + 1]
    # Outside of the marked cycles the figure waits: there is no phase to show.
    at = [step.other(min(max(float(t), first.one_s), last.one_s)) % 1.0 for t in times]
    return BesideFigure(timed, side, tuple(round(STEPS * a) % STEPS for a in at), cycles)


def proposals(connection: sqlite3.Connection, clip: Clip) -> list[Clip]:
    """Clips to hold beside this one, the best first: of the same stroke and view in the review

    before, then of the same stroke, then the others of the swimmer; the clip itself (left beside
    right) last.
    """
    if clip.swimmer_id is None:
        return [clip]
    held = reviews.id_of_clip(connection, clip.id)

    def place(other: Clip) -> tuple[bool, bool, bool, bool, bool, str]:
        return (
            other.stroke != clip.stroke,
            other.view != clip.view,
            other.filmed_on >= clip.filmed_on,
            other.facts.kit != clip.facts.kit,
            clip.facts.pace.surely_other(other.facts.pace),
            other.filmed_on,
        )

    found = [
        c
        for c in clips.newest_first(connection, clip.swimmer_id)
        if c.id != clip.id and c.watchable
    ]
    ordered = sorted(found, key=place)
    # Two cameras of one day stand after earlier days of the same view, before everything else.
    ordered.sort(key=lambda c: (place(c)[:3], reviews.id_of_clip(connection, c.id) != held))
    return [*ordered, clip]


def pair(connection: sqlite3.Connection, one: Clip, other: Clip, wish: Wish) -> Pairing:
    """Work out the other film's frame for every frame of the first.

    Raises ForbiddenError for two swimmers: the other one's leave is not on record. Raises MarkError
    for a way that is not known. What the marks do not allow is done by clock, and said.
    """
    if one.swimmer_id != other.swimmer_id:
        raise ForbiddenError(
            "Two swimmers are compared only with the leave of the other one, and none is on record."
        )
    if wish.way not in WAYS:
        raise MarkError("This way to go in step is not known. Reload the page.")
    first, second = time_clip(connection, one), time_clip(connection, other)
    arms = STROKES[one.stroke].arms
    side = wish.side if wish.side in arms else arms[-1]
    opposite = next((a for a in arms if a != side), side) if one.id == other.id else side
    other_side = wish.other_side if wish.other_side in STROKES[other.stroke].arms else opposite
    cycles = (
        tuple(cycles_of_arm(first.timing.resolved, side)),
        tuple(cycles_of_arm(second.timing.resolved, other_side)),
    )
    cannot = ""
    try:
        step = _step(first, second, wish, side, other_side, cycles)
    except MarkError as error:
        cannot = error.sentence
        step = _clock(first, second, wish)
    frames = _frames(first, second, step)
    asked = Wish(wish.way, side, other_side, wish.event, wish.n, wish.m, wish.one_frame,
                 wish.other_frame)  # fmt: skip
    return Pairing(first, second, asked, step, frames, cycles, cannot)


def _step(
    one: ClipTiming, other: ClipTiming, wish: Wish, side: str, other_side: str,
    cycles: tuple[tuple[CycleEvents, ...], tuple[CycleEvents, ...]],
) -> InStep:  # fmt: skip
    if wish.way in ("clock", "hand"):
        return _clock(one, other, wish)
    if one.clip.stroke != other.clip.stroke:
        raise MarkError(
            "Two strokes have no phases in common: they go by clock, or by hand from where you set "
            "them."
        )
    if wish.way == "phase":
        return by_phase(cycles[0], cycles[1], wish.n, wish.m)
    event = wish.event or one.timing.resolved.stroke.arm_events[0]
    return by_event(
        _instants(one, event, side), _instants(other, event, other_side), event, wish.n, wish.m
    )


def _instants(timed: ClipTiming, event: str, side: str) -> list[float]:
    resolved = timed.timing.resolved
    if event == resolved.stroke.arm_events[0]:
        # The end of the last cycle is one, too.
        ends = [c.end_s for c in cycles_of_arm(resolved, side)]
        return sorted({p.time_s for p in resolved.openings(side)} | set(ends))
    return [p.time_s for p in resolved.marks_of(event, side)]


def _clock(one: ClipTiming, other: ClipTiming, wish: Wish) -> InStep:
    def at(timed: ClipTiming, frame: int | None) -> float:
        return timed.time_base.time_of(timed.clamped(frame)) if frame is not None else timed.from_s

    return by_clock(at(one, wish.one_frame), at(other, wish.other_frame))


def _frames(one: ClipTiming, other: ClipTiming, step: InStep) -> tuple[int, ...]:
    """The nearest frame of the other film, within its clip, by the real time of both."""
    times = one.time_base.real_s[one.clip.first_frame : one.clip.last_frame + 1]
    wanted = np.array([step.other(float(t)) for t in times])
    real = other.time_base.real_s
    after = np.clip(np.searchsorted(real, wanted), 1, len(real) - 1) if len(real) > 1 else None
    if after is None:
        return (other.clip.first_frame,) * len(times)
    nearest = np.where(wanted - real[after - 1] <= real[after] - wanted, after - 1, after)
    return tuple(int(f) for f in np.clip(nearest, other.clip.first_frame, other.clip.last_frame))
