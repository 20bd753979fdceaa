"""Quantiles and probabilities that comparing and judging need: Student's t, F, counts."""

from __future__ import annotations

import math
from functools import lru_cache
from statistics import NormalDist

#: From so many degrees of freedom on, Student's t is the normal distribution.
_MANY = 1e6
#: From here on the expansion is exact to more digits than anything is known.
_SMOOTH = 200.0


def t_two_sided(t: float, dof: float) -> float:
    """Probability that Student's t with dof (above 0) degrees of freedom is farther from 0."""
    if dof >= _MANY:
        return 2 * (1 - NormalDist().cdf(abs(t)))
    if math.isinf(t):
        return 0.0
    return incomplete_beta(dof / 2, 0.5, dof / (dof + t * t))


@lru_cache(maxsize=4096)
def t_factor(dof: float, outside: float = 0.05) -> float:
    """How many standard uncertainties cover all but a share `outside` (0 to 1), both sides taken.

    dof: degrees of freedom, above 0. Worked: 12.71 with 1, 2.78 with 4, 1.96 with very many.
    """
    z = NormalDist().inv_cdf(1 - outside / 2)
    if dof >= _MANY:
        return z
    # Cornish and Fisher's expansion (Abramowitz and Stegun 1964, 26.7.5), then Newton's steps.
    t = z + (z**3 + z) / (4 * dof) + (5 * z**5 + 16 * z**3 + 3 * z) / (96 * dof**2)
    t += (3 * z**7 + 19 * z**5 + 17 * z**3 - 15 * z) / (384 * dof**3)
    if dof > _SMOOTH:
        return t
    front = math.exp(math.lgamma((dof + 1) / 2) - math.lgamma(dof / 2)) / math.sqrt(dof * math.pi)
    for _ in range(60):
        density = 2 * front * (1 + t * t / dof) ** (-(dof + 1) / 2)
        step = (t_two_sided(t, dof) - outside) / density
        # Far out the tail is so flat that a whole step would leave it.
        t = max(t / 2, min(2 * t, t + step))
        if abs(step) < 1e-10 * t:
            break
    return t


def f_above(f: float, dof1: float, dof2: float) -> float:
    """Probability that F with these degrees of freedom is larger than f (0 or more)."""
    return incomplete_beta(dof2 / 2, dof1 / 2, dof2 / (dof2 + dof1 * f))


def incomplete_beta(a: float, b: float, x: float) -> float:
    """Regularised incomplete beta function, by its continued fraction (DLMF 8.17.22).

    a, b: above 0. x: 0 to 1.
    """
    if x <= 0:
        return 0.0
    if x >= 1:
        return 1.0
    if x > (a + 1) / (a + b + 2):
        return 1 - incomplete_beta(b, a, 1 - x)
    log_front = (
        math.lgamma(a + b) - math.lgamma(a) - math.lgamma(b)
        + a * math.log(x) + b * math.log1p(-x)
    )  # fmt: skip
    return math.exp(log_front) / a * _beta_fraction(a, b, x)


def _beta_fraction(a: float, b: float, x: float) -> float:
    """Evaluated from the front, by Lentz's way in Thompson and Barnett's form."""
    tiny = 1e-300
    c, d = 1.0, 1 - (a + b) * x / (a + 1)
    d = 1 / (d if abs(d) > tiny else tiny)
    found = d
    for m in range(1, 500):
        for term in (
            m * (b - m) * x / ((a + 2 * m - 1) * (a + 2 * m)),
            -(a + m) * (a + b + m) * x / ((a + 2 * m) * (a + 2 * m + 1)),
        ):
            d = 1 + term * d
            d = 1 / (d if abs(d) > tiny else tiny)
            c = 1 + term / c
            c = c if abs(c) > tiny else tiny
            found *= c * d
        if abs(c * d - 1) < 1e-15:
            break
    return found


def fisher_two_sided(hits_a: int, n_a: int, hits_b: int, n_b: int) -> float:
    """Fisher's exact test: how likely are shares at least this far apart if both are the same?

    hits of n each, 0 <= hits <= n, n above 0. All tables that are no likelier count.
    Source: Fisher 1922, J R Stat Soc 85:87-94; the two-sided form is common practice.
    """
    hits = hits_a + hits_b

    def next_to(k: int) -> float:
        """How much likelier k + 1 of the first is than k."""
        return (n_a - k) * (hits - k) / ((k + 1) * (n_b - hits + k + 1))

    least, most = max(0, hits - n_b), min(hits, n_a)
    # Every table against this one, whose probability leaves out of the share.
    every, up, down = [1.0], 1.0, 1.0
    for k in range(hits_a, most):
        up *= next_to(k)
        every.append(up)
    for k in range(hits_a - 1, least - 1, -1):
        down /= next_to(k)
        every.append(down)
    return min(1.0, math.fsum(p for p in every if p <= 1 + 1e-9) / math.fsum(every))


def wilson(hits: int, n: int, outside: float = 0.05) -> tuple[float, float]:
    """Interval of a share, as shares from 0 to 1; n above 0.

    Source: Wilson 1927, J Am Stat Assoc 22:209-212.
    """
    z = NormalDist().inv_cdf(1 - outside / 2)
    share, z2 = hits / n, z * z
    middle = (share + z2 / (2 * n)) / (1 + z2 / n)
    half = z / (1 + z2 / n) * math.sqrt(share * (1 - share) / n + z2 / (4 * n * n))
    return max(0.0, middle - half), min(1.0, middle + half)


def shares_apart(
    hits_a: int, n_a: int, hits_b: int, n_b: int, outside: float = 0.05
) -> tuple[float, float]:
    """Interval of the difference b - a of two shares, -1 to 1.

    Source: Newcombe 1998, Stat Med 17:873-890, method 10.
    """
    a, b = hits_a / n_a, hits_b / n_b
    a_low, a_high = wilson(hits_a, n_a, outside)
    b_low, b_high = wilson(hits_b, n_b, outside)
    return (
        b - a - math.hypot(b - b_low, a_high - a),
        b - a + math.hypot(b_high - b, a - a_low),
    )


def holm(p: list[float], weights: list[float], outside: float = 0.05) -> list[float]:
    """The level at which each of several probabilities is tested.

    So that in all at most a share `outside` of pages shows anything where nothing is. A probability
    at or under its level counts. weights: above 0; a larger one gives a line a larger part of what
    may be wrong. Source: Holm 1979, Scand J Stat 6:65-70, sections 2 and 4 (weights).
    """
    levels = [0.0] * len(p)
    left, stopped = math.fsum(weights), False
    for n in sorted(range(len(p)), key=lambda n: p[n] / weights[n]):
        levels[n] = outside * weights[n] / left
        if not stopped and p[n] <= levels[n]:
            left -= weights[n]
        else:
            # From the first that fails on, nothing counts: its level stays for those behind it.
            stopped = True
    return levels
