"""Measures that the film proposes, as the page shows them before a coach has confirmed them."""

from __future__ import annotations

from norvik.core.frame.references import References
from norvik.painting.overlay import fragment
from norvik.store.clips import Clip
from norvik.store.drawings import StoredDrawing
from norvik.workflow.clip_drawings import Painted, paint, picture_size
from norvik.workflow.read_measures import ProposedMeasure


def for_script(clip: Clip, one: ProposedMeasure) -> dict[str, object]:
    """One of them, as the script of the page works with it."""
    side = f", {one.side}" if one.side else ""
    return {
        "key": one.key,
        "measure": one.measure.id,
        "side": one.side,
        "frame": one.frame,
        "points": one.points,
        "says": f"{one.measure.name}{side}: {value_words(one)}",
        "svg": _drawn(clip, one),
    }


def value_words(one: ProposedMeasure) -> str:
    """A value with its plus-minus: "4 ± 8 %"."""
    value = f"{one.value:.{one.measure.digits}f}".replace("-", "−")
    return f"{value} ± {one.u95:.{one.measure.digits}f} {one.measure.unit}".replace(" °", "°")


def _drawn(clip: Clip, one: ProposedMeasure) -> str:
    """Like a measure that was taken; number 0 says that it was not."""
    stored = StoredDrawing(
        0, "measure", one.measure.id, one.side, one.frame, one.frame, one.frame, one.points
    )
    shapes = tuple(paint(stored, clip, References()))
    painted = Painted(stored, shapes, value_words(one))
    return fragment(painted, picture_size(clip.recording)[0])
