"""What the numbers and the coach say of made-up faults: every verdict with every other, severity,
share and side to the last bit, ticks beside numbers, and what is praised.
"""

from __future__ import annotations

from dataclasses import replace
from itertools import product

import pytest

from norvik.catalogue import load
from norvik.core.judging.coaching_model import Band, Catalogue, Fault, Question, School
from norvik.core.judging.findings import find, find_faults, find_strengths, in_order, judge
from norvik.core.judging.judged import Finding, Seen
from norvik.core.judging.on_frame import OnFrame
from norvik.core.strokes.events import Mark
from norvik.core.strokes.names import Side
from norvik.core.time.compute import compute_timing
from norvik.core.time.quantities import QUANTITIES, Occurrence
from norvik.core.time.quantities.quantity import Reading
from norvik.core.time.timing import Timing

#: Two quantities of time, whose values are given here and not read from marks.
ONE, OTHER = "entry-share", "breath-share"
SHIPPED = load("freestyle")


def band(id: str, quantity: str, **more: object) -> Band:
    """Good from 20 to 40, fault under 10 and over 50; a severity of 1 lies 20 beyond."""
    return replace(
        Band(id, quantity, "made up", 20, 40, 10, 50, full=20.0),
        **more,  # type: ignore[arg-type]
    )


def fault(id: str = "made-up", *bands: str, **more: object) -> Fault:
    usual = Fault(
        id=id, name=f"Named {id}", shows=f"{id} shows", why="w", cue="c", costs=("drag",),
        views=("side",), drills=(), bands=bands,
    )  # fmt: skip
    return replace(usual, **more)  # type: ignore[arg-type]


def tables(*faults: Fault, bands: tuple[Band, ...] = (), **more: object) -> Catalogue:
    both = (band("one", ONE), band("other", OTHER))
    return Catalogue({f.id: f for f in faults}, {}, bands or both, {}, {}, (), **more)  # type: ignore[arg-type]


def reading(*values: float, u: float | None = None, sides: tuple[Side, ...] = ()) -> Reading:
    """Their mean, with an instance a second from 1 s on."""
    each = sides or ("",) * len(values)
    found = tuple(
        Occurrence(1.0 + n, v, s) for n, (v, s) in enumerate(zip(values, each, strict=True))
    )
    return Reading(sum(values) / len(values), u, found)


def timing(
    one: Reading | None, other: Reading | None = None, cycle_s: float | None = None
) -> Timing:
    entries = [Mark(n * cycle_s, "arm", "right", "entry") for n in range(4)] if cycle_s else []
    made = compute_timing(entries, "freestyle")
    assert made.resolved.mean_cycle_s == (pytest.approx(cycle_s) if cycle_s else None)
    made.readings.update({ONE: one, OTHER: other})
    return made


def found_of(
    one: Fault, one_reading: Reading | None, other: Reading | None = None,
    catalogue: Catalogue | None = None,
) -> Finding | None:  # fmt: skip
    """What the numbers alone say of it."""
    said = find_faults(timing(one_reading, other), [], catalogue or tables(one), "club", {})
    assert len(said) <= 1
    return said[0] if said else None


#: (value, standard uncertainty) by what it is: a limit at 50 that 51 passes by less than 1.88
#: times 2 is not surely passed; 45 is the middle between good and fault.
VALUES: dict[str, tuple[float, float | None]] = {
    "fault": (60.0, None), "unsure": (51.0, 2.0), "near": (46.0, None), "far": (44.0, None),
    "good": (30.0, None),
}  # fmt: skip


def expected(kinds: set[str]) -> str | None:
    """By the rule in words: all past it, or past it as far as one can tell, or on the way to it;
    else one limit that is surely kept rules it out.
    """
    if kinds == {"fault"}:
        return "fault"
    if kinds <= {"fault", "unsure"}:
        return "open"
    if kinds <= {"fault", "unsure", "near"}:
        return "watch"
    return "absent"


@pytest.mark.parametrize(("one", "other"), list(product(VALUES, VALUES)))
def test_each_verdict_with_each_other(one: str, other: str) -> None:
    readings = [reading(VALUES[k][0], u=VALUES[k][1]) for k in (one, other)]
    found = found_of(fault("made-up", "one", "other"), *readings)
    assert found is not None
    assert found.kind == expected({one, other})
    assert [j.reading for j in found.judged] == readings
    assert [j.quantity.id for j in found.judged] == [ONE, OTHER]
    assert found.judged[0].margin == pytest.approx(1.8808 * (VALUES[one][1] or 0), abs=0.01)
    assert (found.id, found.title, found.says) == ("made-up", "Named made-up", "made-up shows")


