"""Two cameras on one swim: exact examples, and what cannot be one swim."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from norvik.core.errors import MarkError
from norvik.core.time.two_clocks import CommonInstant, tied


def test_one_instant_says_how_far_apart_they_are() -> None:
    clocks = tied(CommonInstant(2.0, 7.5))
    assert clocks.other(3.0) == 8.5
    assert clocks.one(8.5) == 3.0
    assert clocks.drift is None


def test_two_instants_say_how_fast_they_drift() -> None:
    # 10 s of the one are 10.005 s of the other: 30 ms a minute.
    clocks = tied(CommonInstant(12.0, 22.005, 0.004), CommonInstant(2.0, 12.0, 0.003))
    assert clocks.other(2.0) == pytest.approx(12.0)
    assert clocks.other(12.0) == pytest.approx(22.005)
    assert clocks.drift == pytest.approx(0.0005)
    assert clocks.drift_u == pytest.approx(math.hypot(0.003, 0.004) / 10)


@given(
    st.floats(0, 100), st.floats(1.01, 60), st.floats(-50, 50), st.floats(-0.019, 0.019),
    st.floats(-10, 200),
)  # fmt: skip
def test_there_and_back_is_the_same(
    begin: float, apart: float, later: float, drift: float, at: float
) -> None:
    clocks = tied(
        CommonInstant(begin, begin + later),
        CommonInstant(begin + apart, begin + later + apart * (1 + drift)),
    )
    assert clocks.one(clocks.other(at)) == pytest.approx(at, abs=1e-6)
    assert clocks.turned.other(clocks.other(at)) == pytest.approx(at, abs=1e-6)


@pytest.mark.parametrize(
    ("second", "words"),
    [
        (CommonInstant(2.9, 7.9), "only 0.90 s apart"),
        (CommonInstant(12.0, 16.5), "not the same two"),
        (CommonInstant(12.0, 17.21), "not the same two"),
    ],
)
def test_what_cannot_be_one_swim_is_refused(second: CommonInstant, words: str) -> None:
    with pytest.raises(MarkError, match=words):
        tied(CommonInstant(2.0, 7.0), second)
    # At the limit of 2 % it is not.
    assert tied(CommonInstant(2.0, 7.0), CommonInstant(12.0, 17.19)).pace == pytest.approx(1.019)


def test_refusals_say_what_was_found_and_what_to_do() -> None:
    with pytest.raises(MarkError) as near:
        tied(CommonInstant(2.0, 7.0), CommonInstant(2.75, 7.75))
    assert near.value.sentence == (
        "The two instants lie only 0.75 s apart: choose them at least 1 s apart, or keep one."
    )
    with pytest.raises(MarkError) as other:
        tied(CommonInstant(2.0, 7.0), CommonInstant(4.0, 9.5))
    assert other.value.sentence == (
        "Between these two instants 2.00 s pass in the first film and 2.50 s in the second. They "
        "are not the same two, or the slow-motion setting of one film is wrong."
    )
    # A second apart is enough, and the earlier instant is the one that counts from.
    clocks = tied(CommonInstant(3.0, 8.0), CommonInstant(2.0, 7.0))
    assert clocks.at == CommonInstant(2.0, 7.0)
    assert clocks.drift == 0
    assert clocks.drift_u == 0
