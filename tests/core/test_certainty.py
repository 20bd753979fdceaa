"""Uncertainty of every quantity: against numeric derivatives, and counted over many swims."""

from __future__ import annotations

import math
import random
from collections import Counter
from dataclasses import replace

import pytest

from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import GRID_ALONE
from norvik.core.time.timing import Timing
from norvik.formats.timing_json import timing_object
from norvik.model.dials import DIALS, usual_swim
from norvik.model.schedule import TIMING_DIALS, schedule
from tests.core.test_against_reference import random_swim
from tests.marking import marks

STROKES = ("freestyle", "backstroke", "breaststroke", "butterfly")
#: Quantities that rest on frames; counts and shares of counts do not.
COUNTED = ("pattern", "regular", "sides", "breaths_per_cycle", "in_push_share_pct",
           "beats_per_cycle", "beats_per_pull", "pause_on_breath", "share_pct", "beats",
           "strokes_before_breath", "n", "count", "fading", "model", "u_s", "sd_s",
           "u_cycles_per_min", "frame_interval_s", "drift_pct_per_min")  # fmt: skip


#: From the scatter about a line; and where marking pushes a value to one side.
NOT_BY_DERIVATIVE = {
    "cycles.drift_pct_per_min", "cycles.time_s.sd", "cycles.time_s.cv_pct", "cycles.time_s.own_sd",
    "cycles.time_s.own_cv_pct", "kick.longest_gap_s",
}  # fmt: skip


def values(timing: Timing) -> dict[str, float]:
    """Every number of the timing object by its dotted path."""
    found: dict[str, float] = {}

    def walk(value: object, path: str) -> None:
        if isinstance(value, dict):
            for key, item in value.items():
                walk(item, f"{path}.{key}".lstrip("."))
        elif isinstance(value, list):
            for n, item in enumerate(value):
                walk(item, f"{path}.{n}")
        elif isinstance(value, float):
            found[path] = value

    whole = timing_object(timing)
    for left_out in (
        "uncertainty", "reasons", "problems", "u_clip", "u_swimmer", "dof", "k95", "version",
    ):  # fmt: skip
        del whole[left_out]
    # What is declared without a place of its own in the object stands under its id.
    for name, declared in whole.pop("quantities").items():
        if f"quantities.{name}" in timing.uncertainty:
            found[f"quantities.{name}"] = declared["value"]
    walk(whole, "")
    return found


@pytest.mark.parametrize("stroke", STROKES)
@pytest.mark.parametrize("seed", range(2))
def test_uncertainty_is_that_of_the_numeric_derivative(stroke: str, seed: int) -> None:
    rng = random.Random(seed)
    # No two marks at one instant: there a quantity has no derivative.
    given = [m._replace(time_s=m.time_s + rng.uniform(0, 2e-3)) for m in random_swim(stroke, seed)]
    given = [m for m in given if m.time_s < 11]
    d, step = 1 / 120, 1e-6
    timing = compute_timing(given, stroke, d, 25, GRID_ALONE)
    squares: Counter[str] = Counter()
    for n, mark in enumerate(given):
        up, down = (
            values(compute_timing(
                [*given[:n], mark._replace(time_s=mark.time_s + s), *given[n + 1 :]], stroke, d, 25
            ))
            for s in (step, -step)
        )  # fmt: skip
        for path in timing.uncertainty:
            if path in up and path in down:
                squares[path] += ((up[path] - down[path]) / (2 * step)) ** 2
    for path, u in timing.uncertainty.items():
        if path in NOT_BY_DERIVATIVE:
            continue
        assert u == pytest.approx(
            d / math.sqrt(12) * math.sqrt(squares[path]), rel=1e-3, abs=1e-7
        ), path


