"""What is read of a stroke: limbs that go through the templates as the model's schedule says, made
as bad as a network makes them. Films and the network have their own checks (tests/reading).
"""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.core.reading.breaths import front_breaths
from norvik.core.reading.cycle import ALTERNATING
from norvik.core.reading.kicks import dolphin, flutter, standing_out
from norvik.core.reading.limbs import Limbs
from norvik.core.reading.phase import Template
from norvik.core.reading.stroke import BREATH, VIEWS, near_side, read_stroke, within
from norvik.model.schedule import USUAL, Schedule, schedule
from norvik.reading.templates import templates_of

Series = NDArray[np.float64]
STROKES = ("freestyle", "backstroke", "breaststroke", "butterfly")


def gone(template: Template, near: bool, cycles: list[dict[str, float]], times: Series) -> Series:
    """Where a limb is that goes through a template as its cycles say, shape (frames, 4)."""
    places = {e: at for e, at in template.events.items() if e in cycles[0]}
    at = np.array([c[e] for c in cycles for e in places])
    phase = np.interp(times, at, [k + p for k, _ in enumerate(cycles) for p in places.values()])
    usual = template.near if near else template.far
    step = (phase % 1) * template.steps
    return np.stack(
        [np.interp(step, np.arange(template.steps), c, period=template.steps) for c in usual.T], 1
    )


def swum(stroke: str, view: str, heading: int) -> tuple[Schedule, Series, Limbs]:
    """A swim of 10 s, and its limbs with noise, arms taken for each other and frames lost."""
    plan, times = schedule(USUAL[stroke], 10), np.arange(300) / 30
    templates, rng = templates_of(stroke, view), np.random.default_rng(8)
    assert templates is not None
    near = near_side(stroke, heading)
    arms = np.stack(
        [
            gone(templates.arms, side == near or "both" in plan.arms,
                 [c.at for c in plan.arms.get(side) or plan.arms["both"]], times)
            for side in ("left", "right")
        ],
        axis=1,
    )  # fmt: skip
    legs = np.zeros((300, 2, 4))
    if templates.legs is not None:
        cycles = [{"heels": c.heels, "set": c.set, "close": c.close} for c in plan.legs]
        legs = np.stack([gone(templates.legs, True, cycles, times)] * 2, axis=1)
    for places in (arms, legs):
        places += rng.normal(0, 0.08, places.shape)
        swapped = rng.random(len(places)) < 0.3
        places[swapped] = places[swapped][:, ::-1]
        places[rng.random(len(places)) < 0.1] = np.nan
    feet, head = rng.normal(0, 0.05, (300, 2)), rng.normal(0.3, 0.05, 300)
    return plan, times, Limbs(arms, legs, feet, feet, head, heading, 100.0)


@pytest.mark.parametrize("stroke", STROKES)
@pytest.mark.parametrize(("view", "heading"), [("side-under", 1), ("side-above", -1)])
def test_arm_events_of_every_stroke_and_side_are_found(
    stroke: str, view: str, heading: int
) -> None:
    plan, times, limbs = swum(stroke, view, heading)
    templates = templates_of(stroke, view)
    assert templates is not None
    found = read_stroke(limbs, times, stroke, templates, USUAL[stroke].cycle_s)
    true = [(m.event, m.side, m.time_s) for m in plan.marks(0, 10) if m.lane == "arm"]
    got = [(e.event, e.side, e.time_s) for e in found.events if e.lane == "arm"]
    near = sum(any(t[:2] == g[:2] and abs(t[2] - g[2]) < 0.08 for t in true) for g in got)
    assert near >= 0.95 * len(got)
    assert len(got) >= 0.9 * len(true)
    assert all(0 < e.confidence <= 1 and e.u95_s > 0 for e in found.events)


@pytest.mark.parametrize("stroke", STROKES)
def test_what_is_out_of_sight_is_placed_by_the_other_cycles_and_says_so(stroke: str) -> None:
    plan, times, limbs = swum(stroke, "side-under", 1)
    hidden = (times > 4.2) & (times < 5.8)
    limbs.arms[hidden] = np.nan
    templates = templates_of(stroke, "side-under")
    assert templates is not None
    events = read_stroke(limbs, times, stroke, templates, USUAL[stroke].cycle_s).events
    arms = [e for e in events if e.lane == "arm"]
    inside = [e for e in arms if 4.35 < e.time_s < 5.65]
    outside = [e for e in arms if not 4.05 < e.time_s < 5.95]
    assert len(inside) >= 3
    assert all(e.bridged for e in inside)
    assert not any(e.bridged for e in outside)
    true = [(m.event, m.side, m.time_s) for m in plan.marks(0, 10) if m.lane == "arm"]
    for e in inside:
        seen = next(o for o in outside if (o.event, o.side) == (e.event, e.side))
        assert e.u95_s > seen.u95_s
        assert e.confidence < seen.confidence
        off = min(
            abs(t - e.time_s) for event, side, t in true if (event, side) == (e.event, e.side)
        )
        assert off <= max(0.08, e.u95_s)
    # What is seen loses nothing by it.
    for e in outside:
        assert e.confidence == within(0.08, e.u95_s / 1.96)


