"""Whole lengths on a film: what a coach would read from a watch and count at the wall."""

from __future__ import annotations

from norvik.core.followup.length_log import Length
from norvik.core.time.resolve import OrderedMark, ResolvedMarks


def lengths_on_film(resolved: ResolvedMarks) -> list[Length]:
    """Every length from wall to wall that is on the film, in order.

    A length lasts from the touch before its push to the next touch, so that lengths add up to the
    swim; the first on the film from its push, or from the start signal. Times in real seconds.
    strokes: entries of single arms (cycles where both arms move together); None where no arm is
    marked in the length or an entry seems to be missing. under_s: from the feet leaving the wall
    (or the block) to the breakout. kicks: beats in that time, None where no beat is marked.
    breaths: None where none is marked on the whole film.
    """
    found: list[Length] = []
    begin: OrderedMark | None = None
    off: OrderedMark | None = None
    out: OrderedMark | None = None
    for wall in resolved.walls:
        event = wall.mark.event
        if event == "signal":
            begin, off, out = wall, None, None
        elif event in ("push", "block"):
            off, out = wall, None
            begin = begin or wall
        elif event == "breakout":
            out = wall
        elif event == "touch":
            if begin is not None and off is not None:
                found.append(_length(resolved, begin, off, out, wall))
            begin, off, out = wall, None, None
    return found


def _length(
    resolved: ResolvedMarks,
    begin: OrderedMark,
    off: OrderedMark,
    out: OrderedMark | None,
    touch: OrderedMark,
) -> Length:
    def inside(p: OrderedMark, since: OrderedMark = off, until: OrderedMark = touch) -> bool:
        return since.order < p.order < until.order

    entries = [p for p in resolved.openings() if inside(p)]
    arms = {p.mark.side for p in entries}
    whole = entries and not resolved.gap_between(off.time_s, touch.time_s)
    # One arm alone gives no count of strokes.
    counted = whole and (not resolved.stroke.alternating or len(arms) == 2)
    kicks = [p for p in resolved.beats if out is not None and inside(p, off, out)]
    return Length(
        seconds=touch.time_s - begin.time_s,
        strokes=len(entries) if counted else None,
        under_s=out.time_s - off.time_s if out is not None else None,
        kicks=len(kicks) if kicks else None,
        breaths=sum(inside(b.air) for b in resolved.breaths) if resolved.breaths else None,
    )
