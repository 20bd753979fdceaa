"""What must hold for every swim: moved in time, swum slower, seen in a mirror, marked again."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import GRID_ALONE
from norvik.core.time.quantities import QUANTITIES
from norvik.core.time.timing import Timing
from norvik.model.dials import usual_swim
from norvik.model.schedule import schedule
from tests.core.test_certainty import values

STROKES = ("freestyle", "backstroke", "breaststroke", "butterfly")
INTERVAL_S = 1 / 60

#: What a mirror turns round: it says right against left.
SIGNED = ("rhythm_pct", *(f"symmetry_pct.{p}" for p in ("entry", "catch", "pull", "recovery")))

swims = st.builds(
    lambda stroke, per_min, seed, lag, seconds: (
        stroke,
        schedule(replace(usual_swim(stroke, per_min, seed), lag=lag, variation=0.03), 16).marks(
            0, seconds, with_shoulder=True
        ),
    ),
    st.sampled_from(STROKES),
    st.floats(26, 50),
    st.integers(0, 10_000),
    st.floats(0.45, 0.55),
    st.floats(6, 16),
)
EXAMPLES = settings(max_examples=30, deadline=None)


def timing_of(stroke: str, found: list[Mark], interval_s: float = INTERVAL_S) -> Timing:
    return compute_timing(found, stroke, interval_s, 25.0, GRID_ALONE)


def alike(a: dict[str, float], b: dict[str, float]) -> None:
    assert a.keys() == b.keys()
    for path, value in a.items():
        assert b[path] == pytest.approx(value, rel=1e-6, abs=1e-7), path


@EXAMPLES
@given(swims, st.floats(-500, 500))
def test_a_swim_moved_in_time_is_the_same_swim(swim: tuple[str, list[Mark]], by_s: float) -> None:
    stroke, found = swim
    moved = [m._replace(time_s=m.time_s + by_s) for m in found]
    a, b = timing_of(stroke, found), timing_of(stroke, moved)
    alike(values(a), values(b))
    alike(dict(a.uncertainty), dict(b.uncertainty))


@EXAMPLES
@given(swims, st.floats(1.0, 1.6))
def test_a_swim_slowed_down_takes_longer_and_keeps_its_shares(
    swim: tuple[str, list[Mark]], factor: float
) -> None:
    stroke, found = swim
    slow = [m._replace(time_s=m.time_s * factor) for m in found]
    a = values(timing_of(stroke, found))
    b = values(timing_of(stroke, slow, INTERVAL_S * factor))
    assert a.keys() == b.keys()
    for path, value in a.items():
        declared = QUANTITIES.get(path.removeprefix("quantities."))
        if (
            (declared and declared.of_cycle)
            or "_pct" in path
            or path.endswith(("per_cycle", "per_pull", "pool_m"))
        ):
            expected = value
        elif "per_min" in path:
            expected = value / factor
        else:  # seconds, and the uncertainty of seconds
            expected = value * factor
        if path == "cycles.drift_pct_per_min":
            expected = value / factor
        assert b[path] == pytest.approx(expected, rel=1e-6, abs=1e-7), path


@EXAMPLES
@given(swims)
def test_a_mirror_turns_left_and_right_round_and_nothing_else(
    swim: tuple[str, list[Mark]],
) -> None:
    stroke, found = swim
    other = {"left": "right", "right": "left"}
    turned = [m._replace(side=other.get(m.side, m.side)) for m in found]
    a, b = values(timing_of(stroke, found)), values(timing_of(stroke, turned))
    assert {mirrored(path) for path in a} == set(b)
    for path, value in a.items():
        expected = -value if path in SIGNED else value
        assert b[mirrored(path)] == pytest.approx(expected, rel=1e-6, abs=1e-7), path


def mirrored(path: str) -> str:
    return path.replace("left", "\0").replace("right", "left").replace("\0", "right")


@EXAMPLES
@given(swims)
def test_marks_given_twice_or_in_another_order_make_the_same_cycles(
    swim: tuple[str, list[Mark]],
) -> None:
    stroke, found = swim
    alike(values(timing_of(stroke, found)), values(timing_of(stroke, found[::-1])))
    # An opening that is marked twice within a moment is one opening.
    opens = compute_timing(found, stroke).resolved.stroke.opens
    again = [m._replace(time_s=m.time_s + 0.01) for m in found if m.event == opens][:1]
    once, twice = timing_of(stroke, found), timing_of(stroke, [*found, *again])
    assert once.cycles.count == twice.cycles.count
    assert len(twice.problems) == len(once.problems) + len(again)


@EXAMPLES
@given(swims)
def test_one_more_cycle_like_the_others_changes_the_count_alone(
    swim: tuple[str, list[Mark]],
) -> None:
    """A cycle as long as the mean, with phases of the mean, put at the end of one arm."""
    stroke, found = swim
    timing = timing_of(stroke, [m for m in found if m.lane == "arm"])
    rules, mean_s = timing.resolved.stroke, timing.resolved.mean_cycle_s
    last = timing.resolved.cycles[-1] if timing.resolved.cycles else None
    if mean_s is None or last is None or last.end is None:
        return
    begin, side = last.end.time_s, last.end.mark.side
    arm = [m for m in found if m.lane == "arm" and not (m.side == side and m.time_s > begin)]
    whole = timing_of(stroke, arm)
    if whole.resolved.mean_cycle_s is None:
        return
    more = [Mark(begin + whole.resolved.mean_cycle_s, "arm", side, rules.opens)]
    longer = timing_of(stroke, [*arm, *more])
    assert longer.cycles.count == whole.cycles.count + 1
    assert longer.rate.cycles_per_min == pytest.approx(whole.rate.cycles_per_min)
    assert longer.rate.u_cycles_per_min is not None
    assert whole.rate.u_cycles_per_min is not None
    assert longer.rate.u_cycles_per_min < whole.rate.u_cycles_per_min
