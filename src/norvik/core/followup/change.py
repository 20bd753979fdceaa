"""Did it really change? One swimmer's values of two days against each other.

A difference is held against how well each clip tells the swimmer's own value, with Welch's degrees
of freedom (Welch 1947); shares of counts by Fisher's exact test. One value alone tells nothing of
how much the swimmer's values differ, so that nothing is said of it.

A page compares dozens of values, and of dozens a few differ by chance. Each is therefore tested at
a level of Holm's procedure (Holm 1979), so that of 100 pages on which nothing changed at most 5
show anything. What the coach asks about first has the larger part of these 5: what the swimmer
worked on, the stroke rate, the reach in front. "Better" and "worse" are words for what was worked
on alone.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from norvik.core.distributions import fisher_two_sided, holm, shares_apart, t_factor, t_two_sided
from norvik.core.judging.coaching_model import Band
from norvik.core.statistics import mean, sd
from norvik.core.strokes.names import Side
from norvik.core.time.plus_minus import Own, joint

#: What two clips say of one quantity, see Comparison.
ChangeVerdict = Literal["better", "worse", "changed", "same", "unknown"]
#: In the order in which they are listed.
VERDICTS: tuple[ChangeVerdict, ...] = ("better", "worse", "changed", "same", "unknown")
#: Own choice: of 100 pages without a change so many may show one.
FALSE_PAGES = 0.05
#: Own choice: the parts of that; those that a page does not have fall to the others.
PARTS = {"worked on": 0.4, "rate": 0.3, "reach": 0.15, "rest": 0.15}
#: How long the hands stay in front, by stroke: what a coach looks for next after the rate.
_REACH = ("entry-share", "fly-reach-share", "t1")


@dataclass(frozen=True, slots=True)
class ComparableValue:
    """One value of a clip.

    own: how well the clip tells the swimmer's value, but for the marker's habit, which both clips
    share; None for one value alone, or a count. hits: of a share of counts, (how many, of how
    many). singles: the values that it is the mean of. swimmer: `own` with the habit, as it is
    shown beside the value.
    """

    what: str
    side: Side
    name: str
    unit: str
    digits: int
    value: float
    own: Own | None = None
    hits: tuple[int, int] | None = None
    singles: tuple[float, ...] = ()
    band: Band | None = None
    swimmer: Own | None = None


@dataclass(frozen=True, slots=True)
class Comparison:
    """What two clips say of one quantity.

    verdict: "better", "worse", "changed" (really; not worked on, or no limit says which way),
    "same" (nothing that these two clips can tell) or "unknown" (one value alone). least: the
    smallest change that these two clips could have shown; None where there is none. effect: the
    difference in standard deviations of single values (Hedges 1981, J Educ Stat 6:107-128); None
    where one value stands alone. interval: of the difference, 95 of 100.
    """

    before: ComparableValue
    after: ComparableValue
    difference: float
    least: float | None
    verdict: ChangeVerdict
    worked_on: bool = False
    effect: float | None = None
    interval: tuple[float, float] | None = None


def compare(
    before: Iterable[ComparableValue],
    after: Sequence[ComparableValue],
    worked_on: Collection[str] = (),
) -> list[Comparison]:
    """Every value that both clips have, real changes first.

    worked_on: ids of the values that show what the swimmer worked on in between.
    """
    later = {(k.what, k.side): k for k in after}
    pairs = [(k, later[k.what, k.side]) for k in before if (k.what, k.side) in later]
    tests = [_test_of(a, b) for a, b in pairs]
    known = [n for n, test in enumerate(tests) if test is not None]
    levels = dict(
        zip(
            known,
            holm(
                [t.p for t in tests if t is not None],
                _weights([pairs[n][1].what for n in known], worked_on),
                FALSE_PAGES,
            ),
            strict=True,
        )
    )
    found = [
        _comparison(a, b, test, levels.get(n, 0.0), b.what in worked_on)
        for n, ((a, b), test) in enumerate(zip(pairs, tests, strict=True))
    ]
    return sorted(found, key=lambda c: (not c.worked_on, VERDICTS.index(c.verdict)))


def compare_value(before: ComparableValue, after: ComparableValue) -> Comparison:
    """The change of the one value that was asked about; the band is the later clip's."""
    return _comparison(before, after, _test_of(before, after), FALSE_PAGES, True)