@pytest.mark.parametrize(("one", "other"), list(product(VALUES, VALUES)))
def test_one_limit_alone_on_either_side(one: str, other: str) -> None:
    """Mirrored at 30: what is too much on one side is too little on the other."""
    for kind, value in ((one, VALUES[one][0]), (one, 60 - VALUES[one][0])):
        found = found_of(fault("made-up", "one"), reading(value, u=VALUES[kind][1]))
        assert found is not None
        assert found.kind == expected({kind})


def test_a_limit_that_is_within_the_margin_but_inside_the_good_range_says_nothing() -> None:
    """Not against the swimmer, and not surely kept either."""
    wide = tables(fault("made-up", "one"), bands=(band("one", ONE, good_to=49.5),))
    assert found_of(fault("made-up", "one"), reading(49.0, u=2.0), catalogue=wide) is None
    # Just surely kept: 50 less 1.88 times 2.
    kept = found_of(fault("made-up", "one"), reading(46.23, u=2.0), catalogue=wide)
    assert kept is not None
    assert kept.kind == "absent"
    assert found_of(fault("made-up", "one"), reading(46.25, u=2.0), catalogue=wide) is None


def test_what_is_not_marked_says_nothing_even_beside_a_fault() -> None:
    both = fault("made-up", "one", "other")
    assert found_of(both, reading(60.0), None) is None
    assert found_of(both, None, reading(60.0)) is None
    assert found_of(both, reading(float("nan")), reading(60.0)) is None
    assert found_of(fault("made-up"), reading(60.0)) is None
    assert judge(band("one", ONE), timing(None)) is None


@pytest.mark.parametrize(
    ("value", "severity", "degree"),
    [
        (51.0, 0.1, "slight"), (53.0, 0.15, "slight"), (57.9, 0.395, "slight"),
        (58.0, 0.4, "clear"), (66.0, 0.8, "clear"), (70.0, 1.0, "clear"), (95.0, 1.0, "clear"),
        (9.0, 0.1, "slight"), (0.0, 0.5, "clear"),
    ],
)  # fmt: skip
def test_severity_grows_from_the_limit(value: float, severity: float, degree: str) -> None:
    found = found_of(fault("made-up", "one"), reading(value))
    assert found is not None
    assert found.severity == pytest.approx(severity)
    assert found.degree == degree


def test_of_two_limits_the_one_that_is_passed_less_tells_how_grave_it_is() -> None:
    found = found_of(fault("made-up", "one", "other"), reading(66.0), reading(55.0))
    assert found is not None
    assert found.severity == pytest.approx(0.25)
    for kind in ("unsure", "near"):
        milder = found_of(fault("made-up", "one"), reading(VALUES[kind][0], u=VALUES[kind][1]))
        assert milder is not None
        assert milder.severity == 0.0


def test_share_instants_and_side_are_of_the_instances_that_show_it() -> None:
    sided = fault("made-up", "one", sided=True)
    values, sides = (60.0, 62.0, 40.0, 58.0), ("left", "left", "right", "left")
    found = found_of(sided, reading(*values, sides=sides))  # type: ignore[arg-type]
    assert found is not None
    assert (found.side, found.share, found.instants) == ("left", 0.75, (1.0, 2.0, 4.0))
    # A value at the limit itself shows nothing.
    edge = found_of(sided, reading(62.0, 50.0, 60.0, sides=("left", "right", "left")))
    assert edge is not None
    assert (edge.side, edge.share, edge.instants) == ("left", pytest.approx(2 / 3), (1.0, 3.0))
    low = found_of(sided, reading(4.0, 10.0, 8.0, sides=("left", "right", "left")))
    assert low is not None
    assert (low.side, low.instants) == ("left", (1.0, 3.0))
    # On both sides, or of a fault that has no side, there is none to name.
    both = found_of(sided, reading(60.0, 62.0, sides=("left", "right")))
    assert both is not None
    assert (both.side, both.share) == ("", 1.0)
    plain = found_of(fault("made-up", "one"), reading(60.0, 62.0, sides=("left", "left")))
    assert plain is not None
    assert plain.side == ""


def test_where_no_instance_shows_it_alone_all_are_shown() -> None:
    one = fault("made-up", "one")
    # The mean passes its limit, of one long and many short ones.
    few = found_of(one, reading(30.0, 30.0, 30.0, 30.0, 140.0))
    assert few is not None
    assert (few.share, few.instants) == (0.2, (5.0,))
    none = found_of(one, reading(46.0, 46.0))
    assert none is not None
    assert (none.kind, none.share, none.instants) == ("watch", 0.5, (1.0, 2.0))
    bare = found_of(one, Reading(60.0, None))
    assert bare is not None
    assert (bare.share, bare.instants) == (1.0, ())


