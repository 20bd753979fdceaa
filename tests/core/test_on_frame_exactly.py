"""What frames say of a made-up fault, at its limits to the last bit; u of 0 and no unit of its own
leave a margin of 0, so that an equal value can be reached.
"""

from __future__ import annotations

from dataclasses import replace

import pytest

from norvik.catalogue import load
from norvik.core.judging.coaching_model import Band, Fault
from norvik.core.judging.judged import Finding
from norvik.core.judging.on_frame import (
    Obstacle,
    OnFrame,
    absent_on_frame,
    by_frame,
    hidden,
    strengths_on_frame,
)
from norvik.core.time.compute import compute_timing
from norvik.core.time.quantities import Occurrence

CATALOGUE = load("freestyle")
#: Good from 20 to 40, fault under 10 and over 50; a severity of 1 lies 20 beyond.
BAND = Band("angle-band", "angle", "made up", 20, 40, 10, 50, full=20.0, praise="Well angled.")


def fault(*shown_by: str, sided: bool = True) -> Fault:
    return Fault(
        id="made-up", name="Made up", shows="it shows", why="because", cue="do", costs=("drag",),
        views=("side, under water",), drills=(), shown_by=shown_by, sided=sided,
    )  # fmt: skip


def taken(
    *values: float, what: str = "angle", side: str = "", band: Band | None = BAND, least: int = 1,
    u: float | None = None, begin: float = 1.0, chosen: tuple[str, ...] = (),
) -> OnFrame:  # fmt: skip
    found = tuple(Occurrence(begin + n, v, side) for n, v in enumerate(values))
    return OnFrame(what, "Angle", "°", 1, side, found, u, band, chosen, least)


def said(one: Fault, *of: OnFrame) -> Finding | None:
    return by_frame(one, of, CATALOGUE, {})


UNDER, OVER = fault("angle<"), fault("angle>")


@pytest.mark.parametrize(
    ("value", "kind"),
    [(9.9, "fault"), (10.0, "watch"), (14.9, "watch"), (15.0, None), (20.0, None), (30.0, None)],
)
def test_under_a_limit_that_is_surely_known(value: float, kind: str | None) -> None:
    found = said(UNDER, taken(value))
    assert (found.kind if found else None) == kind
    mirrored = said(OVER, taken(60 - value))
    assert (mirrored.kind if mirrored else None) == kind


def test_within_the_margin_of_a_limit_it_is_open_unless_it_is_good() -> None:
    two = taken(12.0, 12.4, u=1.0)
    assert 2.2 < two.margin < 40
    wide = said(UNDER, two)
    assert wide is not None
    assert (wide.kind, wide.judged[0].verdict, wide.severity) == ("open", "unsure", 0.0)
    assert wide.judged[0].margin == two.margin
    # As far off its limit, but inside the good range: not against the swimmer.
    near = replace(BAND, good_from=12.0)
    assert said(UNDER, taken(12.0, 12.4, u=1.0, band=near)) is None
    edge = replace(BAND, good_from=12.3)
    inside = said(UNDER, taken(12.0, 12.4, u=1.0, band=edge))
    assert inside is not None
    assert inside.kind == "open"
    # Without a good range there is no good side: whatever lies within the margin is open.
    bare = said(UNDER, taken(12.0, 12.4, u=1.0, band=replace(BAND, good_from=None)))
    assert bare is not None
    assert bare.kind == "open"


def test_too_few_takings_are_to_be_watched_only() -> None:
    few = said(UNDER, taken(4.0, 5.0, least=3))
    assert few is not None
    assert (few.kind, few.severity, few.judged[0].verdict) == ("watch", 0.0, "watch")
    enough = said(UNDER, taken(4.0, 5.0, least=2))
    assert enough is not None
    assert enough.kind == "fault"


