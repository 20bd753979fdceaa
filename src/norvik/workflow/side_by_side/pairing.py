"""The second film's frame for each frame of the first, in one of four ways."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from norvik.core.errors import MarkError
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import Side
from norvik.core.time.in_step import (
    WAYS,
    CycleEvents,
    InStep,
    by_clock,
    by_event,
    by_phase,
    by_two_clocks,
    laid_end_to_end,
)
from norvik.core.time.two_clocks import TwoClocks
from norvik.workflow.side_by_side.film import Film


@dataclass(frozen=True, slots=True)
class Wish:
    """What is asked for. way: of WAYS. side, other_side: the arm to go by. event: for "event".

    n, m: cycle or event of each film. one_frame, other_frame: the common instant for "clock" and
    "hand"; None for the first frame.
    """

    way: str = "phase"
    side: Side = ""
    other_side: Side = ""
    event: str = ""
    n: int = 0
    m: int = 0
    one_frame: int | None = None
    other_frame: int | None = None


@dataclass(frozen=True)
class Pairing:
    """Two films in step.

    frames: of the other film for each frame of the first one, from its first on. cycles: of the arm
    of each film. way: that it goes by; cannot: why the one that was asked for is not possible.
    """

    one: Film
    other: Film
    wish: Wish
    way: str
    step: InStep
    frames: tuple[int, ...]
    cycles: tuple[tuple[CycleEvents, ...], tuple[CycleEvents, ...]]
    cannot: str = ""

    def other_frame(self, frame: int) -> int:
        """The other film's frame for one of the first."""
        return self.frames[self.one.clamped(frame) - self.one.first]


def pair(one: Film, other: Film, wish: Wish, clocks: TwoClocks | None = None) -> Pairing:
    """Work out the other film's frame for every frame of the first.

    clocks: of two cameras on one swim, by which "clock" goes. Raises MarkError for a way that is
    not known. What the marks do not allow is done by clock, and said.
    """
    if wish.way not in WAYS:
        raise MarkError("This way to go in step is not known. Reload the page.")
    side = one.side(wish.side)
    arms = STROKES[other.stroke].arms
    # The other half of the same clip: its other arm.
    opposite = next((a for a in arms if a != side), side) if one.key == other.key else side
    other_side = wish.other_side if wish.other_side in arms else other.side(opposite)
    if one.key == other.key and other_side == side and wish.n == wish.m:
        other_side = opposite  # a cycle beside itself shows nothing
    asked = replace(wish, side=side, other_side=other_side)
    cycles = one.cycles(side), other.cycles(other_side)
    cannot, way = "", wish.way
    try:
        step = _step(one, other, asked, cycles, clocks)
    except MarkError as error:
        cannot, way = error.sentence, "clock"
        step = _clock(one, other, asked, clocks)
    frames = _frames(one, other, step, cycles[1])
    return Pairing(one, other, asked, way, step, frames, cycles, cannot)


def _step(
    one: Film, other: Film, wish: Wish,
    cycles: tuple[tuple[CycleEvents, ...], tuple[CycleEvents, ...]], clocks: TwoClocks | None,
) -> InStep:  # fmt: skip
    if wish.way in ("clock", "hand"):
        return _clock(one, other, wish, clocks if wish.way == "clock" else None)
    if one.stroke != other.stroke:
        raise MarkError(
            "Two strokes have no phases in common: they go by clock, or by hand from where you set "
            "them."
        )
    mine, theirs = cycles
    if other.model is not None and theirs:
        theirs = tuple(laid_end_to_end(theirs[0], max(1, len(mine))))
    if wish.way == "phase":
        return by_phase(mine, theirs, wish.n, wish.n if other.model is not None else wish.m)
    event = wish.event or one.resolved.stroke.arm_events[0]
    if other.model is not None:
        there = [t for c in theirs for e, t in c.events if e == event]
    else:
        there = other.instants(event, wish.other_side)
    return by_event(one.instants(event, wish.side), there, event, wish.n, wish.m)


def _clock(one: Film, other: Film, wish: Wish, clocks: TwoClocks | None = None) -> InStep:
    if clocks is not None:
        return by_two_clocks(clocks)

    def at(film: Film, frame: int | None) -> float:
        return film.from_s if frame is None else film.time_of(frame)

    return by_clock(at(one, wish.one_frame), at(other, wish.other_frame))


def _frames(
    one: Film, other: Film, step: InStep, theirs: tuple[CycleEvents, ...]
) -> tuple[int, ...]:
    """The nearest frame of the other film, within its clip, by the real time of both."""
    wanted = np.array([step.other(float(t)) for t in one.real_s[one.first : one.last + 1]])
    if other.model is not None and theirs:
        # One cycle of the model stands for all: it swims on and on.
        begin, long = theirs[0].begin_s, theirs[0].end_s - theirs[0].begin_s
        wanted = begin + (wanted - begin) % long
    return tuple(int(f) for f in other.frames_of(wanted))
