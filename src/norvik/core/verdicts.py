"""Holding a value with its uncertainty against a band."""

from __future__ import annotations

import math

from norvik.core.tables import Band


def verdict_of(band: Band, value: float, u: float | None) -> tuple[str, float]:
    """("good", "watch", "fault" or "unsure", how far beyond the nearest fault limit).

    u: standard uncertainty in the value's unit; None where it is not known, and then the value is
    taken as it is. A fault limit within 2u of the value makes it "unsure". Beyond is negative on
    the near side of the limit, and -inf for a band without one.
    """
    margin = 2 * (u or 0.0)
    below, above = band.fault_below, band.fault_above
    beyond = max(
        below - value if below is not None else -math.inf,
        value - above if above is not None else -math.inf,
    )
    if beyond > margin:
        return "fault", beyond
    if beyond > -margin and margin > 0:
        return "unsure", beyond
    low_enough = band.good_to is None or value + margin <= band.good_to
    high_enough = band.good_from is None or value - margin >= band.good_from
    return ("good" if low_enough and high_enough else "watch"), beyond
