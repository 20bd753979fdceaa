"""How much a swimmer's cycles differ, and what that makes of the mean of a few of them.

A clip holds some cycles of the thousands that the swimmer swims. Their spread says how far the
clip's mean may lie from the swimmer's own long-run value, whatever the marking.
"""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Mapping, Sequence

from norvik.core.statistics import mean, sd
from norvik.core.time.plus_minus import Own, joint_dof

#: (when, value): one cycle's, in real seconds and in the quantity's unit.
Single = tuple[float, float]


def of_values(values: Sequence[float]) -> Own | None:
    """Of the mean of values that have nothing to do with each other; None under two."""
    spread = sd(values)
    return None if spread is None else Own(spread / math.sqrt(len(values)), len(values) - 1)


def of_rhythm(
    by_arm: Mapping[str, Sequence[float]], noise: float = 0.0, u_mean: float = 0.0
) -> Own | None:
    """Of the mean cycle time: both arms swim one rhythm, whose cycles count once.

    by_arm: the cycle times of each arm, seconds. noise: what marking adds to their variance, s2.
    In the mean it all but leaves out, since one cycle ends where the next begins: there it is
    u_mean, in seconds. None while no arm has two.
    """
    several = [v for v in by_arm.values() if len(v) > 1]
    if not several:
        return None
    cycles = max(map(len, several))
    squares = math.fsum((len(v) - 1) * (sd(v) or 0.0) ** 2 for v in several)
    within = squares / sum(len(v) - 1 for v in several)
    u = math.hypot(math.sqrt(max(0.0, within - noise) / cycles), u_mean)
    # The smaller the part that is left of the spread, the less is known of it. Where next to
    # nothing is left, the spread as it is marked says more: too much, and surely.
    dof = (cycles - 1) * min(1.0, cycles * u * u / within) ** 2 if within else cycles - 1
    if dof < (cycles - 1) / 2:
        return Own(max(u, math.sqrt(within / cycles)), cycles - 1)
    return Own(u, dof)


def of_arms(by_arm: Mapping[str, Sequence[Single]]) -> Own | None:
    """Of the mean over both arms of something each arm does in its own way.

    The arms may differ from each other: that is no spread. What they have in common from cycle to
    cycle is found by pairs that lie side by side in time, and counts where it makes the mean less
    sure. None while an arm has one value.
    """
    arms = [sorted(v) for v in by_arm.values() if v]
    if not arms or any(len(a) < 2 for a in arms):
        return None
    every = sum(map(len, arms))
    parts = [
        Own((sd([v for _, v in a]) or 0.0) / math.sqrt(len(a)), len(a) - 1).times(len(a) / every)
        for a in arms
    ]
    alone = math.fsum(p.u**2 for p in parts)
    if len(arms) != 2:
        return Own(math.sqrt(alone), joint_dof(math.sqrt(alone), parts))
    pairs = _side_by_side(*arms)
    shares = [len(a) / every for a in arms]
    together = 2 * shares[0] * shares[1] * _covariance(pairs) / len(pairs) if pairs else 0.0
    u = math.sqrt(alone + max(0.0, together))
    # Pairs that move together tell as little as one of them.
    return Own(u, joint_dof(math.sqrt(alone), parts) * (alone / u**2 if u else 1.0))


def _side_by_side(one: Sequence[Single], other: Sequence[Single]) -> list[tuple[float, float]]:
    """Values of the two arms that lie side by side in time, each once. Both in time order."""
    found, times, free = [], [when for when, _ in other], 0
    for when, value in one:
        at = bisect_left(times, when, free)
        around = [n for n in (at - 1, at) if free <= n < len(other)]
        if not around:
            break
        near = min(around, key=lambda n: abs(times[n] - when))
        found.append((value, other[near][1]))
        free = near + 1
    return found


def _covariance(pairs: Sequence[tuple[float, float]]) -> float:
    a, b = mean([p[0] for p in pairs]), mean([p[1] for p in pairs])
    if a is None or b is None or len(pairs) < 2:
        return 0.0
    return math.fsum((x - a) * (y - b) for x, y in pairs) / (len(pairs) - 1)
