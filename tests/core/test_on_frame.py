"""Findings from the frame: by measure, by choice, by side, by school, and what cannot be told."""

from __future__ import annotations

import pytest

from norvik.catalogue import load
from norvik.catalogue.loader import frame_band
from norvik.core.frame.measures import MEASURES
from norvik.core.judging.findings import find
from norvik.core.judging.judged import Finding, Seen
from norvik.core.judging.on_frame import Obstacle, OnFrame, Rule
from norvik.core.judging.ranking import ORDERS, PARTS, rank, stage_of
from norvik.core.time.compute import compute_timing
from norvik.core.time.quantities import Occurrence

CATALOGUE = load("freestyle")
EMPTY = compute_timing([], "freestyle", None)


def measured(
    what: str,
    *values: float,
    side: str = "",
    u: float | None = 0.5,
    schools: dict[str, str] | None = None,
    chosen: tuple[str, ...] = (),
    level: str = "",
) -> OnFrame:
    found = tuple(Occurrence(1.0 + n, v, side) for n, v in enumerate(values))
    band = None if chosen else frame_band(what, "freestyle", schools or {}, level)
    unit = MEASURES[what].unit if what in MEASURES else ""
    return OnFrame(what, what, unit, 1, side, found, u, band, chosen)


def six(value: float) -> list[float]:
    """Six takings that agree: enough to tell of the swimmer, as sure as they are clicked."""
    return 6 * [value]


def findings(
    *taken: OnFrame,
    schools: dict[str, str] | None = None,
    seen: tuple[Seen, ...] = (),
    obstacles: tuple[Obstacle, ...] = (),
) -> dict[str, Finding]:
    found = find(EMPTY, seen, CATALOGUE, "improver", schools or {}, taken, obstacles)
    return {f.id: f for f in found}


@pytest.mark.parametrize(
    ("level", "kind"), [("beginner", "watch"), ("improver", "fault"), ("advanced", "fault")]
)
def test_the_same_line_is_judged_by_level(level: str, kind: str) -> None:
    tables = CATALOGUE.for_level(level)
    taken = measured("body-line", 12, 12, level=level)
    (found,) = find(EMPTY, [], tables, level, {}, [taken])
    assert (found.id, found.kind) == ("legs-low", kind)
    words = {"beginner": ("for beginners",), "improver": (), "advanced": ("for advanced swimmers",)}
    assert found.schools == words[level]


def test_advanced_swimmers_lie_flatter() -> None:
    kinds = {}
    for level in ("improver", "advanced"):
        taken = measured("body-line", *six(9), u=0.2, level=level)
        (found,) = find(EMPTY, [], CATALOGUE.for_level(level), level, {}, [taken])
        kinds[level] = found.kind
    assert kinds == {"improver": "watch", "advanced": "fault"}


@pytest.mark.parametrize(
    ("what", "value", "fault"),
    [
        # Limits of the table of measures, each just passed.
        ("elbow-angle", 153, "straight-arm"),
        ("high-elbow", -7, "dropped-elbow"),
        ("head-trunk", 33, "head-forward"),
        ("body-line", 12, "legs-low"),
        ("reach-depth", 2.0, "reaches-down"),
        ("reach-order", 4, "brake-hand"),
        ("entry-line", -2, "crossing"),
        ("pull-width", 4, "pull-wide"),
        ("pull-width", -3, "pull-across"),
        ("knee-bend", 112, "kick-knees"),
        ("leg-spread", 4, "scissor"),
        ("entry-ahead", 4, "entry-far"),
        ("entry-line", 4.0, "entry-wide"),
        ("head-trunk", -41, "chin-tucked"),
        ("elbow-out", -4, "elbow-narrow"),
        ("hand-depth", 4, "arms-uneven-depth"),
        ("recovery-elbow", -3, "hand-above-elbow"),
        ("elbow-behind", 3, "exit-over-back"),
        ("entry-ahead", -2, "entry-close"),
        ("late-bend", 45, "late-catch"),
        ("body-roll", 20, "under-rotation"),
        ("body-roll", 72, "over-rotation"),
    ],
)
def test_a_measure_beyond_its_limit_is_the_fault_of_that_name(
    what: str, value: float, fault: str
) -> None:
    found = findings(measured(what, *six(value)))
    assert [f.id for f in found.values() if f.kind == "fault"] == [fault]
    assert found[fault].instants == (1.0, 2.0, 3.0, 4.0, 5.0, 6.0)
    assert found[fault].judged[0].reading.value == value


def test_within_the_uncertainty_nobody_can_tell() -> None:
    assert findings(measured("elbow-angle", *six(151), u=2.0))["straight-arm"].kind == "open"
    assert findings(measured("elbow-angle", *six(149), u=2.0))["straight-arm"].kind == "open"
    assert findings(measured("elbow-angle", *six(144), u=2.0))["straight-arm"].kind == "watch"
    # Nearer to good than to the fault, or outside good by less than the doubt: not worth a line.
    assert "straight-arm" not in findings(measured("elbow-angle", *six(138), u=2.0))
    assert "straight-arm" not in findings(measured("elbow-angle", *six(132), u=2.0))
    good = findings(measured("elbow-angle", *six(110), u=2.0))
    assert "straight-arm" not in good
    assert good["on-frame-elbow-angle"].kind == "strength"
    # One side good and the other not is no strength.
    both = findings(
        measured("elbow-angle", *six(110), side="left"),
        measured("elbow-angle", *six(140), side="right"),
    )
    assert "on-frame-elbow-angle" not in both


