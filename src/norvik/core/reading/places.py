"""What was learnt of where a coach clicks, against where a network sees the joints."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Places:
    """Of one measure of a stroke in a view. places: of each point, how far along the way of
    swimming and how far up it lies from the middle of its joints, in trunk lengths. u: standard
    uncertainty of the measure's value, in its unit.
    """

    places: tuple[tuple[float, float], ...]
    u: float
