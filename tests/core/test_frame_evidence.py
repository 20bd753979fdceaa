"""What a measure on the frame says of a fault, at and around its limits, field by field."""

from __future__ import annotations

from dataclasses import replace

import pytest

from norvik.catalogue import load
from norvik.core.judging import on_frame
from norvik.core.judging.coaching_model import Band, Fault
from norvik.core.judging.judged import Finding
from norvik.core.judging.on_frame import Obstacle, OnFrame, by_frame, hidden, strengths_on_frame
from norvik.core.time.quantities import Occurrence

CATALOGUE = load("freestyle")
#: Good from 20 to 30, a fault under 10 and over 50, at its worst 20 beyond.
BAND = Band("made-up", "lean", "own", good_from=20, good_to=30, fault_below=10, fault_above=50,
            full=20.0, praise="Leans well.")  # fmt: skip
FAULT = Fault("made-up", "Leans", "It leans.", "Why.", "Cue.", (), ("side-under",), (),
              shown_by=("lean>",), sided=True)  # fmt: skip


@pytest.fixture(autouse=True)
def margins(monkeypatch: pytest.MonkeyPatch) -> None:
    """Twice the uncertainty of the takings: what a margin is made of has tests of its own."""
    monkeypatch.setattr(on_frame, "margin_of", lambda what, unit, reading: 2 * (reading.u or 0.0))


def taken(*values: float, side: str = "left", u: float | None = 1.0, band: Band | None = BAND,
          least: int = 1, what: str = "lean", chosen: tuple[str, ...] = ()) -> OnFrame:  # fmt: skip
    found = tuple(Occurrence(1.0 + n, v, side) for n, v in enumerate(values))
    return OnFrame(what, "Lean", "°", 1, side, found, u, band, chosen, least)


def says(*measures: OnFrame, shown_by: tuple[str, ...] = ("lean>",)) -> Finding | None:
    return by_frame(replace(FAULT, shown_by=shown_by), measures, CATALOGUE, {})


@pytest.mark.parametrize(
    ("value", "kind"),
    [
        (52.1, "fault"),  # more than the margin beyond
        (52.0, "open"),
        (50.0, "open"),
        (48.1, "open"),
        (48.0, "watch"),  # as far inside as the margin, and nearer to the fault than to good
        (40.1, "watch"),
        (40.0, None),  # the middle between good and fault is near neither
        (32.1, None),
        (25.0, None),
        (5.0, None),  # a fault in the other direction is none in this one
    ],
)
def test_over_a_limit(value: float, kind: str | None) -> None:
    found = says(taken(value))
    assert (found.kind if found else None) == kind


@pytest.mark.parametrize(
    ("value", "kind"),
    [(7.9, "fault"), (8.0, "open"), (11.9, "open"), (12.0, "watch"), (14.9, "watch"), (15.0, None),
     (55.0, None)],
)  # fmt: skip
def test_under_a_limit(value: float, kind: str | None) -> None:
    found = says(taken(value), shown_by=("lean<",))
    assert (found.kind if found else None) == kind


def test_without_uncertainty_the_value_is_taken_as_it_is() -> None:
    kinds = {v: says(taken(v, u=None)) for v in (50.0, 50.01, 41.0)}
    assert kinds[50.01] is not None
    assert kinds[50.01].kind == "fault"
    assert kinds[50.0] is not None
    assert kinds[50.0].kind == "watch"
    assert kinds[41.0] is not None
    assert kinds[41.0].kind == "watch"


def test_a_band_open_on_that_side_says_nothing() -> None:
    assert says(taken(90, band=replace(BAND, fault_above=None))) is None
    assert says(taken(1, band=replace(BAND, fault_below=None)), shown_by=("lean<",)) is None
    # Without a good end nothing is watched; the limit itself holds.
    no_good = replace(BAND, good_to=None)
    assert says(taken(48.0, band=no_good)) is None
    found = says(taken(53.0, band=no_good))
    assert found is not None
    assert found.kind == "fault"
    assert says(taken(90, band=None)) is None