def test_severity_share_and_which_takings_show_it() -> None:
    found = said(UNDER, taken(2.0, 10.0, 4.0, 9.5))
    assert found is not None
    mean = 25.5 / 4
    assert found.severity == pytest.approx((10 - mean) / 20)
    # One that lies on the limit does not show it, one half a degree under it does.
    assert (found.share, found.instants) == (0.75, (1.0, 3.0, 4.0))
    one = found.judged[0]
    assert (one.quantity.name, one.margin) == ("Angle", 0.0)
    assert one.quantity.of(compute_timing([], "freestyle")) is None
    assert (one.verdict, one.band, one.side) == ("fault", BAND, "")
    assert one.beyond == pytest.approx(10 - mean)
    # Slight under 0.4; a fault is never less than a tenth, never more than 1.
    assert found.degree == "slight"
    assert (said(UNDER, taken(9.99)) or found).severity == 0.1
    clear = said(UNDER, taken(-100.0))
    assert clear is not None
    assert (clear.severity, clear.degree) == (1.0, "clear")


def test_the_worst_of_several_rules_counts_and_all_are_named() -> None:
    both = fault("angle<", "width>", "grip=thumb")
    width = taken(51.0, 30.0, what="width", side="left", begin=7.0)
    wide = replace(width, found=(Occurrence(7.0, 52.0, "left"), Occurrence(8.0, 60.0, "left")))
    low = taken(0.0, side="left")
    grip = taken(0.0, 0.0, 0.0, 0.0, what="grip", side="left", band=None, begin=20.0,
                 chosen=("thumb", "flat", "flat", "flat"))  # fmt: skip
    found = said(both, low, wide, grip)
    assert found is not None
    assert found.kind == "fault"
    # A severity of 0.5 in all takings stands before 0.8 in one of four.
    assert (found.severity, found.share, found.side) == (0.5, 1.0, "left")
    assert [j.reading.value for j in found.judged] == [0.0, 56.0]
    assert found.instants == (1.0, 7.0, 8.0, 20.0)
    # Sides that are apart are one more rule, and take none of the others away.
    uneven = [taken(0.0, side="left"), taken(30.0, side="right", begin=50.0)]
    with_sides = said(fault("angle<", "angle~10"), *uneven)
    assert with_sides is not None
    assert (with_sides.instants, len(with_sides.judged)) == ((1.0,), 1)
    seen = said(fault("grip=thumb"), grip)
    assert seen is not None
    assert (seen.severity, seen.share, seen.instants, seen.judged) == (0.8, 0.25, (20.0,), ())
    # What was not chosen says nothing, and both sides together are none.
    assert said(fault("grip=slap"), grip) is None
    right = taken(0.0, side="right")
    assert (said(UNDER, low, right) or found).side == ""
    assert (said(fault("angle<", sided=False), low) or found).side == ""


@pytest.mark.parametrize(
    ("left", "right", "kind"),
    [(30, 41, "fault"), (30, 40, None), (30, 36, None), (30, 34, None), (41, 30, "fault")],
)
def test_sides_that_are_apart(left: float, right: float, kind: str | None) -> None:
    """Without doubt only what is over the limit counts."""
    found = said(fault("angle~10"), taken(left, side="left"), taken(right, side="right"))
    assert (found.kind if found else None) == kind
    if found:
        assert found.side == ("left" if left < right else "right")
        assert found.severity == pytest.approx(0.1)


@pytest.mark.parametrize(("apart", "kind"), [(5.0, "open"), (4.9, None), (9.0, "open")])
def test_sides_within_their_doubt_are_open_down_to_half_the_limit(
    apart: float, kind: str | None
) -> None:
    left = taken(30.0, 30.0, side="left", u=6.0)
    right = taken(30.0 + apart, 30.0 + apart, side="right", u=6.0)
    assert left.margin > 6
    found = said(fault("angle~10"), left, right)
    assert (found.kind if found else None) == kind
    assert said(fault("angle~10"), left) is None


# ---- ruled out ----


def out(one: Fault, *of: OnFrame) -> Finding | None:
    return absent_on_frame(one, of)


def test_a_fault_is_ruled_out_where_all_that_shows_it_is_surely_off_its_limit() -> None:
    found = out(UNDER, taken(12.0, 14.0), taken(99.0, what="other"))
    assert found == Finding(
        id="made-up", kind="absent", title="Made up", says="it shows", judged=found.judged if found
        else (), instants=(1.0, 2.0),
    )  # fmt: skip
    assert found is not None
    (one,) = found.judged
    assert (one.verdict, one.beyond, one.band, one.reading.value) == ("good", -3.0, BAND, 13.0)
    over = out(OVER, taken(45.0))
    assert over is not None
    assert over.judged[0].beyond == -5.0