def test_a_tick_by_eye_is_not_praised_away() -> None:
    found = findings(measured("body-line", *six(3)), seen=(Seen("legs-low", "", "slight"),))
    assert found["legs-low"].seen
    assert "on-frame-body-line" not in found
    assert "on-frame-body-line" in findings(measured("body-line", *six(3)))


def test_side_share_and_severity() -> None:
    found = findings(
        measured("high-elbow", -20, -20, -4, -20, -20, -4, side="left"),
        measured("high-elbow", *six(6), side="right"),
    )["dropped-elbow"]
    assert found.kind == "fault"
    assert found.share == pytest.approx(2 / 3)
    assert found.severity == pytest.approx((88 / 6 - 5) / 15)
    assert found.instants == (1.0, 2.0, 4.0, 5.0)
    assert CATALOGUE.faults["dropped-elbow"].sided == (found.side == "left")
    worse = findings(measured("high-elbow", *six(-60)))["dropped-elbow"]
    assert worse.severity == 1.0
    assert worse.degree == "clear"


def test_two_schools_and_the_same_52_degrees() -> None:
    """Common practice: fine on a long axis, too much in a compact stroke."""
    for school, kind in (("long-axis", None), ("compact", "fault")):
        schools = {"roll": school}
        found = findings(measured("body-roll", *six(52), schools=schools), schools=schools)
        assert found.get("over-rotation", None) is None if kind is None else True
        if kind:
            assert found["over-rotation"].kind == kind
            assert found["over-rotation"].schools == ("Compact",)
        else:
            assert found["on-frame-body-roll"].schools == ("Long axis",)
    # A straighter arm may carry the hand above the elbow.
    schools = {"recovery": "straighter"}
    assert "hand-above-elbow" not in findings(
        measured("recovery-elbow", -3, schools=schools), schools=schools
    )


def test_what_was_chosen() -> None:
    contact = measured("first-contact", 0, 0, 0, 0, side="right",
                       chosen=("fingertips", "thumb", "thumb", "elbow"))  # fmt: skip
    found = findings(contact)
    assert found["thumb-first"].side == "right"
    assert found["thumb-first"].share == 0.5
    assert found["thumb-first"].instants == (2.0, 3.0)
    assert found["entry-slap"].share == 0.25
    # A tick by the coach's eye outweighs what was chosen.
    ticked = findings(contact, seen=(Seen("thumb-first", "right", "slight"),))
    assert ticked["thumb-first"].seen


def test_what_cannot_be_judged_opens_a_question() -> None:
    found = findings(obstacles=(Obstacle("elbow-angle", "bubbles hide it"),))
    assert found["straight-arm"].kind == "open"
    assert "bubbles hide it" in found["straight-arm"].says
    assert "front-under" in found["straight-arm"].says
    # One way of telling is enough: the other is still open.
    assert "scissor" not in findings(obstacles=(Obstacle("leg-spread", "too far away"),))


def test_sides_that_differ() -> None:
    assert Rule.read("body-roll~10") == Rule("body-roll", "", 10.0)
    assert Rule.read("first-contact=thumb").option == "thumb"
    for wrong in ("body-roll", "body roll<", "x~", "=y", ""):
        with pytest.raises(ValueError, match="^" + wrong.replace("(", "") + "$"):
            Rule.read(wrong)


def test_three_orders_of_work_and_pain_before_all_of_them() -> None:
    found = [
        Finding(i, "fault", i, "", severity=0.5, degree="clear")
        for i in ("dropped-elbow", "head-forward", "breath-held", "over-rotation", "overglide")
    ]
    order = {name: [r.fault.id for r in rank(found, CATALOGUE, (), name)] for name in ORDERS}
    assert order["line"] == [
        "head-forward",
        "over-rotation",
        "breath-held",
        "dropped-elbow",
        "overglide",
    ]
    assert order["breath"] == [
        "breath-held",
        "head-forward",
        "over-rotation",
        "dropped-elbow",
        "overglide",
    ]
    assert set(order["source"]) == set(order["line"])
    assert order["source"] != order["line"]
    lined = rank(found, CATALOGUE, (), "line")
    assert lined[0].reasons[0] == "Head comes first."
    assert lined[-1].reasons[0] == "Timing comes last."
    hurting = [*found, Finding("straight-arm", "fault", "", "", severity=0.1)]
    for name in ORDERS:
        first = rank(hurting, CATALOGUE, ("shoulder",), name)[0]
        assert "shoulder" in first.fault.loads
    assert {f.part for f in CATALOGUE.faults.values()} == set(PARTS)
    assert all(stage_of(f, "source") == 0 for f in CATALOGUE.faults.values())
