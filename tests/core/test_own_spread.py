"""How much a swimmer's cycles differ, worked by hand and against NumPy's variances."""

from __future__ import annotations

import math

import numpy as np
import pytest

from norvik.core.time.own_spread import of_arms, of_rhythm, of_values
from norvik.core.time.plus_minus import Own


def at(*values: float, begin: float = 0.0, apart: float = 1.0) -> list[tuple[float, float]]:
    """One arm's values, so many seconds apart."""
    return [(begin + apart * n, v) for n, v in enumerate(values)]


def close(found: Own | None, u: float, dof: float) -> None:
    assert found is not None
    assert found.u == pytest.approx(u)
    assert found.dof == pytest.approx(dof)


# ---- values that have nothing to do with each other ----


def test_values_spread_as_their_mean_does() -> None:
    values = [1.0, 2.0, 4.0, 7.0]
    close(of_values(values), np.std(values, ddof=1) / 2, 3)
    assert of_values([1.0]) is None
    assert of_values([]) is None


# ---- one rhythm of both arms ----


def test_a_rhythm_counts_its_cycles_once() -> None:
    """Both arms swim it: pooled within the arms, over the cycles of the arm that has more."""
    left, right = [1.0, 1.1, 1.2], [1.0, 1.2]
    within = (2 * np.var(left, ddof=1) + 1 * np.var(right, ddof=1)) / 3
    close(of_rhythm({"left": left, "right": right}), math.sqrt(within / 3), 2)
    # Whichever arm comes first, and however far apart the arms are.
    moved = [v + 5 for v in right]
    close(of_rhythm({"right": moved, "left": left}), math.sqrt(within / 3), 2)


def test_an_arm_with_one_cycle_tells_no_spread() -> None:
    close(of_rhythm({"left": [1.0, 1.2], "right": [9.0]}), 0.1, 1)
    assert of_rhythm({"left": [1.0], "right": [1.2]}) is None
    assert of_rhythm({}) is None


def test_what_marking_adds_is_taken_out_and_its_own_part_of_the_mean_put_in() -> None:
    values = [1.0, 1.1, 1.3, 1.2, 1.4]
    within = float(np.var(values, ddof=1))
    noise = 0.2 * within
    left = 0.8 * within / 5
    # The smaller the part that is left, the less is known of it.
    close(of_rhythm({"both": values}, noise), math.sqrt(left), 4 * 0.8**2)
    u_mean = 0.02
    u = math.sqrt(left + u_mean**2)
    close(of_rhythm({"both": values}, noise, u_mean), u, 4 * (5 * u * u / within) ** 2)


def test_an_uncertain_mean_knows_no_more_than_its_cycles() -> None:
    """u_mean can make the whole larger than the spread: the cycles stay what they are."""
    values = [1.0, 1.1, 1.3, 1.2, 1.4]
    within = float(np.var(values, ddof=1))
    close(of_rhythm({"both": values}, 0.0, 1.0), math.sqrt(within / 5 + 1), 4)


def test_where_next_to_nothing_is_left_the_marked_spread_says_more() -> None:
    values = [1.0, 1.1, 1.3, 1.2, 1.4]
    within = float(np.var(values, ddof=1))
    marked = math.sqrt(within / 5)
    for share in (0.31, 0.9, 1.0, 2.0):
        close(of_rhythm({"both": values}, share * within), marked, 4)
    # Just under it still counts: 0.71 squared is a half.
    close(of_rhythm({"both": values}, 0.28 * within), math.sqrt(0.72 * within / 5), 4 * 0.72**2)
    # A mean that marking alone makes less sure stays so.
    close(of_rhythm({"both": values}, within, marked * 0.8), marked, 4)


def test_cycles_that_are_all_alike() -> None:
    close(of_rhythm({"both": [1.2, 1.2, 1.2]}), 0.0, 2)
    close(of_rhythm({"both": [1.2, 1.2, 1.2]}, 0.0, 0.05), 0.05, 2)


# ---- what each arm does in its own way ----


