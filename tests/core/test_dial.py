"""The dial: places on the circle, their spread, and what stands on which ring."""

from __future__ import annotations

import math
import random
import re
from dataclasses import replace

import pytest
from scipy import stats

from norvik.core.strokes import STROKES
from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.core.time.dial import Place, circular, dial_of
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


def breaststroke(cycles: int = 3, heels: float = 0.9, spread: float = 0.0) -> list[Mark]:
    """Cycles of 2 s: out 0, in 0.5, shoot 0.8, long 1.2; heels, set 0.3 and close 0.6 later."""
    text = []
    for n in range(cycles + 1):
        at = 2 * n
        text.append(f"out {at}")
        if n < cycles:
            text += [f"in {at + 0.5}", f"shoot {at + 0.8}", f"long {at + 1.2}"]
            begin = at + heels + (spread if n % 2 else -spread)
            text += [f"heels {begin}", f"set {begin + 0.3}", f"close {begin + 0.6}"]
    return marks("; ".join(text))


def test_arms_that_move_together_are_one_ring_and_legs_one_of_their_own() -> None:
    dial = dial_of(resolve(breaststroke(), STROKES["breaststroke"]))
    assert dial is not None
    assert (dial.lead, dial.cycles, dial.cycle_s) == ("both", 3, 2.0)
    arms, legs = dial.rings
    assert (arms.name, legs.name) == ("arms", "legs")
    assert [(a.phase, round(a.share, 6)) for a in arms.arcs] == [
        ("catch", 0.25), ("pull", 0.15), ("recovery", 0.2), ("entry", 0.4),
    ]  # fmt: skip
    # The glide is what is left of the circle: it is not drawn.
    assert [(a.phase, round(a.start.at, 6), round(a.share, 6), a.start.n) for a in legs.arcs] == [
        ("heels", 0.45, 0.15, 3), ("kick", 0.6, 0.15, 3),
    ]  # fmt: skip
    assert legs.dots == ()
    assert all(a.side == "" for a in (*arms.arcs, *legs.arcs))


def test_the_spread_of_a_place_is_told() -> None:
    dial = dial_of(resolve(breaststroke(4, spread=0.1), STROKES["breaststroke"]))
    assert dial is not None
    heels = dial.rings[1].arcs[0]
    assert heels.start.at == pytest.approx(0.45)
    # Two at 0.4 and two at 0.5 of the cycle.
    assert heels.start.sd == pytest.approx(stats.circstd([0.4, 0.5, 0.4, 0.5], high=1), abs=1e-9)


def test_legs_that_were_marked_in_part_show_that_part() -> None:
    swum = [m for m in breaststroke() if m.event != "close"]
    dial = dial_of(resolve(swum, STROKES["breaststroke"]))
    assert dial is not None
    assert [a.phase for a in dial.rings[1].arcs] == ["heels"]
    nothing = [m for m in breaststroke() if m.lane != "leg"]
    dial = dial_of(resolve(nothing, STROKES["breaststroke"]))
    assert dial is not None
    assert [r.name for r in dial.rings] == ["arms"]


def test_beats_are_dots_and_those_outside_of_whole_cycles_are_left_out() -> None:
    swim = steady_arm("right", 1, 2, 2)
    swim += marks("beat 0.5; beat 1; beat 2; beat 2.5; beat 4.5; beat 5; beat 6")
    dial = dial_of(resolve(swim, STROKES["freestyle"]))
    assert dial is not None
    (legs,) = (r for r in dial.rings if r.name == "legs")
    assert legs.dots == pytest.approx((0.0, 0.5, 0.75, 0.75))
    assert legs.arcs == ()
    without = dial_of(resolve(steady_arm("right", 1, 2, 2) + marks("beat 9"), STROKES["freestyle"]))
    assert without is not None
    assert [r.name for r in without.rings] == ["right arm"]


def test_the_arm_with_more_cycles_leads() -> None:
    swim = steady_arm("right", 0, 2, 2) + steady_arm("left", 1, 2, 4)
    dial = dial_of(resolve(swim, STROKES["freestyle"]))
    assert dial is not None
    assert (dial.lead, dial.cycles) == ("left", 4)
    left = next(r for r in dial.rings if r.name == "left arm")
    assert left.arcs[0].start.at == pytest.approx(0)


def test_breaths_that_were_marked_in_part() -> None:
    """Each part that has both ends is shown, of breaths within whole cycles."""
    swim = steady_arm("right", 0, 2, 4)
    for text, shown in (("R air 0.8; R down 1.2", ["air"]), ("R turn 0.5; R air 0.8", ["turn"]),
                        ("R turn 9.5; R air 9.8; R down 9.9", [])):  # fmt: skip
        dial = dial_of(resolve(swim + marks(text), STROKES["freestyle"]))
        assert dial is not None
        arcs = [a for r in dial.rings if r.name == "breath" for a in r.arcs]
        assert [(a.phase, a.side) for a in arcs] == [(phase, "right") for phase in shown]


def test_opposite_places_have_no_middle() -> None:
    """Half a circle apart: any middle is as good, and the spread says that none is."""
    found = circular([0.0, 0.5])
    assert found.sd > 0.5
    assert found.n == 2
    assert circular([0.25, 0.25, 0.25]) == Place(pytest.approx(0.25), pytest.approx(0, abs=1e-7), 3)
