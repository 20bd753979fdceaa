"""Quantities of breaststroke, butterfly and walls against values worked out by hand."""

from __future__ import annotations

import math

import pytest

from norvik.catalogue import load
from norvik.core.judging.findings import find
from norvik.core.time.compute import compute_timing
from norvik.core.time.marker import GRID_ALONE
from norvik.core.time.quantities import QUANTITIES, Reading
from norvik.core.time.timing import Timing
from tests.marking import marks


def timing(text: str, stroke: str, frame_s: float | None = 0.02) -> Timing:
    return compute_timing(marks(text), stroke, frame_s, 25.0, GRID_ALONE)


def read(name: str, of: Timing) -> Reading:
    found = QUANTITIES[name].read(of)
    assert found is not None, name
    return found


#: Cycles of 1.6 s: in after 0.4, shoot 0.8, long 1.1; heels 0.1 after the shoot, set 0.5 later;
#: air 0.08 s before the hands turn in.
BREAST = (
    "; ".join(
        f"B out {t:.2f}; B in {t + 0.4:.2f}; B shoot {t + 0.8:.2f}; B long {t + 1.1:.2f}; "
        f"heels {t + 0.9:.2f}; set {t + 1.4:.2f}; close {t + 1.55:.2f}; "
        f"F turn {t + 0.2:.2f}; F air {t + 0.32:.2f}; F down {t + 0.9:.2f}"
        for t in (0.0, 1.6, 3.2)
    )
    .replace("B out", "out")
    .replace("B in", "in")
    .replace("B shoot", "shoot")
    .replace("B long", "long")
    + "; out 4.8"
)


def test_breaststroke_by_hand() -> None:
    of = timing(BREAST, "breaststroke")
    assert read("breast-pull-share", of).value == pytest.approx(25.0)
    assert read("heel-share", of).value == pytest.approx(100 * 0.5 / 1.6)
    assert read("t2", of).value == pytest.approx(100 * 0.1 / 1.6)
    early = read("breath-in-sweep", of)
    assert early.value == pytest.approx(-100 * 0.08 / 1.6)
    # Two marks on frames of 0.02 s, three breaths.
    # The marks of the cycle add their part to that of the gap's own two.
    assert early.u == pytest.approx(100 * 0.02 / math.sqrt(6) / 1.6 / math.sqrt(3), rel=1e-3)
    assert len(early.occurrences) == 3
    for name in ("fly-breath", "fly-beats", "entry-share"):
        assert QUANTITIES[name].read(of) is None


#: Cycles of 1.2 s: catch 0.2, press 0.3, exit 0.7; air 0.06 after the exit; face in 0.06 after the
#: hands landed; three beats a cycle.
FLY = (
    "; ".join(
        f"entry {t:.2f}; catch {t + 0.2:.2f}; press {t + 0.3:.2f}; exit {t + 0.7:.2f}; "
        f"B beat {t + 0.05:.2f}; B beat {t + 0.35:.2f}; B beat {t + 0.65:.2f}; "
        f"F air {t + 0.76:.2f}; F down {t + 1.26:.2f}"
        for t in (0.0, 1.2, 2.4, 3.6)
    )
    + "; entry 4.8; B beat 4.85"
)


def test_butterfly_by_hand_and_what_it_finds() -> None:
    of = timing(FLY, "butterfly")
    assert read("fly-breath", of).value == pytest.approx(5.0)
    assert read("fly-head-return", of).value == pytest.approx(-5.0)
    assert read("fly-breaths", of).value == pytest.approx(1.0)
    assert read("fly-reach-share", of).value == pytest.approx(100 * 0.2 / 1.2)
    assert read("fly-beats", of).value == pytest.approx(3.0)
    tables = load("butterfly")
    found = {f.id: f.kind for f in find(of, (), tables, "improver", {})}
    assert {k for k, kind in found.items() if kind == "fault"} == {
        "fly-late-breath",
        "fly-head-late",
        "fly-extra-kick",
    }
    # A coach who lets every stroke breathe sees no fault in it.
    free = find(of, (), tables, "improver", {"fly-breathing": "every"})
    assert "fly-every-breath" not in {f.id for f in free}


def wall(push: float, dolphins: int, flutters: int, first_exit_before_air: int) -> str:
    """A turn: touch 1 s before the push, kicks every 0.3 s, breakout, strokes, a breath."""
    said = [f"touch {push - 1:.2f}", f"push {push:.2f}"]
    t = push + 0.4
    for side in ["B"] * dolphins + ["L", "R"] * (flutters // 2):
        said.append(f"{side} beat {t:.2f}")
        t += 0.3
    said.append(f"breakout {t:.2f}")
    for n in range(first_exit_before_air):
        said.append(f"{'R' if n % 2 else 'L'} exit {t + 0.3 + 0.5 * n:.2f}")
    said.append(f"L air {t + 0.4 + 0.5 * first_exit_before_air:.2f}")
    return "; ".join(said)


def test_walls_by_hand_and_what_they_find() -> None:
    one = timing(f"R entry 8.3; {wall(10, 2, 0, 1)}", "freestyle")
    assert read("glide-in", one).value == pytest.approx(0.7)
    assert read("turn-time", one).value == pytest.approx(1.0)
    assert read("wall-dolphins", one).value == 2
    assert read("wall-flutters", one).value == 0
    assert read("wall-first-breath", one).value == 1
    assert QUANTITIES["wall-count-spread"].read(one) is None
    found = {f.id for f in find(one, (), load("freestyle"), "improver", {}) if f.kind == "fault"}
    assert found == {"wall-few-kicks", "wall-no-flutter", "wall-breath-first"}
    # One turn of 1.0 s against a limit of 0.9 s does not tell of the swimmer's turns.
    found = {f.id: f.kind for f in find(one, (), load("freestyle"), "improver", {})}
    assert found["wall-turn-slow"] == "open"
    # With both hands a second at the wall is fine.
    assert "wall-turn-slow" not in {
        f.id for f in find(timing("touch 9; push 10", "butterfly"), (), load("butterfly"),
                           "improver", {})
    }  # fmt: skip
    three = timing("; ".join((wall(10, 5, 4, 3), wall(40, 5, 4, 3), wall(70, 3, 4, 3))),
                   "freestyle")  # fmt: skip
    assert read("wall-count-spread", three).value == 2
    assert read("wall-dolphins", three).value == pytest.approx(13 / 3)
    found = {f.id for f in find(three, (), load("freestyle"), "improver", {}) if f.kind == "fault"}
    assert {"wall-count-changes", "wall-turn-slow"} <= found
    assert "wall-few-kicks" not in found


def test_a_wall_without_kicks_marked_says_nothing() -> None:
    bare = timing("push 10; breakout 13", "freestyle")
    assert QUANTITIES["wall-dolphins"].read(bare) is None
    assert QUANTITIES["wall-first-breath"].read(bare) is None
    assert read("under-water", bare).value == pytest.approx(3.0)