def test_the_legs_of_breaststroke_have_their_own_way() -> None:
    plan, times, limbs = swum("breaststroke", "side-under", 1)
    templates = templates_of("breaststroke", "side-under")
    assert templates is not None
    found = read_stroke(limbs, times, "breaststroke", templates, 1.7)
    true = [(m.event, m.time_s) for m in plan.marks(0, 10) if m.lane == "leg"]
    got = [(e.event, e.time_s) for e in found.events if e.lane == "leg"]
    assert {event for event, _ in got} == {"heels", "set", "close"}
    assert all(any(t[0] == g[0] and abs(t[1] - g[1]) < 0.08 for t in true) for g in got)
    assert len(got) >= 0.9 * len(true)


def test_nothing_that_swims_gives_nothing_and_a_reason() -> None:
    rng = np.random.default_rng(2)
    limbs = Limbs(
        rng.uniform(-1.5, 1.5, (300, 2, 4)), rng.uniform(-2, 2, (300, 2, 4)),
        rng.uniform(-1, 1, (300, 2)), rng.uniform(-1, 1, (300, 2)), rng.uniform(-1, 1, 300), 1,
        100.0,
    )  # fmt: skip
    for stroke in STROKES:
        templates = templates_of(stroke, "side-under")
        assert templates is not None
        found = read_stroke(limbs, np.arange(300) / 30, stroke, templates, 1.6)
        assert not found.events
        assert found.reasons


def test_every_stroke_has_templates_from_the_side_and_none_from_elsewhere() -> None:
    for stroke in STROKES:
        for view in VIEWS:
            templates = templates_of(stroke, view)
            assert templates is not None
            assert templates.arms.near.shape == templates.arms.spread.shape == (180, 4)
            assert (templates.arms.spread > 0).all()
            assert (templates.legs is not None) == (stroke == "breaststroke")
            places = templates.arms.events
            assert all(0 <= at < 1 for e, at in places.items() if e not in BREATH)
        assert templates_of(stroke, "front-under") is None
    assert templates_of("medley", "side-under") is None


@pytest.mark.parametrize(
    ("stroke", "heading", "side"),
    [("freestyle", 1, "right"), ("freestyle", -1, "left"),
     ("backstroke", 1, "left"), ("backstroke", -1, "right")],
)  # fmt: skip
def test_the_camera_sees_the_side_that_is_towards_it(stroke: str, heading: int, side: str) -> None:
    """On the front, going right, the right side is towards the camera: head, belly and right hand
    are the three axes of a body."""
    assert stroke in ALTERNATING
    assert near_side(stroke, heading) == side


def test_how_often_something_is_close_is_the_normal_distribution() -> None:
    """Two and three sigma of a table of the normal distribution: 0.9545 and 0.9973."""
    assert within(0.08, 0.04) == pytest.approx(0.9545, abs=6e-4)
    assert within(0.09, 0.03) == pytest.approx(0.9973, abs=6e-4)


# ---- kicks ----


def clock(cycle_s: float) -> tuple[Series, Series]:
    numbers = np.arange(-1, 9, dtype=float)
    return numbers, 0.3 + cycle_s * numbers


@pytest.mark.parametrize("beats", [2, 4, 6])
def test_kicks_are_placed_though_the_feet_are_taken_for_each_other(beats: int) -> None:
    times = np.arange(0, 10, 1 / 30)
    numbers, opened = clock(1.5)
    rng = np.random.default_rng(beats)
    wave = np.cos(np.pi * beats * (times - 0.3 - 0.1) / 1.5)
    ankles = 0.1 * np.stack([wave, -wave], axis=1) + rng.normal(0, 0.04, (len(times), 2))
    swapped = rng.random(len(times)) < 0.5
    ankles[swapped] = ankles[swapped][:, ::-1]
    assert standing_out(times, ankles, numbers, opened) == beats
    found = flutter(times, ankles, numbers, opened, beats)
    assert found is not None
    at, clear = found
    assert clear > 0.3
    true = 0.4 + 1.5 / beats * np.arange(-beats, 9 * beats)
    assert max(np.abs(true - t).min() for t in at) < 0.04
    assert len(at) == pytest.approx(10 * beats / 1.5, abs=2)