def test_the_band_of_the_swimmers_rate_holds() -> None:
    """A band for fast swims alone goes before the one for every rate."""
    quick = band("one", ONE, good_to=80, fault_above=90, cycle_to_s=1.0, praise="Quick.")
    slow = band("one", ONE, praise="Slow.")
    catalogue = tables(fault("made-up", "one"), bands=(quick, slow))
    fast = timing(reading(60.0), cycle_s=0.9)
    [said] = find_faults(fast, [], catalogue, "club", {})
    assert said.kind == "absent"
    [praised] = find_strengths(fast, [], [], catalogue, {})
    assert praised.says == "Quick."
    later = timing(reading(60.0), cycle_s=1.1)
    [said] = find_faults(later, [], catalogue, "club", {})
    assert said.kind == "fault"
    assert find_strengths(later, [], [], catalogue, {}) == []


# ---- ticks ----


def test_a_tick_is_what_the_coach_says() -> None:
    one = fault("made-up")
    catalogue = tables(one)
    for degree, severity in (("slight", 0.35), ("clear", 0.8)):
        [said] = find(timing(None), [Seen("made-up", "left", degree, 2.5)], catalogue, "club", {})  # type: ignore[arg-type]
        assert said == Finding(
            "made-up", "fault", "Named made-up", "made-up shows", "left", degree, severity,
            instants=(2.5,), seen=True,
        )  # type: ignore[arg-type]  # fmt: skip
    [said] = find(timing(None), [Seen("made-up", "", "clear")], catalogue, "club", {})
    assert said.instants == ()
    assert find(timing(None), [Seen("gone", "", "clear", 1.0)], catalogue, "club", {}) == []


def test_a_ticked_strength_is_the_first_of_all() -> None:
    name, strength = next(iter(SHIPPED.strengths.items()))
    catalogue = replace(tables(fault("made-up", "one")), strengths={name: strength})
    said = find(timing(reading(60.0)), [Seen(name, "", "clear", 3.0)], catalogue, "club", {})
    assert [f.kind for f in said] == ["strength", "fault"]
    assert said[0] == Finding(
        name, "strength", strength.name, strength.praise, "", "clear", 1.0, instants=(3.0,),
        seen=True,
    )  # fmt: skip


@pytest.mark.parametrize(
    ("value", "u", "proof", "instants"),
    [
        # First the frames that are measured, then the one that was ticked, each once.
        (60.0, None, "proved", (1.0, 2.5)), (30.0, None, "refuted", (2.5,)),
        (46.0, None, "", (2.5,)), (51.0, 2.0, "", (2.5,)),
    ],
)  # fmt: skip
def test_numbers_beside_a_tick(
    value: float, u: float | None, proof: str, instants: tuple[float, ...]
) -> None:
    given = reading(value, u=u)
    catalogue = tables(fault("made-up", "one"), fault("second", "other"))
    ticks = [Seen("made-up", "", "clear", 2.5), Seen("second", "", "slight", 4.0)]
    said = {f.id: f for f in find_faults(timing(given), ticks, catalogue, "club", {})}
    assert said["made-up"].proof == proof
    assert said["made-up"].instants == instants
    assert [j.reading for j in said["made-up"].judged] == [given]
    assert (said["made-up"].kind, said["made-up"].severity) == ("fault", 0.8)
    # Nothing was marked for the other one: its tick is as it was said.
    assert (said["second"].proof, said["second"].judged) == ("", ())
    assert said["second"].severity == 0.35


@pytest.mark.parametrize(
    ("ticked", "measured", "proof"),
    [
        ("left", "left", "proved"), ("left", "right", ""), ("", "right", "proved"),
        ("right", "both sides", "proved"), ("right", "right", "proved"),
    ],
)  # fmt: skip
def test_another_sides_numbers_say_nothing_of_a_tick(
    ticked: Side, measured: str, proof: str
) -> None:
    sides: tuple[Side, Side] = ("left", "right")
    if measured == "left":
        sides = ("left", "left")
    elif measured == "right":
        sides = ("right", "right")
    catalogue = tables(fault("made-up", "one", sided=True))
    [said] = find_faults(
        timing(reading(60.0, 62.0, sides=sides)), [Seen("made-up", ticked, "clear", 1.0)],
        catalogue, "club", {},
    )  # fmt: skip
    assert said.proof == proof
    assert said.side == ticked
    assert said.instants == ((1.0, 2.0) if proof else (1.0,))


