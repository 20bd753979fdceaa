"""How well two people, or one person twice, agree: on instants, on measures, on what they tick."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import NormalDist

from norvik.core.distributions import f_above, t_factor
from norvik.core.statistics import mean, sd

#: 95 of 100.
_Z = NormalDist().inv_cdf(0.975)


@dataclass(frozen=True, slots=True)
class Limits:
    """Limits of agreement of n differences, in their unit.

    bias: mean difference, second minus first. low, high: between them 95 of 100 differences are
    expected. Each with its 95 % interval. None where two differences are too few for it.
    Source: Bland and Altman 1986, Lancet 327:307-310; 1999, Stat Methods Med Res 8:135-160.
    """

    n: int
    bias: float
    sd: float
    low: float
    high: float
    bias_interval: tuple[float, float]
    low_interval: tuple[float, float]
    high_interval: tuple[float, float]


def limits_of_agreement(differences: Sequence[float]) -> Limits | None:
    """None under three differences."""
    middle, spread, n = mean(differences), sd(differences), len(differences)
    if middle is None or spread is None or n < 3:
        return None
    t = t_factor(n - 1)
    of_bias = t * spread / math.sqrt(n)
    of_limit = t * spread * math.sqrt(1 / n + _Z**2 / (2 * (n - 1)))
    low, high = middle - _Z * spread, middle + _Z * spread
    return Limits(
        n, middle, spread, low, high,
        (middle - of_bias, middle + of_bias),
        (low - of_limit, low + of_limit), (high - of_limit, high + of_limit),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Reliability:
    """Intraclass correlation, two-way random, absolute agreement, of one person's values: ICC(2,1).

    interval: 95 %. Source: Shrout and Fleiss 1979, Psychol Bull 86:420-428; interval by McGraw and
    Wong 1996, Psychol Methods 1:30-46.
    """

    n: int
    value: float
    interval: tuple[float, float]


def icc_2_1(values: Sequence[Sequence[float]]) -> Reliability | None:
    """values: a row for each thing measured, a column for each person; at least 3 rows, 2 columns.

    None for fewer, or where all values are one.
    """
    n = len(values)
    k = len(values[0]) if values else 0
    if n < 3 or k < 2:
        return None
    every = math.fsum(x for row in values for x in row) / (n * k)
    rows = [math.fsum(row) / k for row in values]
    columns = [math.fsum(row[j] for row in values) / n for j in range(k)]
    total = math.fsum((x - every) ** 2 for row in values for x in row)
    between = k * math.fsum((r - every) ** 2 for r in rows)
    people = n * math.fsum((c - every) ** 2 for c in columns)
    bms, jms = between / (n - 1), people / (k - 1)
    ems = max(0.0, total - between - people) / ((n - 1) * (k - 1))
    below = bms + (k - 1) * ems + k * (jms - ems) / n
    if below <= 0:
        return None
    icc = (bms - ems) / below
    return Reliability(n, icc, _interval(icc, n, k, bms, jms, ems))


def _interval(
    icc: float, n: int, k: int, bms: float, jms: float, ems: float
) -> tuple[float, float]:
    if ems == 0 and jms == 0:
        return 1.0, 1.0
    a = k * icc / (n * (1 - icc)) if icc < 1 else math.inf
    if math.isinf(a):
        return 1.0, 1.0
    b = 1 + k * icc * (n - 1) / (n * (1 - icc))
    dof = (a * jms + b * ems) ** 2 / (
        (a * jms) ** 2 / (k - 1) + (b * ems) ** 2 / ((n - 1) * (k - 1))
    )
    upper, lower = _f_factor(n - 1, dof), _f_factor(dof, n - 1)
    low = n * (bms - upper * ems) / (upper * (k * jms + (k * n - k - n) * ems) + n * bms)
    high = n * (lower * bms - ems) / (k * jms + (k * n - k - n) * ems + n * lower * bms)
    return low, high


def _f_factor(dof1: float, dof2: float) -> float:
    """The F beyond which 2.5 of 100 lie."""
    low, high = 0.0, 1.0
    while f_above(high, dof1, dof2) > 0.025:
        low, high = high, 2 * high
    for _ in range(100):
        middle = (low + high) / 2
        low, high = (middle, high) if f_above(middle, dof1, dof2) > 0.025 else (low, middle)
    return (low + high) / 2


@dataclass(frozen=True, slots=True)
class Kappa:
    """Cohen's kappa: how far beyond chance two people choose alike. agreed: share, 0 to 1.

    value: None where both chose one and the same for everything, so that there is no chance to
    beat. interval: 95 %. Source: Cohen 1960, Educ Psychol Meas 20:37-46; standard error by Fleiss,
    Cohen and Everitt 1969, Psychol Bull 72:323-327.
    """

    n: int
    agreed: float
    value: float | None
    interval: tuple[float, float] | None


def kappa(pairs: Sequence[tuple[str, str]]) -> Kappa | None:
    """pairs: what each of two people chose of the same thing. None without any."""
    n = len(pairs)
    if not n:
        return None
    words = sorted({w for pair in pairs for w in pair})
    share = {(a, b): sum(p == (a, b) for p in pairs) / n for a in words for b in words}
    first = {a: math.fsum(share[a, b] for b in words) for a in words}
    second = {b: math.fsum(share[a, b] for a in words) for b in words}
    agreed = math.fsum(share[w, w] for w in words)
    chance = math.fsum(first[w] * second[w] for w in words)
    if chance >= 1 - 1e-12:
        return Kappa(n, agreed, None, None)
    value = (agreed - chance) / (1 - chance)
    same = math.fsum(
        share[w, w] * ((1 - chance) - (first[w] + second[w]) * (1 - agreed)) ** 2 for w in words
    )
    other = (1 - agreed) ** 2 * math.fsum(
        share[a, b] * (second[a] + first[b]) ** 2 for a in words for b in words if a != b
    )
    rest = (agreed * chance - 2 * chance + agreed) ** 2
    se = math.sqrt(max(0.0, (same + other - rest) / (n * (1 - chance) ** 4)))
    return Kappa(n, agreed, value, (max(-1.0, value - _Z * se), min(1.0, value + _Z * se)))