def test_two_kicks_seen_well_among_six_seen_badly_are_not_called_two() -> None:
    """A roll that moves the feet twice a cycle, and six kicks that just stand out of the foam."""
    times = np.arange(0, 12, 1 / 30)
    numbers, opened = clock(1.5)
    share = (times - 0.3) / 1.5
    for seed in range(8):
        rng = np.random.default_rng(seed)
        apart = 0.3 + 0.1 * np.cos(4 * np.pi * share) + 0.045 * np.cos(12 * np.pi * share)
        apart += rng.normal(0, 0.05, len(times))
        feet = np.stack([apart, np.zeros(len(times))], axis=1)
        assert standing_out(times, feet, numbers, opened) in (None, 6)


def test_feet_without_a_rhythm_give_no_kick() -> None:
    """Chance has a rhythm now and then: in at most one film of ten."""
    times = np.arange(0, 10, 1 / 30)
    told = stands = 0
    for seed in range(60):
        rng = np.random.default_rng(seed)
        numbers, opened = clock(float(rng.uniform(1.2, 2.2)))
        inside = opened < 11
        feet = rng.normal(0, 0.1, (300, 2))
        beats = (2, 4, 6)[seed % 3]
        told += flutter(times, feet, numbers[inside], opened[inside], beats) is not None
        stands += standing_out(times, feet, numbers[inside], opened[inside]) is not None
    assert told <= 6
    assert stands <= 6
    numbers, opened = clock(1.5)
    assert flutter(times, np.full((300, 2), np.nan), numbers, opened, 6) is None
    assert dolphin(times, np.full((300, 2), np.nan), numbers, opened) is None


def test_the_two_kicks_of_butterfly_are_where_the_feet_are_lowest() -> None:
    times = np.arange(0, 9, 1 / 30)
    numbers, opened = clock(1.2)
    share = ((times - 0.3) / 1.2) % 1
    low = sum(np.exp(-0.5 * (((share - c + 0.5) % 1 - 0.5) / 0.07) ** 2) for c in (0.1, 0.65))
    found = dolphin(times, -np.stack([low, low], axis=1), numbers, opened)
    assert found is not None
    true = np.concatenate([0.3 + 1.2 * (np.arange(-1, 9) + c) for c in (0.1, 0.65)])
    assert max(np.abs(true - t).min() for t in found[0]) < 0.04


# ---- breaths ----

_EVENTS = {"turn": 0.45, "air": 0.6, "down": 0.85}


def head(times: Series, cycles: set[int]) -> Series:
    share = (times - 0.3) / 1.2
    up = np.zeros(len(times))
    for c in cycles:
        up += 0.3 * ((share > c + 0.55) & (share < c + 0.9))
    return up + np.random.default_rng(6).normal(0, 0.03, len(times))


def test_breaths_of_butterfly_are_the_cycles_in_which_the_head_comes_up() -> None:
    times = np.arange(0, 9, 1 / 30)
    numbers, opened = clock(1.2)
    found = front_breaths(times, head(times, {0, 2, 4, 6}), numbers, opened, _EVENTS, False)
    airs = [t for e, t, _ in found if e == "air"]
    np.testing.assert_allclose(airs, [0.3 + 1.2 * (c + 0.6) for c in (0, 2, 4, 6)], atol=1e-6)
    assert [e for e, _, _ in found[:3]] == ["turn", "air", "down"]


def test_no_lift_is_no_breath_but_breaststroke_breathes_in_every_cycle() -> None:
    times = np.arange(0, 9, 1 / 30)
    numbers, opened = clock(1.2)
    still = head(times, set())
    assert front_breaths(times, still, numbers, opened, _EVENTS, False) == []
    every = front_breaths(times, still, numbers, opened, _EVENTS, True)
    assert len([e for e, _, _ in every if e == "air"]) == 7
    # Where it does not come up, that is said to be less sure.
    lifted = front_breaths(times, head(times, set(range(8))), numbers, opened, _EVENTS, True)
    assert np.mean([c for _, _, c in every]) < np.mean([c for _, _, c in lifted])
    assert front_breaths(times, np.full(270, np.nan), numbers, opened, _EVENTS, True) == []