def test_numbers_in_time_and_on_the_frame_together() -> None:
    """What shows a fault goes before what does not, wherever it was measured."""
    angle = Band("angle-band", "angle", "made up", 20, 40, 10, 50, full=20.0)

    def on_frame(value: float) -> OnFrame:
        return OnFrame("angle", "Angle", "°", 1, "", (Occurrence(9.0, value),), None, angle)

    one = fault("made-up", "one", shown_by=("angle>",))
    for in_time, value, kind, at in (
        (30.0, 60.0, "fault", (9.0,)), (60.0, 30.0, "fault", (1.0,)),
        (46.0, 60.0, "fault", (9.0,)), (46.0, 30.0, "watch", (1.0,)),
        (30.0, 30.0, "absent", (1.0,)),
    ):  # fmt: skip
        [said] = find_faults(
            timing(reading(in_time)), [], tables(one), "club", {}, [on_frame(value)]
        )
        assert (said.kind, said.instants) == (kind, at)


def test_schools_go_along_with_the_finding_and_its_tick() -> None:
    asked = Question("q", "Which?", (School("a", "School A", "s"), School("b", "School B", "s")))
    of_b = band("one", ONE, school={"q": "b"}, praise="As B has it.")
    catalogue = replace(tables(fault("made-up", "one"), bands=(of_b,)), questions={"q": asked})
    chosen = {"q": "b"}
    [said] = find_faults(timing(reading(60.0)), [], catalogue, "club", chosen)
    assert said.schools == ("School B",)
    tick = [Seen("made-up", "", "clear", 1.0)]
    [ticked] = find_faults(timing(reading(60.0)), tick, catalogue, "club", chosen)
    assert ticked.schools == ("School B",)
    [praised] = find_strengths(timing(reading(30.0)), [], [], catalogue, chosen)
    assert praised.schools == ("School B",)


# ---- what is praised, and the order ----


def test_what_is_praised() -> None:
    praised = (band("none", OTHER), band("one", ONE, praise="Well timed."))
    catalogue = tables(bands=praised)
    [said] = find_strengths(timing(reading(30.0, 32.0), reading(30.0)), [], [], catalogue, {})
    one = judge(praised[1], timing(reading(30.0, 32.0)))
    assert one is not None
    assert said == Finding(
        "one", "strength", QUANTITIES[ONE].name, "Well timed.", "", "clear", 0.5, judged=(one,),
        instants=(1.0,),
    )  # fmt: skip
    # Good, but not surely; and a measure that shows a fault, or that a tick rests on.
    assert find_strengths(timing(reading(38.0, u=2.0)), [], [], catalogue, {}) == []
    shown = find_faults(timing(reading(60.0)), [], tables(fault("x", "one")), "club", {})
    assert find_strengths(timing(reading(30.0)), [], shown, catalogue, {}) == []
    absent = [replace(f, kind="absent") for f in shown]
    assert len(find_strengths(timing(reading(30.0)), [], absent, catalogue, {})) == 1


def test_a_measure_that_a_ticked_fault_rests_on_is_not_praised() -> None:
    angle = Band("angle-band", "angle", "made up", 20, 40, 10, 50, praise="Well angled.")
    taken = [OnFrame("angle", "Angle", "°", 1, "", (Occurrence(9.0, 30.0),), None, angle)]
    one = fault("made-up", shown_by=("angle>",))
    catalogue = tables(one, bands=(band("one", ONE, praise="Well timed."),))
    given = timing(reading(30.0))
    said = find_strengths(given, [], [], catalogue, {}, taken)
    assert [f.says for f in said] == ["Well angled.", "Well timed."]
    tick = [Seen("made-up", "", "clear")]
    # With a finding of its own besides: both leave something out.
    other = find_faults(timing(reading(60.0)), [], tables(fault("x", "one")), "club", {})
    assert [f.says for f in find_strengths(given, tick, [], catalogue, {}, taken)] == [
        "Well timed."
    ]
    assert find_strengths(given, tick, other, catalogue, {}, taken) == []


def test_the_order_of_findings() -> None:
    def one(id: str, kind: str, severity: float = 0.0, side: Side = "") -> Finding:
        return Finding(id, kind, id, "", side, severity=severity)  # type: ignore[arg-type]

    right = [
        one("s", "strength", 1.0), one("t", "strength", 0.5), one("c", "fault", 0.8),
        one("a", "fault", 0.3), one("b", "fault", 0.3, "left"), one("b", "fault", 0.3, "right"),
        one("w", "watch"), one("o", "open"), one("x", "absent"),
    ]  # fmt: skip
    assert in_order(right[::-1]) == right
    assert in_order(right[4:] + right[:4]) == right
