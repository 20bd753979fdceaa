"""How a point stands over the clips; where to aim beyond the target; what to film again."""

from __future__ import annotations

from datetime import date

import pytest

from norvik.catalogue import load
from norvik.catalogue.loader import frame_band
from norvik.core.followup.focus_status import ADVICE, Later, next_point, status_of
from norvik.core.followup.refilm import instants_of, refilm
from norvik.core.frame.clock import oclock
from norvik.core.judging.coaching_model import Band
from norvik.core.prescription.overcorrect import CAPS, aim_of

CATALOGUE = load("freestyle")
BEGUN = date(2026, 9, 1)


def later(month: int, *verdicts: str, kind: str = "", answer: str = "") -> Later:
    return Later(month, date(2026, month, 1), verdicts, kind, answer)


@pytest.mark.parametrize(
    ("steps", "state"),
    [
        ([], "working"),
        ([later(10, "better", kind="fault")], "better"),
        # Better, and whether it is still a fault nobody can tell: not fixed yet.
        ([later(10, "better", kind="open")], "better"),
        ([later(10, "better", kind="watch")], "better"),
        ([later(10, "better")], "gone"),
        ([later(10, "same", kind="fault")], "same"),
        # One measure got better and another one worse: that is no success.
        ([later(10, "better", "worse")], "worse"),
        ([later(10, kind="fault")], "still"),
        # Silence is never success: only an answer moves what is not measured.
        ([later(10)], "unclear"),
        ([later(10, answer="unseen")], "unclear"),
        ([later(10, answer="gone")], "gone"),
        ([later(10, answer="better")], "better"),
        ([later(10, answer="still")], "still"),
        # A measure that got worse, or is still a fault, stands against "gone".
        ([later(10, "worse", answer="gone")], "worse"),
        ([later(10, "same", kind="fault", answer="gone")], "better"),
        ([later(10, "same", answer="gone")], "gone"),
        # The newest clip that tells decides, in order of days.
        ([later(11, "worse"), later(10, "better")], "worse"),
        ([later(10, "better"), later(11)], "gone"),
    ],
)
def test_how_a_point_stands(steps: list[Later], state: str) -> None:
    made = status_of("freestyle", "crossing", BEGUN, 1, steps)
    assert made.state == state
    assert made.advice == ADVICE[state]
    assert (made.ends_on is not None) == (state == "gone")
    assert list(made.steps) == sorted(made.steps, key=lambda s: s.on)


def test_what_the_coach_says_stands_before_the_numbers() -> None:
    made = status_of(
        "freestyle", "crossing", BEGUN, 1, [later(10, "worse")], "done", date(2026, 10, 2)
    )
    assert (made.state, made.ends_on) == ("done", date(2026, 10, 2))
    assert next_point(["crossing", "legs-low"], [made]) == "legs-low"
    assert next_point(["crossing"], [made]) is None


def test_aim_beyond_the_target_as_in_the_worked_example() -> None:
    """Common practice: now at 12, it belongs at 1: aim for 2 to 3."""
    band = frame_band("entry-line", "freestyle", {})
    made = aim_of("entry-line", "right", 0.0, band)
    assert made is not None
    assert oclock(made.now, "right") == "12 o'clock"
    assert oclock(made.target, "right") == "1 o'clock"
    assert oclock(made.aim, "right") in ("2 o'clock", "half past 2", "3 o'clock")
    assert made is not None
    assert (made.measure, made.side) == ("entry-line", "right")
    left = aim_of("entry-line", "left", 0.0, band)
    assert left is not None
    assert oclock(left.aim, "left") == "10 o'clock"
    far = aim_of("entry-line", "right", -3.0, band)
    assert far is not None
    assert far.aim - far.target == pytest.approx(CAPS["entry-line"])
    # Too wide is aimed at from the other side.
    wide = aim_of("entry-line", "right", 1.8, band)
    assert wide is not None
    assert wide.aim < wide.target < wide.now
    assert aim_of("entry-line", "right", 1.0, band) is None
    assert aim_of("body-line", "", 20.0, frame_band("body-line", "freestyle", {})) is None
    assert aim_of("entry-line", "right", float("nan"), band) is None


def test_what_to_film_again_is_as_little_as_possible() -> None:
    f = CATALOGUE.faults
    shots = refilm([f["legs-low"], f["crossing"]], [], "side-under", CATALOGUE, {})
    assert [s.view for s in shots] == ["side-under", "front-under"]
    assert shots[1].instants == ("entry",)
    # One more view serves two points.
    shots = refilm([f["crossing"], f["pull-wide"]], [], "side-under", CATALOGUE, {})
    assert [s.view for s in shots] == ["front-under"]
    assert shots[0].shows == ("Crosses over at entry", "Pull too wide")
    # A question asks for another view than the one that left it open.
    shots = refilm([], [f["scissor"]], "behind", CATALOGUE, {})
    assert shots[0].view == "front-under"
    assert instants_of(f["breath-held"], CATALOGUE, {}) == ["marks for “exhaling under water”"]
    assert instants_of(f["stiff-ankles"], CATALOGUE, {}) == ["five whole cycles"]


def test_nobody_aims_beyond_from_the_very_end_of_good() -> None:
    band = Band("x", "entry-line", "own", good_from=-0.5, good_to=0.5, fault_above=1.0)
    assert aim_of("entry-line", "left", 0.5, band) is None
    assert aim_of("entry-line", "left", -0.5, band) is None
    below, above = aim_of("entry-line", "left", -0.6, band), aim_of("entry-line", "left", 0.6, band)
    assert below is not None
    assert above is not None
    assert (below.target, below.aim) == (0.0, pytest.approx(0.6))
    assert (above.target, above.aim) == (0.0, pytest.approx(-0.6))
    one_end = Band("x", "reach-depth", "own", good_to=0.4, fault_above=0.6)
    deep = aim_of("reach-depth", "right", 0.5, one_end)
    assert deep is not None
    assert (deep.target, deep.aim) == (0.4, pytest.approx(0.3))
    # Never further beyond than its cap.
    far = aim_of("reach-depth", "right", 1.4, one_end)
    assert far is not None
    assert far.aim == pytest.approx(0.4 - CAPS["reach-depth"])
