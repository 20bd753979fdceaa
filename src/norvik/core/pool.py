"""Pools: everything is counted in whole lengths, so that sums are exact whatever a length is."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from norvik.core.errors import PlanError

#: Shortest and longest pool, in its own unit.
SHORTEST, LONGEST = 10, 100
#: International yard, exactly (agreement of 1959; recalled, not looked up).
METRES_A_YARD = Fraction(9144, 10000)


@dataclass(frozen=True, slots=True)
class Pool:
    """length: of one length in `unit`, "m" or "yd". Raises PlanError outside 10 to 100."""

    length: Fraction
    unit: str = "m"

    def __post_init__(self) -> None:
        if self.unit not in ("m", "yd"):
            raise PlanError("A pool is measured in metres (m) or yards (yd).")
        if not SHORTEST <= self.length <= LONGEST:
            raise PlanError(f"A pool length lies between {SHORTEST} and {LONGEST} {self.unit}.")

    @property
    def metres(self) -> Fraction:
        return _metres(self)

    def lengths_near(self, metres: float) -> int:
        """Whole lengths nearest to a distance in metres, at least one."""
        return _near(self, metres)

    def exactly(self, lengths: int) -> str:
        """A distance that adds up: "100", "33 1/3" where decimals cannot say it."""
        whole = self.length * lengths
        if whole.denominator == 1 or 100 % whole.denominator == 0:
            return f"{float(whole):g}"
        rest = whole - int(whole)
        return f"{int(whole)} {rest.numerator}/{rest.denominator}"

    def says(self, lengths: int) -> str:
        """A distance in the pool's unit: "100", "133⅓"-like values to one decimal."""
        whole = self.length * lengths
        return str(whole) if whole.denominator == 1 else f"{float(whole):.1f}"


# A plan asks the same of the same pool for every set: fractions are exact, and slow.
@lru_cache(maxsize=64)
def _metres(pool: Pool) -> Fraction:
    return pool.length * (METRES_A_YARD if pool.unit == "yd" else 1)


@lru_cache(maxsize=1024)
def _near(pool: Pool, metres: float) -> int:
    return max(1, round(Fraction(metres) / _metres(pool)))
