"""Mean gaps between arms and legs, as breaststroke and butterfly have them."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from norvik.core.statistics import mean
from norvik.core.strokes.definitions import event_name
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import OrderedMark, ResolvedMarks

Pairs = Callable[[ResolvedMarks, str], list[tuple[OrderedMark, OrderedMark]]]


def mean_gaps(
    resolved: ResolvedMarks,
    events: Mapping[str, tuple[str, str]],
    pairs: Pairs,
    path: str,
    reasons: Reasons,
) -> dict[str, float | None]:
    """`NAME_s` (seconds) and `NAME_pct` (of the mean cycle) of each gap; None where none is marked.

    events: gap to the event that is missed and the one that it should lie near, as the reason
    names them. pairs: the marks of a gap, the one that counts negative first. path: of the gaps in
    the timing object.
    """
    cycle_s = resolved.mean_cycle_s
    values: dict[str, float | None] = {}
    for name, (missed, near) in events.items():
        average = mean([b.time_s - a.time_s for a, b in pairs(resolved, name)])
        values[f"{name}_s"] = average
        values[f"{name}_pct"] = 100 * average / cycle_s if average is not None and cycle_s else None
        if average is None:
            why = f"no {event_name(missed)} has a {event_name(near)} near it"
            reasons.missing((f"{path}.{name}_s", f"{path}.{name}_pct"), why)
    return values
