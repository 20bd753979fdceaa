"""The quantities that are judged: value, uncertainty, and the instants that show them."""

from __future__ import annotations

import math

import numpy as np
import pytest

from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import GRID_ALONE
from norvik.core.time.quantities import QUANTITIES, Reading
from norvik.core.time.timing import Timing
from tests.marking import marks, steady_arm

D = 1 / 60
BREATHS = ";".join(
    f"R turn {t - 1.1}; R air {t - 0.6}; R down {t - 0.1};"
    f"bubbles-on {t + 0.3}; bubbles-off {t + 1.2}"
    for t in (2.0, 4.0, 6.0, 8.0)
)


def swim(text: str = "", lag: float = 1.0, cycle: float = 2.0) -> Timing:
    arms = steady_arm("right", 0, cycle, 5, shoulder=True)
    arms += steady_arm("left", lag, cycle, 5, shoulder=True)
    return compute_timing(arms + marks(text), "freestyle", D, None, GRID_ALONE)


def read(quantity: str, timing: Timing) -> Reading:
    reading = QUANTITIES[quantity].read(timing)
    assert reading is not None
    return reading


@pytest.mark.parametrize(
    ("quantity", "value"),
    [
        ("exhale-share", 100 * 0.9 / 1.5),
        ("breath-return", 0.1),
        ("head-lead", -0.1),  # press at 0.8, turn at 0.9
        ("breath-one-side", 100.0),
        ("hand-rhythm", 0.0),
        ("rate-fall", 0.0),
        ("spread", 0.0),
        ("breath-regular", 1.0),
        ("entry-share", 25.0),
        ("hand-over", 100 * (0.35 - 0.5)),
        ("front-quadrant", 100.0),
    ],
)
def test_values_of_a_steady_swim(quantity: str, value: float) -> None:
    reading = read(quantity, swim(BREATHS))
    assert reading.value == pytest.approx(value, abs=1e-6)
    assert reading.u is None or reading.u >= 0
    assert reading.occurrences


def test_the_instants_lie_where_a_coach_would_look() -> None:
    timing = swim(BREATHS)
    assert [o.time_s for o in read("breath-return", timing).occurrences] == pytest.approx(
        [1.9, 3.9, 5.9, 7.9]
    )
    assert [o.time_s for o in read("head-lead", timing).occurrences] == pytest.approx(
        [0.9, 2.9, 4.9, 6.9]
    )
    catches = {round(o.time_s, 6) for o in read("entry-share", timing).occurrences}
    assert catches == {round(s + 2 * n + 0.5, 6) for s in (0.0, 1.0) for n in range(5)}


@pytest.mark.parametrize("quantity", list(QUANTITIES))
def test_nothing_marked_reads_nothing(quantity: str) -> None:
    assert QUANTITIES[quantity].read(compute_timing([], "freestyle", D, None, GRID_ALONE)) is None


@pytest.mark.parametrize(
    "quantity", ["breath-return", "head-lead", "entry-share", "hand-over", "exhale-share"]
)
def test_without_frame_interval_the_value_stays_and_its_uncertainty_goes(quantity: str) -> None:
    arms = steady_arm("right", 0, 2.0, 5) + steady_arm("left", 1.0, 2.0, 5)
    timing = compute_timing(arms + marks(BREATHS), "freestyle")
    assert read(quantity, timing).u is None


@pytest.mark.parametrize(
    ("quantity", "runs"),
    [("breath-return", 400), ("head-lead", 400), ("hand-rhythm", 400), ("hand-over", 400)],
)
def test_stated_uncertainty_against_marks_on_random_frames(quantity: str, runs: int) -> None:
    """Monte Carlo: the spread of values from marks on whole frames is what is stated.

    Entries that two instances share make the stated one a little large, never small.
    """
    rng = np.random.default_rng(3)
    values, stated = [], []
    for _ in range(runs):
        shift, cycle = rng.uniform(0, 1), rng.uniform(1.9, 2.1)
        scale = cycle / 2.0
        arms = steady_arm("right", 0, 2.0, 5) + steady_arm("left", 1.02, 2.0, 5)
        every = [
            Mark(math.floor((m.time_s * scale + shift) / D) * D, m.lane, m.side, m.event)
            for m in arms + marks(BREATHS)
        ]
        reading = read(quantity, compute_timing(every, "freestyle", D, None, GRID_ALONE))
        true = read(quantity, compute_timing(
            [Mark(m.time_s * scale, m.lane, m.side, m.event) for m in arms + marks(BREATHS)],
            "freestyle", D,
        )).value  # fmt: skip
        values.append(reading.value - true)
        assert reading.u is not None
        stated.append(reading.u)
    spread, u = float(np.std(values)), float(np.mean(stated))
    assert spread < 1.35 * u
    assert u < 3.0 * spread


def test_a_kick_gap_is_measured_against_the_usual_one() -> None:
    text = "R beat 0;L beat 0.3;R beat 0.6;L beat 1.2;R beat 1.5;L beat 1.8; R air 0.8; R down 1.1"
    reading = read("kick-gap", compute_timing(marks(text), "freestyle", D, None, GRID_ALONE))
    assert reading.value == pytest.approx(2.0)
    assert reading.occurrences[0].time_s == pytest.approx(0.6)


def test_hold_distance_needs_speed() -> None:
    timing = swim("pass 5m 0; pass 15m 8")
    assert read("hold-distance", timing).value == pytest.approx(1.25 * 0.8)
    assert QUANTITIES["hold-distance"].read(swim()) is None


def test_two_breaths_are_too_few_to_call_one_sided() -> None:
    assert QUANTITIES["breath-one-side"].read(swim("R air 1; R air 3")) is None
    assert read("breath-one-side", swim("R air 1; L air 3; R air 5; R air 7")).value == 75
