"""Speed, distance per cycle, stroke index: where passes of known distances are marked."""

from __future__ import annotations

from norvik.core.time.quantities.quantity import Quantity, of_path
from norvik.core.time.resolve import OrderedMark
from norvik.core.time.speed import pass_ends
from norvik.core.time.timing import Timing


def _passes(timing: Timing) -> list[OrderedMark]:
    return [p for ends in pass_ends(timing.resolved) for p in ends]


SPEED = (
    Quantity(
        "speed", "Speed", "m/s", 2, of_path("speed.m_per_s", _passes),
        "Metres over seconds from the first to the last pass of each length.",
        "speed", path="speed.m_per_s",
    ),
    Quantity(
        "distance-per-cycle", "Distance per cycle (DPC)", "m", 2,
        of_path("speed.distance_per_cycle_m", _passes),
        "Speed times the mean cycle time (Craig and Pendergast 1979).",
        "speed", path="speed.distance_per_cycle_m",
    ),
    Quantity(
        "stroke-index", "Stroke index", "m²/s", 2, of_path("speed.stroke_index", _passes),
        "Speed times distance per cycle (Costill et al. 1985).",
        "speed", path="speed.stroke_index",
    ),
)  # fmt: skip
