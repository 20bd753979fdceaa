"""What worn kit keeps from being judged, ticks with numbers beside them, and own words."""

from __future__ import annotations

import pytest

from norvik.catalogue.loader import load
from norvik.core.judging.findings import find, find_faults
from norvik.core.judging.judged import SEEN_SEVERITY, Seen
from norvik.core.judging.kit import CHANGES, changed_by, in_the_way, quantities_changed
from norvik.core.judging.ranking import PARTS, rank
from norvik.core.judging.remarks import (
    Remark,
    fault_of,
    finding_of,
    read,
    remark_of,
    sentence,
    short,
)
from norvik.core.prescription.prescribe import SwimmerProfile, prescribe
from norvik.store.clips import KIT
from tests.core.test_judging import timing_of

TABLES = load("freestyle")


def test_every_piece_of_kit_says_what_it_changes() -> None:
    assert set(CHANGES) == set(KIT)
    assert set().union(*CHANGES.values()) <= set(PARTS)


def test_parts_of_several_pieces_add_up() -> None:
    assert changed_by(()) == frozenset()
    assert changed_by(("snorkel",)) == {"head", "breathing"}
    assert changed_by(("snorkel", "paddles")) == {
        "head", "breathing", "entry", "catch", "pull", "timing",
    }  # fmt: skip
    assert "wall" in changed_by(("fins",))
    assert "wall" not in changed_by(("wetsuit",))


def test_which_piece_is_in_the_way() -> None:
    kick, breath = TABLES.faults["kick-few"], TABLES.faults["late-breath"]
    assert in_the_way(kick, ("snorkel", "fins", "buoy")) == ("fins", "buoy")
    assert in_the_way(breath, ("fins",)) == ()
    assert "breath-return" in quantities_changed(TABLES, ("snorkel",))
    assert quantities_changed(TABLES, ()) == frozenset()


#: A late breath: the face is back well after the hand has landed.
LATE = ";".join(f"R turn {t - 0.9}; R air {t - 0.5}; R down {t + 0.3}" for t in (2, 4, 6, 8))


@pytest.fixture
def late() -> object:
    return timing_of(breaths=LATE)


def kinds(timing: object, *seen: Seen, kit: tuple[str, ...] = ()) -> dict[str, str]:
    found = find_faults(timing, seen, TABLES, "improver", {}, kit=kit)  # type: ignore[arg-type]
    return {f.id: f.kind for f in found}


def test_with_a_snorkel_no_breath_is_judged_by_numbers(late: object) -> None:
    without = kinds(late)
    shown = {f for f, kind in without.items() if TABLES.faults[f].part == "breathing"}
    assert shown
    with_snorkel = kinds(late, kit=("snorkel",))
    assert not {f for f in with_snorkel if TABLES.faults[f].part in ("breathing", "head")}
    # What the coach sees counts all the same.
    seen = Seen("late-breath", "", "clear")
    assert kinds(late, seen, kit=("snorkel",))["late-breath"] == "fault"
    praised = find(late, (), TABLES, "improver", {}, kit=("snorkel",))  # type: ignore[arg-type]
    changed = quantities_changed(TABLES, ("snorkel",))
    assert not {j.quantity.id for f in praised for j in f.judged} & changed


def test_numbers_prove_or_refute_a_tick(late: object) -> None:
    for fault, kind in kinds(late).items():
        if kind not in ("fault", "absent"):
            continue
        found = find_faults(late, [Seen(fault, "", "slight", 3.0)], TABLES, "improver", {})  # type: ignore[arg-type]
        (one,) = [f for f in found if f.id == fault]
        # It stays the coach's: seen, and as slight or clear as was said.
        assert (one.kind, one.seen, one.degree) == ("fault", True, "slight")
        assert one.proof == {"fault": "proved", "absent": "refuted"}[kind]
        assert one.judged
        assert 3.0 in one.instants
    assert {"fault", "absent"} <= set(kinds(late).values())


def test_what_is_ruled_out_is_no_finding_of_the_command(late: object) -> None:
    said = find(late, (), TABLES, "improver", {})  # type: ignore[arg-type]
    assert "absent" not in {f.kind for f in said}


