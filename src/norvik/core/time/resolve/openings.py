"""Inner events between two openings of a cycle: doubles and wrong order are left out."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from itertools import pairwise

from norvik.core.strokes.definitions import event_name
from norvik.core.strokes.events import Problem
from norvik.core.time.resolve.marks import OrderedMark


def between(
    bounds: Sequence[OrderedMark | None], marks: Sequence[OrderedMark]
) -> Iterator[list[OrderedMark]]:
    """The marks between each two bounds that follow each other; None is the open end.

    Both sequences are in time order.
    """
    at = 0
    for end in bounds[1:]:
        inside: list[OrderedMark] = []
        while at < len(marks) and (end is None or marks[at].order < end.order):
            inside.append(marks[at])
            at += 1
        yield inside


def settle_inner(
    inner: Sequence[OrderedMark], order: Sequence[str], problems: list[Problem]
) -> dict[str, OrderedMark]:
    """Keep what cannot be wrong; of two marks that contradict each other neither is kept.

    inner: the marks of one slot in time order, without its opening. order: the events in the
    order in which they happen.
    """
    rank = {event: n for n, event in enumerate(order)}
    ranks = [rank[p.mark.event] for p in inner]
    if all(a < b for a, b in pairwise(ranks)):
        # Nothing is doubled and nothing out of order: nearly every cycle.
        return {p.mark.event: p for p in inner}
    counts = Counter(p.mark.event for p in inner)
    single = []
    for p in inner:
        if counts[p.mark.event] > 1:
            reason = (
                f"{event_name(p.mark.event)} is marked {counts[p.mark.event]} times in one cycle"
            )
            problems.append(Problem(p.mark, reason))
        else:
            single.append(p)
    wrong: dict[int, str] = {}
    for n, earlier in enumerate(single):
        for later in single[n + 1 :]:
            if rank[earlier.mark.event] > rank[later.mark.event]:
                first, last = event_name(earlier.mark.event), event_name(later.mark.event)
                wrong[earlier.order] = f"{first} is marked before {last}"
                wrong[later.order] = f"{last} is marked after {first}"
    problems.extend(Problem(p.mark, wrong[p.order]) for p in single if p.order in wrong)
    return {p.mark.event: p for p in single if p.order not in wrong}
