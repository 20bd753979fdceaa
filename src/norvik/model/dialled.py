"""From the number on a fault's dial to how much of the fault the model swimmer shows."""

from __future__ import annotations

from collections.abc import Mapping

#: Faults whose full dial has to show more than their paths say, against those (own choice: at 0.6
#: each is to be found).
_MORE = {
    "back-head-up": 1.25, "back-knees": 1.25, "back-late-hold": 1.2, "breast-dive": 1.2,
    "entry-close": 1.15, "fly-dive": 1.2, "straight-arm": 1.15, "under-rotation": 1.2,
    "wall-steep": 1.2,
}  # fmt: skip
#: How a dial is bent: the first steps of a fault are the ones that a coach hardly sees.
_BENT = 0.4


def dialled(dials: Mapping[str, float], fault: str) -> float:
    """How much of a fault there is: 0 without it, near 1 for a full dial; 0.6 shows plainly."""
    amount = dials.get(fault, 0.0)
    return _MORE.get(fault, 1.0) * amount**_BENT if amount > 0 else 0.0
