"""How the two arms go together: index of coordination, rhythm from hand to hand."""

from __future__ import annotations

import math

from norvik.core.statistics import sd
from norvik.core.strokes.names import DIRECTIONS
from norvik.core.time.certainty.gradients import Gradients, Interval, Term, mean_s, seconds_of
from norvik.core.time.coordination import hand_overs, hand_steps
from norvik.core.time.own_spread import Single, of_arms
from norvik.core.time.plus_minus import Own


def terms(g: Gradients) -> dict[str, Term]:
    if g.timing.coordination is None:
        return {}
    found: dict[str, Term] = {}
    overs = {a: hand_overs(g.resolved, a, b) for a, b in DIRECTIONS}
    one, other = (g.mean((h.press, h.release) for h in overs[a]) for a in ("left", "right"))
    index = g.timing.coordination.index_pct
    if one is not None and other is not None and index is not None and g.cycle_s:
        gradient = g.of_cycle_pct((one + other) / 2, index)
        by_arm: dict[str, list[Single]] = {
            a: [(h.press.time_s, 100 * h.seconds / g.cycle_s) for h in found_here]
            for a, found_here in overs.items()
        }
        if gradient is not None:
            found["coordination.index_pct"] = Term(gradient, of_arms(by_arm))
    steps = hand_steps(g.resolved)
    a, b = g.mean(steps["left"]), g.mean(steps["right"])
    if g.timing.rhythm_pct is not None and a is not None and b is not None:
        a_s, b_s = mean_s(steps["left"]), mean_s(steps["right"])
        gradient = 200 * (b_s * a - a_s * b) / (a_s + b_s) ** 2
        found["rhythm_pct"] = Term(gradient, _own_rhythm(steps["left"], steps["right"]))
    return found


def _own_rhythm(left: list[Interval], right: list[Interval]) -> Own | None:
    """Of the difference between the two steps, from pairs of one step and the next.

    The hand that comes late in one pair opens the next one early: neighbours share an entry, which
    makes the mean less sure than pairs alone would, by 4 to 3 in the variance where entries wander
    each by themselves.
    """
    after = {a.order: (a, b) for a, b in right}
    uneven = [
        100 * (seconds_of(step) - seconds_of(then)) / (seconds_of(step) + seconds_of(then))
        for step in left
        if (then := after.get(step[1].order)) is not None
        and seconds_of(step) + seconds_of(then) > 0
    ]
    spread = sd(uneven)
    if spread is None:
        return None
    return Own(spread * math.sqrt(4 / 3 / len(uneven)), len(uneven) - 1)
