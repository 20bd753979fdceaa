"""How far reading was off, from what coaches corrected: its plus-minus, and when to stop.

Only marks that a coach looked at one by one count; what was confirmed many at once agrees with
reading by itself.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from norvik.core.reading.stroke import within

#: From so many corrections on, the club's own count beside what came along.
ENOUGH = 8
#: What came along counts as so many corrections.
_SHIPPED = 12
#: More than this share outside of what is said to hold in 95 of 100: reading is off.
_MOST_OUTSIDE = 0.30
#: An event is close from here on, seconds.
CLOSE_S = 0.08


@dataclass(frozen=True, slots=True)
class Off:
    """One correction: what the coach marked or measured minus what was read, and the plus-minus
    that was said; in seconds of an event, in its unit of a measure.
    """

    view: str
    event: str
    off: float
    u95: float


@dataclass(frozen=True, slots=True)
class Trust:
    """Of one event or measure in one view. count: corrections. bias: their median, spread: their SD
    about zero, both in seconds or in the measure's unit. close: share of an event's within 0.08 s.
    outside: share outside of the plus-minus.
    """

    count: int
    bias: float
    spread: float
    close: float
    outside: float

    @property
    def off(self) -> bool:
        """True where reading is off by more than it says: then it is not asked for this kind."""
        return self.count >= ENOUGH and self.outside > _MOST_OUTSIDE

    def joined(self, shipped: float) -> float:
        """SD with what came along, which is `shipped`."""
        if self.count < ENOUGH:
            return shipped
        total = self.count * self.spread**2 + _SHIPPED * shipped**2
        return float(np.sqrt(total / (self.count + _SHIPPED)))


def trust_of(offs: Iterable[Off]) -> dict[tuple[str, str], Trust]:
    """(view, event or measure) to how far reading was off there."""
    gathered: dict[tuple[str, str], list[Off]] = {}
    for off in offs:
        gathered.setdefault((off.view, off.event), []).append(off)
    return {kind: _trust(of) for kind, of in sorted(gathered.items())}


def _trust(of: list[Off]) -> Trust:
    offs = np.array([o.off for o in of])
    outside = np.array([abs(o.off) > o.u95 for o in of])
    return Trust(
        len(of), float(np.median(offs)), float(np.sqrt(np.mean(offs**2))),
        float(np.mean(np.abs(offs) <= CLOSE_S)), float(np.mean(outside)),
    )  # fmt: skip


def trusted(
    view: str, event: str, shipped: float, trust: Mapping[tuple[str, str], Trust]
) -> tuple[float, float] | None:
    """(half width of the 95 % interval, an event's confidence); None where it is switched off."""
    own = trust.get((view, event))
    if own is not None and own.off:
        return None
    spread = own.joined(shipped) if own is not None else shipped
    return 1.96 * spread, within(CLOSE_S, spread)
