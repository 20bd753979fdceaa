"""Mean and spread of small series; an empty series has neither."""

from __future__ import annotations

import math
from collections.abc import Sequence


def mean(values: Sequence[float]) -> float | None:
    return math.fsum(values) / len(values) if values else None


def sd(values: Sequence[float]) -> float | None:
    """Sample standard deviation (n-1); None under two values."""
    if len(values) < 2:
        return None
    middle = math.fsum(values) / len(values)
    return math.sqrt(math.fsum((v - middle) ** 2 for v in values) / (len(values) - 1))


def median(values: Sequence[float]) -> float | None:
    if not values:
        return None
    ordered = sorted(values)
    half = len(ordered) // 2
    if len(ordered) % 2:
        return ordered[half]
    return (ordered[half - 1] + ordered[half]) / 2
