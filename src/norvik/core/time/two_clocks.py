"""Two cameras on one swim: the clock of the one told by the clock of the other.

One common instant says how far the clocks are apart, a second one how much faster the one runs
than the other. Times are real seconds of each film's own clock.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from norvik.core.errors import MarkError

#: Own choice: cameras whose clocks differ by more than this share do not film the same swim, or
#: one of the slow-motion settings is wrong. Quartz clocks differ by less than 0.0002.
MOST_DRIFT = 0.02
#: Own choice: nearer to each other than this, two instants say nothing of the drift, in seconds.
LEAST_APART_S = 1.0


@dataclass(frozen=True, slots=True)
class CommonInstant:
    """One instant in both films. u_s: how well it is known, one standard deviation."""

    one_s: float
    other_s: float
    u_s: float = 0.0


@dataclass(frozen=True, slots=True)
class TwoClocks:
    """other = at.other_s + pace * (one - at.one_s). drift_u: of pace - 1; None from one instant."""

    at: CommonInstant
    pace: float = 1.0
    drift_u: float | None = None

    def other(self, one_s: float) -> float:
        """The instant on the other film's clock."""
        return self.at.other_s + self.pace * (one_s - self.at.one_s)

    def one(self, other_s: float) -> float:
        """The instant on the first film's clock."""
        return self.at.one_s + (other_s - self.at.other_s) / self.pace

    @property
    def drift(self) -> float | None:
        """Seconds that the other clock gains a second; None where one instant alone is known."""
        return None if self.drift_u is None else self.pace - 1

    @property
    def turned(self) -> TwoClocks:
        """The same with the films changed round."""
        at = CommonInstant(self.at.other_s, self.at.one_s, self.at.u_s)
        return TwoClocks(at, 1 / self.pace, self.drift_u)


def tied(first: CommonInstant, second: CommonInstant | None = None) -> TwoClocks:
    """The clocks of two films from one or two common instants.

    Raises MarkError where the two are too near to each other, or run apart so fast that they cannot
    be the same instants.
    """
    if second is None:
        return TwoClocks(first)
    if second.one_s < first.one_s:
        first, second = second, first
    one_s, other_s = second.one_s - first.one_s, second.other_s - first.other_s
    if one_s < LEAST_APART_S:
        raise MarkError(
            f"The two instants lie only {one_s:.2f} s apart: choose them at least "
            f"{LEAST_APART_S:g} s apart, or keep one."
        )
    pace = other_s / one_s
    if abs(pace - 1) > MOST_DRIFT:
        raise MarkError(
            f"Between these two instants {one_s:.2f} s pass in the first film and {other_s:.2f} s "
            "in the second. They are not the same two, or the slow-motion setting of one film is "
            "wrong."
        )
    return TwoClocks(first, pace, math.hypot(first.u_s, second.u_s) / one_s)