def test_a_fault_in_every_field() -> None:
    found = says(taken(70.0, 56.0, 48.0))
    assert found is not None
    assert (found.id, found.title, found.says, found.side) == (
        "made-up",
        "Leans",
        "It leans.",
        "left",
    )
    # The mean, 58, is 8 beyond: 0.4 of the 20 at which it is at its worst, in two of three takings.
    assert found.severity == pytest.approx(0.4)
    assert found.degree == "clear"
    assert found.share == pytest.approx(2 / 3)
    assert found.instants == (1.0, 2.0)
    (judged,) = found.judged
    assert judged.band is BAND
    assert (judged.verdict, judged.side) == ("fault", "left")
    assert judged.beyond == pytest.approx(8.0)
    assert (judged.reading.value, judged.reading.u) == (pytest.approx(58.0), 1.0)
    assert [o.value for o in judged.reading.occurrences] == [70.0, 56.0, 48.0]
    quantity = judged.quantity
    assert (quantity.id, quantity.name, quantity.unit, quantity.digits) == (
        "lean",
        "Lean, left",
        "°",
        1,
    )
    assert found.schools == ()


def test_severity_keeps_between_the_least_and_one() -> None:
    slight, worst = says(taken(52.5)), says(taken(90.0))
    assert slight is not None
    assert worst is not None
    assert (slight.severity, slight.degree) == (pytest.approx(0.125), "slight")
    assert (worst.severity, worst.degree) == (1.0, "clear")
    barely = says(taken(51.0, u=0.1))
    assert barely is not None
    assert barely.severity == pytest.approx(0.1)


@pytest.mark.parametrize(
    ("value", "kind", "verdict"), [(50.5, "open", "unsure"), (45.0, "watch", "watch")]
)
def test_what_is_no_fault_has_no_severity_and_shows_all(
    value: float, kind: str, verdict: str
) -> None:
    found = says(taken(value, value))
    assert found is not None
    assert (found.kind, found.severity) == (kind, 0.0)
    (judged,) = found.judged
    assert judged.verdict == verdict
    assert judged.beyond == pytest.approx(value - 50)
    assert found.instants == (1.0, 2.0)
    assert found.share == 1.0


def test_too_few_takings_are_watched() -> None:
    few, enough = says(taken(60.0, 60.0, least=3)), says(taken(60.0, 60.0, least=2))
    assert few is not None
    assert enough is not None
    assert (few.kind, enough.kind) == ("watch", "fault")


def test_the_worst_of_several_measures_speaks_and_all_are_evidence() -> None:
    found = says(taken(54.0, side="left"), taken(62.0, 44.0, 70.0, side="right"))
    assert found is not None
    assert found.side == ""  # on both sides
    assert found.share == pytest.approx(2 / 3)
    assert found.severity == pytest.approx((176 / 3 - 50) / 20)
    assert [j.side for j in found.judged] == ["left", "right"]
    assert found.instants == (1.0, 3.0)
    # What is a fault goes before what cannot be told.
    mixed = says(taken(60.0, side="left"), taken(50.0, side="right"))
    assert mixed is not None
    assert (mixed.kind, mixed.side, len(mixed.judged)) == ("fault", "left", 1)
    open_first = says(taken(50.0, side="left"), taken(45.0, side="right"))
    assert open_first is not None
    assert open_first.kind == "open"


def test_a_fault_without_sides_names_none() -> None:
    found = by_frame(replace(FAULT, sided=False), [taken(60.0)], CATALOGUE, {})
    assert found is not None
    assert found.side == ""
    plain = says(taken(60.0, side=""))
    assert plain is not None
    assert plain.judged[0].quantity.name == "Lean"


@pytest.mark.parametrize(
    ("left", "right", "kind"),
    [
        (20.0, 32.9, "fault"),  # 12.9 apart, 2.9 beyond 10, margin 2 root 2 = 2.83
        (20.0, 32.8, "open"),
        (20.0, 27.2, "open"),
        (20.0, 27.1, None),
        (32.9, 20.0, "fault"),
        (20.0, 20.0, None),
    ],
)
def test_left_and_right_apart(left: float, right: float, kind: str | None) -> None:
    found = says(taken(left, side="left"), taken(right, side="right"), shown_by=("lean~10",))
    assert (found.kind if found else None) == kind
    if found is not None:
        assert found.side == ("left" if left < right else "right")  # the flatter one
        assert found.share == 1.0
        assert found.judged == ()
        assert found.instants == (1.0,)
        if kind == "fault":
            assert found.severity == pytest.approx(0.29)