def test_it_is_not_where_one_of_them_is_near_few_or_past() -> None:
    assert out(UNDER, taken(10.0)) is not None  # on the limit, and surely known
    assert out(UNDER, taken(9.9)) is None
    assert out(OVER, taken(50.1)) is None
    assert out(UNDER, taken(12.0, 12.0, u=1.0)) is None
    assert out(UNDER, taken(30.0, 30.0, least=3)) is None
    assert out(UNDER, taken(30.0, 30.0, least=2)) is not None
    # One good side does not speak for the other.
    assert out(UNDER, taken(30.0, side="left"), taken(9.0, side="right")) is None
    both = out(UNDER, taken(30.0, side="left"), taken(31.0, side="right", begin=5.0))
    assert both is not None
    assert both.instants == (1.0, 5.0)
    assert [j.side for j in both.judged] == ["left", "right"]


def test_a_measure_without_a_limit_rules_nothing_out_and_stops_nothing() -> None:
    none = taken(1.0, what="width", band=None)
    open_ended = taken(1.0, what="width", band=replace(BAND, fault_below=None))
    good = taken(30.0, begin=4.0)
    two = fault("width<", "angle<")
    assert out(two, none) is None
    assert out(two, open_ended) is None
    for other in (none, open_ended):
        found = out(two, other, good)
        assert found is not None
        assert [j.reading.value for j in found.judged] == [30.0]
        assert found.instants == (4.0,)
        # The same measure on another side is still looked at.
        assert out(fault("width<"), other, taken(5.0, what="width", side="left")) is None
        beside = taken(30.0, what="width", side="left", begin=9.0)
        assert out(fault("width<"), other, beside) is not None


def test_what_was_chosen_otherwise_is_shown_beside_what_was_measured() -> None:
    grip = taken(0.0, 0.0, what="grip", band=None, begin=20.0, chosen=("flat", "flat"))
    apart = taken(3.0, what="roll", begin=30.0)
    found = out(fault("grip=thumb", "roll~10", "angle<"), grip, apart, taken(30.0))
    assert found is not None
    assert found.instants == (1.0, 20.0, 21.0, 30.0)
    # Choices alone rule nothing out; a chosen thumb is no frame against it.
    assert out(fault("grip=thumb"), grip) is None
    thumb = replace(grip, chosen=("thumb", "flat"))
    with_thumb = out(fault("grip=thumb", "angle<"), thumb, taken(30.0))
    assert with_thumb is not None
    assert with_thumb.instants == (1.0,)


# ---- praised, hidden ----


def test_praise_needs_every_side_inside_the_good_range() -> None:
    left, right = taken(30.0, side="left"), taken(25.0, side="right")
    (found,) = strengths_on_frame([left, right], set(), CATALOGUE, {})
    assert (found.id, found.title, found.says) == ("on-frame-angle", "Angle, left", "Well angled.")
    assert (found.instants, [j.verdict for j in found.judged]) == ((1.0,), ["good", "good"])
    assert strengths_on_frame([left, taken(19.0, side="right")], set(), CATALOGUE, {}) == []
    assert strengths_on_frame([left], {"angle"}, CATALOGUE, {}) == []
    plain = replace(BAND, praise="")
    assert strengths_on_frame([taken(30.0, band=plain)], set(), CATALOGUE, {}) == []


def test_hidden_is_only_what_can_be_shown_by_nothing_on_this_clip() -> None:
    one = fault("angle<", "width>")
    blind = [Obstacle("angle", "the hand is not seen"), Obstacle("width", "the hand is not seen")]
    found = hidden(one, [*blind, Obstacle("other", "no matter")])
    assert found is not None
    assert found.says == (
        "Can't be judged on this clip: the hand is not seen. Film it again: side, under water."
    )
    assert hidden(one, blind[:1]) is None
    assert hidden(fault(), blind) is None
