"""The dial: places on the circle, their spread, and what stands on which ring."""

from __future__ import annotations

import math
import random
import re
from dataclasses import replace

import pytest
from scipy import stats

from norvik.core.strokes import STROKES
from norvik.core.time.compute import compute_timing
from norvik.core.time.dial import circular, dial_of
from norvik.core.time.resolve import resolve
from norvik.model.dials import usual_swim
from norvik.model.schedule import schedule
from norvik.web.clip.dial_drawing import SIZE, draw
from tests.marking import marks, steady_arm


def test_circular_mean_and_spread_against_scipy() -> None:
    rng = random.Random(4)
    for _ in range(50):
        middle, width = rng.random(), rng.uniform(0.001, 0.15)
        shares = [(middle + rng.gauss(0, width)) % 1 for _ in range(rng.randint(2, 30))]
        found = circular(shares)
        angles = [2 * math.pi * s for s in shares]
        assert found.at == pytest.approx(stats.circmean(angles) / (2 * math.pi), abs=1e-9)
        assert found.sd == pytest.approx(stats.circstd(angles) / (2 * math.pi), abs=1e-9)
    assert circular([0.99, 0.01]).at % 1 == pytest.approx(0, abs=1e-9)
    assert circular([0.3]).sd == pytest.approx(0, abs=1e-7)


def test_a_steady_swim_stands_where_it_was_put() -> None:
    # Entry 25 %, catch 15, pull 35, recovery 25; the left arm half a cycle later.
    swim = steady_arm("right", 0, 2, 4) + steady_arm("left", 1, 2, 3)
    swim += marks("R turn 0.5; R air 0.8; R down 1.2; R turn 4.5; R air 4.8; R down 5.2")
    dial = dial_of(resolve(swim, STROKES["freestyle"]))
    assert dial is not None
    assert (dial.lead, dial.cycle_s, dial.cycles) == ("right", 2.0, 4)
    rings = {r.name: r for r in dial.rings}
    assert list(rings) == ["left arm", "right arm", "breath"]
    right = {
        a.phase: (round(a.start.at, 6) % 1, round(a.share, 6)) for a in rings["right arm"].arcs
    }
    assert right == {"entry": (0, 0.25), "catch": (0.25, 0.15), "pull": (0.4, 0.35),
                     "recovery": (0.75, 0.25)}  # fmt: skip
    left = {a.phase: a.start.at for a in rings["left arm"].arcs}
    assert left["entry"] == pytest.approx(0.5)
    assert left["recovery"] == pytest.approx(0.25)
    assert [(a.phase, a.start.at, a.share) for a in rings["breath"].arcs] == [
        ("turn", pytest.approx(0.25), pytest.approx(0.15)),
        ("air", pytest.approx(0.4), pytest.approx(0.2)),
    ]
    assert all(a.start.sd < 1e-6 for r in dial.rings for a in r.arcs)


@pytest.mark.parametrize("stroke", ["freestyle", "backstroke", "breaststroke", "butterfly"])
def test_shares_agree_with_the_numbers_and_the_drawing_stays_within(stroke: str) -> None:
    swum = schedule(usual_swim(stroke, 34, 3), 15).marks(0, 15, with_shoulder=False)
    timing = compute_timing(swum, stroke)
    dial = dial_of(timing.resolved)
    assert dial is not None
    arms = [r for r in dial.rings if "arm" in r.name]
    for ring in arms:
        side = ring.name.split()[0] if len(arms) > 1 else "both"
        for arc in ring.arcs:
            phase = timing.phases[side][arc.phase]
            assert phase is not None
            assert 100 * arc.share == pytest.approx(phase.share_pct, abs=1.5), (side, arc.phase)
    drawing = draw(dial, dial)
    assert len(drawing.over) == sum(len(r.arcs) for r in dial.rings)
    assert f"{dial.cycle_s:.2f} s" in drawing.said
    for ring in drawing.rings:
        assert 30 < ring.radius < SIZE / 2
        assert all(0 < x < SIZE and 0 < y < SIZE for x, y in ring.dots)


def test_nothing_marked_gives_no_dial() -> None:
    assert dial_of(resolve([], STROKES["freestyle"])) is None
    assert dial_of(resolve(marks("R entry 1"), STROKES["freestyle"])) is None


def test_breaths_to_both_sides_lie_half_a_cycle_apart() -> None:
    """The commonest good pattern: every third stroke, left and right in turn."""
    swum = schedule(replace(usual_swim("freestyle", 34, 3), breath_every=3), 30).marks(0, 30)
    dial = dial_of(compute_timing(swum, "freestyle", 1 / 60).resolved)
    assert dial is not None
    (ring,) = (r for r in dial.rings if r.name == "breath")
    air = {a.side: a for a in ring.arcs if a.phase == "air"}
    assert set(air) == {"left", "right"}
    apart = abs(air["left"].start.at - air["right"].start.at)
    assert apart == pytest.approx(0.5, abs=0.03)
    assert all(0 < a.share < 0.35 and a.start.sd < 0.05 for a in air.values())
    drawn = draw(dial)
    # Nothing of it is drawn beyond the picture.
    numbers = [float(n) for ring in drawn.rings for b in ring.bands for path in (b.path, *b.fans)
               for n in re.findall(r"-?\d+\.\d+", path)]  # fmt: skip
    assert min(numbers) >= 0
    assert max(numbers) <= drawn.size
