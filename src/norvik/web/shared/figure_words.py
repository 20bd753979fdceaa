"""The drawn figure in words, for those who cannot see it."""

from __future__ import annotations

from norvik.catalogue import load
from norvik.core.strokes import STROKES
from norvik.core.strokes.definitions import event_name
from norvik.model.stance import Stance


def figure_words(stance: Stance) -> str:
    """From where it is seen, after which event, and which fault it shows."""
    words = stance.words
    if stance.after:
        words += f", just after {event_name(stance.after)}"
    if stance.fault:
        words += f", showing: {_fault_name(stance.fault)}"
    return words


def _fault_name(fault: str) -> str:
    tables = (load(stroke) for stroke in STROKES)
    return next((t.faults[fault].name.lower() for t in tables if fault in t.faults), fault)
