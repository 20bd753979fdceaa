"""What cannot be is refused to the word, and what just can be is taken: pools, plans, lenses."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction

import pytest

from norvik.core.errors import MeasureError, NorvikError, PlanError
from norvik.core.frame.geometry import Point
from norvik.core.frame.lens import Lens, check_lines
from norvik.core.frame.turned import turn_uncertainty, turned
from norvik.core.frame.uncertainty import checked_error, slopes, uncertainty
from norvik.core.pool import Pool
from norvik.core.prescription.plan import FocusRequest, PlanRequest


def refused(build: Callable[[], object], kind: type[NorvikError]) -> str:
    with pytest.raises(kind) as found:
        build()
    return found.value.sentence


# ---- pools ----


def test_a_pool_has_a_unit_and_a_length() -> None:
    assert refused(lambda: Pool(Fraction(25), "ft"), PlanError) == (
        "A pool is measured in metres (m) or yards (yd)."
    )
    for length in (Fraction(99, 10), Fraction(1001, 10)):
        assert refused(lambda n=length: Pool(n), PlanError) == (
            "A pool length lies between 10 and 100 m."
        )
        assert refused(lambda n=length: Pool(n, "yd"), PlanError) == (
            "A pool length lies between 10 and 100 yd."
        )
    assert Pool(Fraction(10)).metres == 10
    assert Pool(Fraction(100)).unit == "m"


def test_a_pool_says_distances_in_its_own_unit() -> None:
    assert Pool(Fraction(25)).says(4) == "100"
    assert Pool(Fraction(100, 3)).says(1) == "33.3"
    assert Pool(Fraction(100, 3)).says(3) == "100"
    assert Pool(Fraction(100, 3)).exactly(1) == "33 1/3"
    assert Pool(Fraction(100, 3)).exactly(2) == "66 2/3"
    assert Pool(Fraction(333, 10)).exactly(1) == "33.3"
    # One yard is 0.9144 m exactly.
    yards = Pool(Fraction(25), "yd")
    assert yards.metres == Fraction(2286, 100)
    assert yards.says(4) == "100"
    assert yards.lengths_near(100) == 4
    assert Pool(Fraction(25)).lengths_near(5) == 1
    assert Pool(Fraction(25)).lengths_near(62.6) == 3


# ---- what a plan is made from ----

MONDAY = date(2026, 11, 30)


def request(**change: object) -> PlanRequest:
    made = {
        "starts_on": MONDAY, "weekdays": (1, 3), "pool": Pool(Fraction(25)),
        "focuses": (FocusRequest("crossing"),), "metres": 2000, **change,
    }  # fmt: skip
    return PlanRequest(**made)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"weekdays": ()}, "Choose at least one day of the week to swim on."),
        ({"weekdays": (1, 7)}, "Choose at least one day of the week to swim on."),
        ({"focuses": ()}, "Choose at least one point to work on before planning."),
        ({"minutes": 60}, "Enter the session length in metres or minutes."),
        ({"metres": None}, "Enter the session length in metres or minutes."),
        ({"metres": 399},
         "A session needs at least 400 m: 200 m of technique and a warm-up."),
        ({"metres": 12001}, "A session has at most 12000 m."),
        ({"metres": None, "minutes": 9},
         "A session needs at least 400 m: 200 m of technique and a warm-up."),
        ({"aim_on": MONDAY}, "The aim lies before the start. Change one of the two days."),
        ({"aim_on": MONDAY + timedelta(weeks=52)}, "Plan at most 52 weeks at once."),
        ({"focuses": (FocusRequest("crossing", 0),)}, "One point gets between 1 and 12 weeks."),
        ({"focuses": (FocusRequest("crossing", 13),)}, "One point gets between 1 and 12 weeks."),
    ],
)  # fmt: skip
def test_a_plan_that_cannot_be_is_refused(change: dict[str, object], sentence: str) -> None:
    assert refused(lambda: request(**change), PlanError) == sentence


@pytest.mark.parametrize(
    "change",
    [
        {"weekdays": (0, 6)}, {"metres": 400}, {"metres": 12000},
        {"metres": None, "minutes": 10}, {"aim_on": MONDAY + timedelta(days=1)},
        {"aim_on": MONDAY + timedelta(weeks=52, days=-1)},
        {"focuses": (FocusRequest("crossing", 1), FocusRequest("scissor", 12))},
    ],
)  # fmt: skip
def test_a_plan_at_its_limits_is_taken(change: dict[str, object]) -> None:
    assert request(**change).starts_on == MONDAY


def test_minutes_are_metres_by_the_levels_pace() -> None:
    """All rests counted, 100 m take 210, 150 or 115 s: own choice."""
    for level, metres in (
        ("beginner", 6000 / 3.5),
        ("improver", 2400),
        ("advanced", 360_000 / 115),
    ):
        made = request(metres=None, minutes=60, level=level)
        assert made.session_metres == pytest.approx(metres)
    assert request(metres=None, minutes=60).session_lengths == 96
    yards = request(pool=Pool(Fraction(25), "yd"), metres=2000)
    assert yards.session_metres == pytest.approx(2000 * 0.9144)
    assert yards.session_lengths == 80


def test_the_first_week_is_the_first_with_a_session() -> None:
    assert request().monday == MONDAY
    thursday = MONDAY + timedelta(days=3)
    assert request(starts_on=thursday).monday == MONDAY
    friday = MONDAY + timedelta(days=4)
    assert request(starts_on=friday).monday == MONDAY + timedelta(weeks=1)
    assert request(starts_on=friday, from_first_session=False).monday == MONDAY
    assert request().weeks_until_aim is None
    assert request(aim_on=MONDAY + timedelta(days=1)).weeks_until_aim == 1
    assert request(aim_on=MONDAY + timedelta(days=6)).weeks_until_aim == 1
    assert request(aim_on=MONDAY + timedelta(days=7)).weeks_until_aim == 2
    # The aim in the week before the first session counts as one week.
    early = request(starts_on=friday, aim_on=MONDAY + timedelta(days=6))
    assert early.weeks_until_aim == 1


# ---- lines that tell how a lens bends ----

LENS = Lens(1280, 720)


def bent(k: float, y: float = 60.0, count: int = 9) -> list[Point]:
    """Where a lens shows a straight line: the points whose correction lies on it."""
    lens = replace(LENS, k=k)
    found = []
    for n in range(count):
        wanted = Point(60 + n * 1160 / (count - 1), y)
        at = wanted
        for _ in range(200):
            there = lens.correct(at)
            at = Point(at.x + 0.5 * (wanted.x - there.x), at.y + 0.5 * (wanted.y - there.y))
        found.append(at)
    return found


def test_lines_that_cannot_tell_are_refused() -> None:
    few = "Click at least three points along a line that is straight in the pool."
    straight = [Point(100, 50), Point(600, 50), Point(1100, 50)]
    assert refused(lambda: check_lines([], LENS, 3.0), MeasureError) == few
    assert refused(lambda: check_lines([straight, straight[:2]], LENS, 3.0), MeasureError) == few
    short = [Point(100, 50), Point(200, 50), Point(483, 50)]
    assert refused(lambda: check_lines([short], LENS, 3.0), MeasureError) == (
        "This line is too short to tell a bend. Click points from one side of the picture to the "
        "other."
    )
    twice = [Point(100, 50), Point(112, 50), Point(1100, 50)]
    assert refused(lambda: check_lines([twice], LENS, 3.0), MeasureError) == (
        "Spread the points along the line: two of them are on one place."
    )
    middle = [Point(x, 360) for x in (100, 400, 700, 1200)]
    assert refused(lambda: check_lines([middle], LENS, 3.0), MeasureError) == (
        "This line goes through the middle of the picture, where no lens bends it. Click one that "
        "runs along the rim."
    )


@pytest.mark.parametrize("k", [-0.35, -0.12, 0.0, 0.15])
def test_a_bend_is_found_again(k: float) -> None:
    found = check_lines([bent(k), bent(k, 660)], LENS, 3.0)
    assert found.lens.k == pytest.approx(k, abs=2e-4)
    assert found.left_px < 0.05
    # Sure by what the clicks can tell: more lines, or fewer errors, make it surer.
    alone = check_lines([bent(k)], LENS, 3.0)
    assert alone.lens.u_k > found.lens.u_k > 0
    assert check_lines([bent(k)], LENS, 6.0).lens.u_k == pytest.approx(2 * alone.lens.u_k, rel=0.01)


def test_points_that_fit_badly_make_the_bend_less_sure() -> None:
    line = bent(-0.2)
    rough = [Point(p.x, p.y + (12 if n % 2 else -12)) for n, p in enumerate(line)]
    sure, unsure = check_lines([line], LENS, 3.0), check_lines([rough], LENS, 3.0)
    assert unsure.lens.u_k > 3 * sure.lens.u_k
    assert unsure.left_px == pytest.approx(12, abs=4)
    assert sure.bend_px > 5


# ---- the error of a click, and of not being square to the camera ----


def test_slopes_are_those_of_the_measure() -> None:
    def area(p: object) -> float:
        (a, b) = p  # type: ignore[misc]
        return (b.x - a.x) * (b.y - a.y)

    found = slopes(area, [Point(10, 20), Point(40, 60)])
    assert found == pytest.approx([-40, -30, 40, 30])
    assert uncertainty(area, [Point(10, 20), Point(40, 60)], 2.0) == pytest.approx(
        2 * math.hypot(40, 30, 40, 30)
    )
    assert uncertainty(area, [Point(10, 20), Point(40, 60)]) == pytest.approx(
        3 * math.hypot(40, 30, 40, 30)
    )


def test_at_a_corner_the_steeper_side_counts() -> None:
    for measure, slope in (
        (lambda p: abs(p[0].x - 5), 1.0),
        (lambda p: max(0.0, p[0].x - 5) * 3, 3.0),
        (lambda p: min(0.0, p[0].x - 5) * 2, 2.0),
    ):
        assert abs(slopes(measure, [Point(5, 0)])[0]) in (
            pytest.approx(slope), pytest.approx(slope / 2)
        )  # fmt: skip
    assert abs(slopes(lambda p: abs(p[0].x - 5), [Point(5, 0)])[0]) == pytest.approx(1.0)


def test_a_click_error_is_a_number() -> None:
    assert checked_error(0) == 0
    assert checked_error(2.5) == 2.5
    for error in (-0.1, math.nan, math.inf):
        assert refused(lambda e=error: checked_error(e), MeasureError) == (
            "The click error must be a number of pixels, 0 or more."
        )


def test_a_plane_turned_about_the_vertical() -> None:
    """Worked by hand: in the middle of the picture, seen from the focal length away.

    A point 100 px to the right of the middle of a plane that is turned by 30 degrees: its ray meets
    that plane where x cos(30) = d and the depth is f + d tan(30) along it.
    """
    points = [Point(540, 360), Point(740, 360)]
    f = LENS.focal_px
    left, right = turned(points, LENS, 30, 0)
    slope = math.tan(math.radians(30))
    for at, x in ((left, -100), (right, 100)):
        away = 1 / (1 + slope * x / f)
        along = x * away / math.cos(math.radians(30))
        assert at == (pytest.approx(640 + along), pytest.approx(360))
    assert turned(points, LENS, 0, 0) == [(pytest.approx(p.x), pytest.approx(p.y)) for p in points]


def test_a_plane_turned_about_the_horizontal() -> None:
    points = [Point(640, 260), Point(640, 460)]
    f = LENS.focal_px
    slope = math.tan(math.radians(20))
    for at, y in zip(turned(points, LENS, 0, 20), (-100, 100), strict=True):
        away = 1 / (1 + slope * y / f)
        assert at == (
            pytest.approx(640),
            pytest.approx(360 + y * away / math.cos(math.radians(20))),
        )


def test_the_middle_of_the_first_points_stays() -> None:
    points = [Point(300, 200), Point(500, 300), Point(900, 650)]
    for among, middle in ((2, (400, 250)), (None, (1700 / 3, 1150 / 3))):
        # As small as the plane becomes, what lies in its middle does not move.
        probe = [*points, Point(*middle)] if among is None else [*points[:2], Point(*middle)]
        found = turned(probe, LENS, 25, 10, 2 if among else 3)
        assert found[-1] == (pytest.approx(middle[0]), pytest.approx(middle[1]))


def test_not_being_square_to_the_camera_makes_lengths_unsure() -> None:
    def length(p: object) -> float:
        a, b = p  # type: ignore[misc]
        return math.hypot(b.x - a.x, b.y - a.y)

    points = [Point(540, 360), Point(740, 360)]
    assert turn_uncertainty(length, points, LENS, 0) == 0
    u = turn_uncertainty(length, points, LENS)
    # About the vertical it becomes longer by 1 / cos; about the horizontal it stays.
    far = math.radians(math.sqrt(3) * 18)
    longer = [length(turned(points, LENS, s * math.degrees(far), 0)) - 200 for s in (1, -1)]
    assert u == pytest.approx(math.sqrt(sum(d**2 for d in longer) / 6))
    assert u > turn_uncertainty(length, points, LENS, 9)


def test_a_turn_that_gives_no_measure_counts_as_unchanged() -> None:
    calls = []

    def measure(p: object) -> float:
        calls.append(p)
        if len(calls) in (2, 4):
            raise MeasureError("Not to be seen.")
        return 10.0 if len(calls) == 1 else 13.0

    # Two of four turns tell: 3 away each, of six parts.
    u = turn_uncertainty(measure, [Point(1, 1), Point(2, 2)], LENS)
    assert u == pytest.approx(math.sqrt(2 * 9 / 6))