def test_one_side_alone_is_not_apart() -> None:
    assert says(taken(90.0, side="left"), shown_by=("lean~10",)) is None
    assert says(taken(90.0, side=""), taken(1.0, side="left"), shown_by=("lean~10",)) is None
    sure = says(taken(10.0, side="left", u=None), taken(20.5, side="right", u=None),
                shown_by=("lean~10",))  # fmt: skip
    assert sure is not None
    assert (sure.kind, sure.severity) == ("fault", pytest.approx(0.1))


def test_an_option_that_was_chosen() -> None:
    chosen = taken(0, 0, 0, 0, chosen=("thumb", "palm", "thumb", "palm"), band=None)
    found = says(chosen, shown_by=("lean=thumb",))
    assert found is not None
    assert (found.kind, found.degree, found.share) == ("fault", "clear", 0.5)
    assert found.severity == pytest.approx(0.8)
    assert found.instants == (1.0, 3.0)
    assert says(chosen, shown_by=("lean=little-finger",)) is None
    assert says(chosen, shown_by=("other=thumb",)) is None


@pytest.mark.parametrize(
    ("value", "praised"),
    [
        (25.0, True),
        (22.0, True),
        (28.0, True),
        (21.9, False),
        (28.1, False),
        (35.0, False),
        (60.0, False),
    ],
)
def test_only_what_is_surely_good_is_praised(value: float, praised: bool) -> None:
    found = strengths_on_frame([taken(value)], set(), CATALOGUE, {})
    assert bool(found) == praised


def test_praise_in_every_field_and_once_for_both_sides() -> None:
    measures = [taken(25.0, 26.0, side="left"), taken(24.0, side="right")]
    (found,) = strengths_on_frame(measures, set(), CATALOGUE, {})
    assert (found.id, found.kind, found.title) == ("on-frame-lean", "strength", "Lean, left")
    assert (found.says, found.degree, found.severity) == ("Leans well.", "clear", 0.5)
    assert found.instants == (1.0,)
    assert [j.side for j in found.judged] == ["left", "right"]
    assert [j.verdict for j in found.judged] == ["good", "good"]
    assert found.judged[0].beyond == pytest.approx(
        10 - 25.5 if 10 - 25.5 > 25.5 - 50 else 25.5 - 50
    )
    assert found.schools == ()


def test_no_praise_where_one_side_or_a_fault_says_otherwise() -> None:
    good, bad = taken(25.0, side="left"), taken(40.0, side="right")
    assert strengths_on_frame([good, bad], set(), CATALOGUE, {}) == []
    assert strengths_on_frame([bad, good], set(), CATALOGUE, {}) == []
    assert strengths_on_frame([good], {"lean"}, CATALOGUE, {}) == []
    silent = [taken(25.0, band=replace(BAND, praise="")), taken(25.0, band=None), taken()]
    assert strengths_on_frame(silent, set(), CATALOGUE, {}) == []
    # What says nothing does not keep what comes after it from being praised.
    (found,) = strengths_on_frame([*silent, good], set(), CATALOGUE, {})
    assert found.kind == "strength"


def test_what_cannot_be_judged_is_open_only_when_nothing_else_shows_it() -> None:
    two = replace(FAULT, shown_by=("lean>", "tilt<"))
    bubbles, far = Obstacle("lean", "bubbles hide it"), Obstacle("tilt", "too far away")
    assert hidden(two, [bubbles]) is None
    assert hidden(replace(FAULT, shown_by=()), [bubbles]) is None
    found = hidden(two, [bubbles, far, Obstacle("other", "x")])
    assert found is not None
    assert (found.id, found.kind, found.title) == ("made-up", "open", "Leans")
    assert found.says == (
        "Can't be judged on this clip: bubbles hide it, too far away. Film it again: side-under."
    )
    same = hidden(two, [bubbles, Obstacle("tilt", "bubbles hide it")])
    assert same is not None
    assert same.says.count("bubbles") == 1