@pytest.mark.parametrize("stroke", STROKES)
def test_every_quantity_that_rests_on_frames_has_one(stroke: str) -> None:
    for seed in range(20):
        timing = compute_timing(random_swim(stroke, seed), stroke, 1 / 120, 25, GRID_ALONE)
        for path in values(timing):
            name = path.rsplit(".", 1)[-1]
            counted = name in COUNTED and not path.startswith(("phases", "legs"))
            if counted or name in ("u_s", "sd_s", "n") or path.startswith("cycles.by_side"):
                continue
            assert path in timing.uncertainty, path
    assert compute_timing(random_swim(stroke, 1), stroke).uncertainty == {}


def test_worked_uncertainties() -> None:
    # 60 frames/s, one cycle of 1.25 s: u of the rate 0.261; three cycles in 3.75 s: 0.0871.
    one = compute_timing(marks("R entry 0; R entry 1.25"), "freestyle", 1 / 60, None, GRID_ALONE)
    assert one.uncertainty["rate.cycles_per_min"] == pytest.approx(0.261, abs=5e-4)
    assert one.uncertainty["rate.cycles_per_min"] == pytest.approx(one.rate.u_cycles_per_min or 0)
    three = compute_timing(
        marks("R entry 0; R entry 1.25; R entry 2.5; R entry 3.75"),
        "freestyle",
        1 / 60,
        None,
        GRID_ALONE,
    )
    assert three.uncertainty["rate.cycles_per_min"] == pytest.approx(0.0871, abs=5e-5)
    assert three.uncertainty["rate.strokes_per_min"] == pytest.approx(2 * 0.0871, abs=1e-4)
    # A phase of n cycles: D / sqrt(6 n), as in its own field.
    timing = compute_timing(random_swim("freestyle", 3), "freestyle", 1 / 120, None, GRID_ALONE)
    for name, phase in timing.phases["both"].items():
        if phase is not None:
            assert timing.uncertainty[f"phases.both.{name}.mean_s"] == pytest.approx(phase.u_s)


def on_frames(exact: list[Mark], fps: float) -> list[Mark]:
    """Each mark on the first frame that shows it: somewhere within one frame interval."""
    return [m._replace(time_s=(math.floor(m.time_s * fps) + 0.5) / fps) for m in exact]


@pytest.mark.simulation
def test_about_95_in_100_lie_within_twice_their_uncertainty() -> None:
    """The model swimmer in four strokes, at rates, frame rates and seeds; no quantity far off.

    Without and with each fault that shows in time.
    """
    inside: Counter[str] = Counter()
    tried: Counter[str] = Counter()
    rng = random.Random(17)
    faults = [(fault, DIALS[fault].stroke) for fault in TIMING_DIALS]
    cases = [(s, {}, fps, seed) for s in STROKES for fps in (50, 60, 120, 240) for seed in range(3)]
    cases += [
        (stroke, {fault: amount}, fps, seed)
        for fault, stroke in faults
        if stroke in STROKES
        for amount in (0.4, 0.8)
        for fps in (60, 240)
        for seed in (5, 6)
    ]
    assert len({next(iter(dials), "") for _, dials, _, _ in cases}) == 10
    for stroke, dials, fps, seed in cases:
        for per_min in (28, 46):
            swim = replace(
                usual_swim(stroke, per_min * rng.uniform(0.95, 1.05), seed),
                variation=0.02, lag=rng.uniform(0.46, 0.54), dials=dials,
            )  # fmt: skip
            exact = schedule(swim, 14).marks(0, 14, with_shoulder=True)
            truth = values(compute_timing(exact, stroke))
            seen = compute_timing(on_frames(exact, fps), stroke, 1 / fps, None, GRID_ALONE)
            found = values(seen)
            for path, u in seen.uncertainty.items():
                kind = path.split(".")[-1] if path.startswith("walls") else path
                if path in truth and path in found and path != "cycles.drift_pct_per_min":
                    tried[kind] += 1
                    inside[kind] += abs(found[path] - truth[path]) <= 2 * u + 1e-12
    share = sum(inside.values()) / sum(tried.values())
    assert sum(tried.values()) > 5000
    assert 0.94 <= share <= 0.985, share
    for kind, n in tried.items():
        if n >= 100:
            assert inside[kind] / n >= 0.88, (kind, inside[kind] / n)