def _weights(whats: Sequence[str], worked_on: Collection[str]) -> list[float]:
    """How much of the chance of a false page each line has."""
    kinds = [
        "worked on" if w in worked_on
        else "rate" if w == "rate"
        else "reach" if w in _REACH
        else "rest"
        for w in whats
    ]  # fmt: skip
    return [PARTS[kind] / kinds.count(kind) for kind in kinds]


@dataclass(frozen=True, slots=True)
class _Test:
    """p: how likely a difference this large is where nothing changed. joint: its uncertainty."""

    p: float
    joint: Own | None = None


def _test_of(before: ComparableValue, after: ComparableValue) -> _Test | None:
    """None where one value alone does not tell."""
    if before.hits is not None and after.hits is not None:
        return _Test(fisher_two_sided(*before.hits, *after.hits))
    if before.own is None or after.own is None:
        return None
    both = joint([before.own, after.own])
    assert both is not None
    difference = abs(after.value - before.value)
    if both.u == 0:
        return _Test(1.0 if difference == 0 else 0.0, both)
    return _Test(t_two_sided(difference / both.u, both.dof), both)


def _comparison(
    before: ComparableValue,
    after: ComparableValue,
    test: _Test | None,
    level: float,
    worked_on: bool,
) -> Comparison:
    difference = after.value - before.value
    found = Comparison(
        before, after, difference, None, "unknown", worked_on, _effect(before, after)
    )
    if test is None:
        return found
    if test.joint is None:
        assert before.hits is not None
        assert after.hits is not None
        whole = _whole(after)
        low, high = shares_apart(*before.hits, *after.hits)
        found = replace(
            found,
            least=_least_share(before.hits, after.hits, level, whole),
            interval=(whole * low, whole * high),
        )
    else:
        half = t_factor(round(test.joint.dof, 3)) * test.joint.u
        # What is not seen in the digits that a value is written with is no change.
        least = max(t_factor(round(test.joint.dof, 3), level) * test.joint.u, 10.0**-after.digits)
        found = replace(found, least=least, interval=(difference - half, difference + half))
    if test.p > level or (test.joint and found.least and abs(difference) < found.least):
        return replace(found, verdict="same")
    verdict: ChangeVerdict = "changed"
    was, is_now = _off(before.value, after.band), _off(after.value, after.band)
    if worked_on and was is not None and is_now is not None and was != is_now:
        verdict = "better" if is_now < was else "worse"
    return replace(found, verdict=verdict)


def _whole(value: ComparableValue) -> float:
    """What all of the counts would be in the value's unit: 100 for percent, 1 for a share."""
    return 100.0 if value.unit.startswith("%") else 1.0


def _least_share(
    before: tuple[int, int], after: tuple[int, int], level: float, whole: float
) -> float | None:
    """The smallest difference to the share before that so many counts could have shown."""
    was, n = before[0] / before[1], after[1]
    telling = [abs(k / n - was) for k in range(n + 1) if fisher_two_sided(*before, k, n) <= level]
    return whole * min(telling) if telling else None


def _effect(before: ComparableValue, after: ComparableValue) -> float | None:
    one, other = sd(before.singles), sd(after.singles)
    a, b = mean(before.singles), mean(after.singles)
    if one is None or other is None or a is None or b is None:
        return None
    dof = len(before.singles) + len(after.singles) - 2
    pooled = math.sqrt(
        ((len(before.singles) - 1) * one**2 + (len(after.singles) - 1) * other**2) / dof
    )
    return (b - a) / pooled * (1 - 3 / (4 * dof - 1)) if pooled else None


def _off(value: float, band: Band | None) -> float | None:
    """How far a value lies outside the good range; None without any limit.

    On a side where the band has no good end: how far beyond its fault limit.
    """
    if band is None:
        return None
    low = band.fault_below if band.good_from is None else band.good_from
    high = band.fault_above if band.good_to is None else band.good_to
    if low is None and high is None:
        return None
    return max(
        low - value if low is not None else 0.0, value - high if high is not None else 0.0, 0.0
    )
