"""Marks that a clip keeps from another stroke: placed before somebody changed what the clip is."""

from __future__ import annotations

from norvik.core.strokes import STROKES, StrokeRules
from norvik.store.marks import StoredMark
from norvik.workflow.clip_timing import ClipTiming


def hidden_marks(timed: ClipTiming) -> list[StoredMark]:
    """Marks whose event the clip's stroke does not have; they count nowhere and are kept."""
    stroke = timed.timing.resolved.stroke
    return [m for m in timed.marks if not _fits(m, stroke)]


def stroke_of_hidden(timed: ClipTiming) -> str:
    """The stroke that most of the hidden marks fit; empty when there are none."""
    hidden = hidden_marks(timed)
    if not hidden:
        return ""
    return max(STROKES, key=lambda name: sum(_fits(m, STROKES[name]) for m in hidden))


def _fits(mark: StoredMark, stroke: StrokeRules) -> bool:
    return mark.event in stroke.events_of(mark.lane)