@pytest.mark.parametrize(
    ("typed", "kind", "text"),
    [
        ("+ lovely long line", "praise", "lovely long line"),
        ("? does the elbow  drop", "doubt", "does the elbow drop"),
        ("the right hand stops", "point", "the right hand stops"),
        ("  ", "point", ""),
        ("+", "praise", ""),
    ],
)
def test_the_sign_tells_what_is_said(typed: str, kind: str, text: str) -> None:
    assert read(typed) == (kind, text)


def test_a_point_in_own_words_is_ranked_and_gets_the_drills_that_were_chosen() -> None:
    remark = Remark(7, "point", "the right hand stops", "right", 2.5, "Keep it going",
                    ("fist",), "side-under")  # fmt: skip
    finding = finding_of(remark)
    assert finding is not None
    assert (finding.id, finding.kind, finding.side, finding.instants) == (
        "remark-7", "fault", "right", (2.5,),
    )  # fmt: skip
    assert finding.says == "The right hand stops."
    tables = TABLES.with_faults([fault_of(remark, "freestyle")])
    (ranked,) = rank([finding], tables, ())
    assert (ranked.fault.cue, ranked.own) == ("Keep it going", pytest.approx(0.8))
    assert ranked.reasons == ("In your own words.",)
    given = prescribe(ranked.fault, tables, [finding.id], SwimmerProfile("improver"))
    assert [d.id for d in (*given.drills, *given.others)] == ["fist"]
    assert finding_of(Remark(8, "doubt", "does it drop?")) is None
    praise = finding_of(Remark(9, "praise", "What a line!"))
    assert praise is not None
    assert (praise.kind, praise.says) == ("strength", "What a line!")


def test_names_of_remarks() -> None:
    assert remark_of("remark-12") == 12
    assert remark_of("dropped-elbow") is None
    assert remark_of("remark-x") is None
    long = "the right hand stops in front of the shoulder and waits there for the left one"
    assert len(short(long)) <= 60
    assert short(long).endswith("…")
    assert short("stops.") == "Stops"


def test_a_remark_as_a_fault_word_for_word() -> None:
    """Nothing that the coach did not say: no reason, no cost; the name stands in for the cue."""
    remark = Remark(7, "point", "the right hand stops", view="side-under", drills=("fist",))
    fault = fault_of(remark, "butterfly")
    assert (fault.id, fault.name, fault.shows, fault.cue) == (
        "remark-7", "The right hand stops", "The right hand stops.", "The right hand stops",
    )  # fmt: skip
    assert (fault.why, fault.costs, fault.views) == ("", (), ("side-under",))
    assert (fault.drills, fault.sided, fault.strokes) == (("fist",), True, ("butterfly",))


def test_a_remark_as_a_finding_word_for_word() -> None:
    point = finding_of(Remark(3, "point", "hips sink.", "left"))
    assert point is not None
    assert (point.id, point.title, point.says, point.side) == (
        "remark-3", "Hips sink", "Hips sink.", "left",
    )  # fmt: skip
    assert (point.degree, point.seen, point.instants) == ("clear", True, ())
    assert point.severity == SEEN_SEVERITY["clear"]
    praise = finding_of(Remark(4, "praise", "strong kick", time_s=0.0))
    assert praise is not None
    assert (praise.title, praise.degree, praise.severity, praise.instants, praise.seen) == (
        "Strong kick", "clear", 1.0, (0.0,), True,
    )  # fmt: skip


@pytest.mark.parametrize("end", [".", "!", "?", "…"])
def test_a_sentence_keeps_its_own_end(end: str) -> None:
    assert sentence(f"look ahead{end}") == f"Look ahead{end}"
    assert sentence("look ahead") == "Look ahead."


def test_where_a_name_is_shortened() -> None:
    """At sixty letters a remark is still its own name; longer ones end at a word."""
    words = "abcd " * 11 + "abcde"
    assert len(words) == 60
    assert short(words) == f"A{words[1:]}"
    assert short(f"{words}f") == f"A{words[1:54]}…"
    # The cut falls behind a whole word: that word stays.
    whole = "abcd " * 11 + "abc ef"
    assert short(whole) == f"A{whole[1:58]}…"
    assert short("a" * 70) == f"A{'a' * 58}…"
    assert read("+fine  line") == ("praise", "fine line")