def test_arms_may_differ_from_each_other() -> None:
    """A left arm of 40 and a right one of 60 is no spread; Welch and Satterthwaite's freedom."""
    left, right = [40.0, 42.0, 38.0], [60.0, 61.0, 59.0, 60.0]
    variances = [np.var(left, ddof=1) / 3 * (3 / 7) ** 2, np.var(right, ddof=1) / 4 * (4 / 7) ** 2]
    # So far apart in time that no two lie side by side: each has its own few strokes.
    found = of_arms({"left": at(*left), "right": at(*right, begin=100)})
    assert found is not None
    alone = sum(variances)
    pair = _paired(at(*left), at(*right, begin=100))
    together = max(0.0, 2 * (3 / 7) * (4 / 7) * _cov(pair) / len(pair))
    assert found.u == pytest.approx(math.sqrt(alone + together))
    free = alone**2 / (variances[0] ** 2 / 2 + variances[1] ** 2 / 3)
    assert found.dof == pytest.approx(free * alone / (alone + together))


def _cov(pairs: list[tuple[float, float]]) -> float:
    return float(np.cov(np.array(pairs).T)[0, 1])


def _paired(
    one: list[tuple[float, float]], other: list[tuple[float, float]]
) -> list[tuple[float, float]]:
    """Side by side in time, by hand: in order, each the nearest that is still free."""
    found, left = [], list(other)
    for when, value in one:
        if not left:
            break
        near = min(left, key=lambda o: abs(o[0] - when))
        found.append((value, near[1]))
        left = left[left.index(near) + 1 :]
    return found


def test_arms_that_move_together_tell_less() -> None:
    left, right = [40.0, 44.0, 41.0, 47.0], [50.0, 54.0, 51.0, 57.0]
    found = of_arms({"left": at(*left), "right": at(*right, begin=0.5)})
    variance = float(np.var(left, ddof=1))
    alone = 2 * variance / 4 / 4
    together = 2 * 0.25 * variance / 4
    assert found is not None
    assert found.u == pytest.approx(math.sqrt(alone + together))
    # Two arms of three degrees each, that tell as much as one.
    assert found.dof == pytest.approx(6 * alone / (alone + together))


def test_arms_that_move_against_each_other_make_nothing_surer() -> None:
    left, right = [40.0, 44.0, 41.0, 47.0], [50.0, 46.0, 49.0, 43.0]
    found = of_arms({"left": at(*left), "right": at(*right, begin=0.5)})
    alone = 2 * float(np.var(left, ddof=1)) / 4 / 4
    close(found, math.sqrt(alone), 6)


@pytest.mark.parametrize("begin", [0.0, 0.4, 0.6, 2.1, -1.7])
def test_pairs_lie_side_by_side_in_time(begin: float) -> None:
    """Whatever the arms' lag, and with one value more on one side; the order given is no matter."""
    left, right = at(3.0, 9.0, 4.0, 8.0, 5.0), at(13.0, 19.0, 14.5, 18.0, begin=begin)
    found = of_arms({"left": left[::-1], "right": right})
    parts = [(np.var([v for _, v in a], ddof=1) / len(a) * (len(a) / 9) ** 2, len(a) - 1)
             for a in (left, right)]  # fmt: skip
    alone = sum(p for p, _ in parts)
    pairs = _paired(left, right)
    shared = 2 * (5 / 9) * (4 / 9) * _cov(pairs) / len(pairs) if len(pairs) > 1 else 0.0
    u2 = alone + max(0.0, shared)
    assert found is not None
    assert found.u == pytest.approx(math.sqrt(u2))
    free = alone**2 / sum(p * p / n for p, n in parts)
    assert found.dof == pytest.approx(free * alone / u2)


def test_a_single_pair_has_nothing_in_common() -> None:
    found = of_arms({"left": at(1.0, 3.0), "right": at(2.0, 6.0, begin=-10.0)})
    assert found is not None
    # Only one of the right arm is still free once the nearest has been taken.
    alone = (np.var([1, 3], ddof=1) + np.var([2, 6], ddof=1)) / 2 / 4
    assert found.u == pytest.approx(math.sqrt(alone))


def test_one_lane_alone_and_an_arm_with_too_little() -> None:
    close(of_arms({"both": at(1.0, 2.0, 4.0)}), np.std([1, 2, 4], ddof=1) / math.sqrt(3), 2)
    close(of_arms({"left": at(1.0, 2.0, 4.0), "right": []}),
          np.std([1, 2, 4], ddof=1) / math.sqrt(3), 2)  # fmt: skip
    assert of_arms({"left": at(1.0, 2.0), "right": at(3.0)}) is None
    assert of_arms({}) is None
    alike = of_arms({"left": at(2.0, 2.0), "right": at(3.0, 3.0)})
    assert alike is not None
    assert alike.u == 0.0
