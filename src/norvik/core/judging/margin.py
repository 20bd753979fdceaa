"""How far beyond a limit a value has to lie before it is called beyond it.

The limit is one for the swimmer, not for the six cycles of a clip. So the value counts with all
that keeps it from the swimmer's own: marking, habit, slow-motion factor, and how much cycles
differ. One, two or three cycles do not tell how much they differ: there what is usual for such a
quantity fills up what is missing to `ENOUGH_DOF`, as a pooled variance.
"""

from __future__ import annotations

import math

from norvik.core.distributions import t_factor
from norvik.core.time.plus_minus import Own, joint_dof
from norvik.core.time.quantities import Reading

#: Own choice: a swimmer whose own value lies at a limit is called beyond it so seldom, of 1.
WRONG_AT_LIMIT = 0.03
#: Own choice: with so many values beyond the first, a clip tells by itself how much they differ.
ENOUGH_DOF = 5
#: Own choice: how much single values of one swimmer usually differ, as a standard deviation, by the
#: unit of the quantity; and of quantities that are not like others of their unit.
_USUAL_BY_UNIT = {
    "s": 0.03, "%": 2.0, "°": 4.0, "m": 0.10, "× usual": 0.15, "kicks": 0.4, "strokes": 0.4,
    "": 0.4, "arm lengths": 0.05, "% of the arm": 3.0, "trunk depths": 0.08, "shanks": 0.05,
    "% of the trunk": 4.0, "% of the length": 1.0, "half shoulders": 0.10, "forearms": 0.10,
    "hip widths": 0.10, "reaches": 0.05,
}  # fmt: skip
_USUAL = {
    "exhale-share": 6.0, "turn-time": 0.06, "glide-in": 0.10, "under-water": 0.25,
    "start-under-water": 0.25, "body-line": 1.0, "stretch-line": 1.0, "high-elbow": 2.0,
    "breakout-climb": 1.5, "knee-bend": 3.0,
    # Of one stretch the speed's part alone is not known: 2 % of it.
    "hold-distance": 0.02,
}  # fmt: skip


def usual_of(what: str, unit: str) -> float | None:
    """How much single values of one swimmer usually differ: standard deviation, in the unit."""
    return _USUAL.get(what, _USUAL_BY_UNIT.get(unit))


def filled_up(own: Own | None, usual: float, n: int) -> Own:
    """What is known of a mean of n values, filled up to `ENOUGH_DOF` with what is usual."""
    known, dof = (own.dof * own.u**2, own.dof) if own else (0.0, 0.0)
    missing, values = max(0.0, ENOUGH_DOF - dof), max(dof + 1, n)
    whole = missing + dof
    return Own(math.sqrt((missing * usual**2 / values + known) / whole), whole)


def margin_of(what: str, unit: str, reading: Reading) -> float:
    """Half of the range, in the value's unit, within which the swimmer's own value may lie.

    what: id of the quantity or measure. 0 for a share of counts and where nothing is known.
    """
    if reading.u is None or reading.hits is not None:
        return 0.0
    certainty, usual = reading.certainty, usual_of(what, unit)
    if certainty is None:
        return t_factor(math.inf, 2 * WRONG_AT_LIMIT) * reading.u
    own = certainty.own or Own(0.0, math.inf)
    if usual is not None:
        own = filled_up(certainty.own, usual, len(reading.occurrences))
    # How well marking or clicking does is known; how much the cycles differ is guessed from them.
    alone = own if own.u > certainty.spread else Own(certainty.spread, math.inf)
    whole = math.hypot(alone.u, certainty.habit, certainty.scale)
    if whole == 0:
        return 0.0
    return t_factor(round(joint_dof(whole, [alone]), 2), 2 * WRONG_AT_LIMIT) * whole
