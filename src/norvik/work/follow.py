"""Follow one point of a clip: on from a place set by hand, and back to repair."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from itertools import islice

from norvik.core.errors import NotFoundError
from norvik.core.frame.movement import UNSURE
from norvik.footage.follow import Step, follow, grey_frames
from norvik.work.place import Place
from norvik.work.report import Report

#: Frames that are handed over at once.
_BATCH = 24


@dataclass(frozen=True, slots=True)
class Follow:
    """film: name of the review copy. x, y: the place on frame `begin`, pixels of the copy. end: the
    last frame to follow. before: the place set by hand before, where the way back stops. interval:
    real seconds between frames. there: frame to x, y and confidence of what was followed before.
    met_px: within which a way back has met it.
    """

    film: str
    rate: Fraction
    begin: int
    end: int
    before: int | None
    x: float
    y: float
    interval: float
    met_px: float
    there: dict[int, tuple[float, float, float]]


@dataclass(frozen=True, slots=True)
class FollowedSteps:
    """steps: in the order in which they were followed, pixels of the review copy."""

    steps: tuple[Step, ...]


def follow_point(order: Follow, place: Place, report: Report) -> FollowedSteps:
    """Goes on to `end`; then back, as long as what was followed there is unsure or disagrees, at
    most to the place set by hand before. Hands over steps as they come.
    """
    copy = place.footage.at_hand(order.film)
    if not copy.is_file():
        raise NotFoundError("The review copy of this clip is missing. Prepare the clip again.")
    begin, end, at = order.begin, order.end, (order.x, order.y)
    work = max(1, end - begin)
    made: list[Step] = []

    def keep(steps: Iterator[Step]) -> None:
        while batch := tuple(islice(steps, _BATCH)):
            report("following", abs(batch[-1].frame - begin), work)
            made.extend(batch)
            report.part(FollowedSteps(batch))

    if end > begin:
        keep(follow(grey_frames(copy, order.rate, begin, end), *at, order.interval))
    if order.before is not None and begin - order.before > 1:
        back = grey_frames(copy, order.rate, begin, order.before + 1)
        keep(_until_met(follow(back, *at, order.interval), order.there, order.met_px))
    return FollowedSteps(tuple(made))


def _until_met(
    steps: Iterator[Step], there: Mapping[int, tuple[float, float, float]], met_px: float
) -> Iterator[Step]:
    """Steps of a way back until they lie on what was surely followed before, or are lost."""
    for step in steps:
        if step.x is None or step.y is None:
            return
        if step.frame in there:
            x, y, confidence = there[step.frame]
            if confidence >= UNSURE and math.hypot(step.x - x, step.y - y) <= met_px:
                return
        yield step
