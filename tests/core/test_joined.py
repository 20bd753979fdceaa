"""Several clips, one judgement: exact examples of the rules."""

from __future__ import annotations

from dataclasses import replace

import pytest

from norvik.catalogue.loader import load
from norvik.core.judging.coaching_model import Band
from norvik.core.judging.joined import (
    CANNOT_TELL,
    MEASURED,
    MEASURED_IN_VIEW,
    SEEN,
    ClipFindings,
    Joined,
    Pace,
    join,
)
from norvik.core.judging.judged import Finding, Judged
from norvik.core.judging.ranking import rank
from norvik.core.time.quantities import Quantity, Reading

TABLES = load("freestyle")
#: Best seen from in front; leads to the dropped elbow.
ROLL, ELBOW = "over-rotation", "dropped-elbow"


def number(what: str, value: float, verdict: str = "fault") -> Judged:
    quantity = Quantity(what, what, "°", 0, lambda _: None)
    return Judged(Band("x", what, "own", fault_above=50.0), quantity, Reading(value, 2.0), verdict,
                  value - 50.0, margin=4.0)  # fmt: skip


def finding(fault: str, kind: str = "fault", value: float | None = None, side: str = "",
            severity: float = 0.5, seen: bool = False, **more: object) -> Finding:  # fmt: skip
    judged = () if value is None else (number(fault, value),)
    return Finding(fault, kind, fault, fault, side, "clear", severity if kind == "fault" else 0.0,
                   judged=judged, seen=seen, **more)  # type: ignore[arg-type]  # fmt: skip


def clip(n: int, view: str, *found: Finding, effort: str = "", pace_s: float | None = None,
         kit: tuple[str, ...] = ()) -> ClipFindings:  # fmt: skip
    return ClipFindings(n, view, found, Pace(effort, pace_s), kit)


def only(*clips: ClipFindings) -> Joined:
    (one,) = join(clips, TABLES)
    return one


def test_the_same_fault_of_several_clips_is_one_with_the_best_evidence_first() -> None:
    one = only(
        clip(1, "side-under", finding(ROLL, seen=True, severity=0.8)),
        clip(2, "side-above", finding(ROLL, value=60.0)),
        clip(3, "front-under", finding(ROLL, value=57.0)),
    )
    assert [(e.clip, e.grade) for e in one.evidence] == [
        (3, MEASURED_IN_VIEW), (2, MEASURED), (1, SEEN),
    ]  # fmt: skip
    # Nothing is averaged: the value is that of the best one.
    assert one.judged[0].reading.value == 57.0
    assert (one.kind, one.clip, one.seen, one.against) == ("fault", 3, False, ())


def test_what_one_clip_cannot_tell_another_one_settles() -> None:
    unsure = clip(1, "side-under", finding(ROLL, "open"))
    assert only(unsure).kind == "open"
    assert only(unsure).evidence[0].grade == CANNOT_TELL
    told = only(unsure, clip(2, "front-under", finding(ROLL, value=60.0)))
    assert (told.kind, [e.clip for e in told.evidence]) == ("fault", [2])
    # A clip that rules it out settles it, too: then there is nothing left to say.
    assert join([unsure, clip(2, "front-under", finding(ROLL, "absent", 30.0))], TABLES) == []


def test_a_fault_that_is_only_ruled_out_is_no_finding() -> None:
    assert join([clip(1, "front-under", finding(ROLL, "absent", 30.0))], TABLES) == []


@pytest.mark.parametrize(
    ("shows", "denies", "kind", "proposal", "because"),
    [
        (("front-under", 60.0), ("side-under", 30.0), "fault", "keep", "view"),
        (("side-under", 60.0), ("front-under", 30.0), "open", "drop", "view"),
        (("front-under", 60.0), ("front-under", 30.0), "open", "film", "alike"),
        (("front-under", None), ("front-under", 30.0), "fault", "look", "eye"),
    ],
)
def test_clips_that_contradict_each_other_are_shown_with_a_proposal(
    shows: tuple[str, float | None], denies: tuple[str, float], kind: str, proposal: str,
    because: str,
) -> None:  # fmt: skip
    one = only(
        clip(1, shows[0], finding(ROLL, value=shows[1], seen=shows[1] is None)),
        clip(2, denies[0], finding(ROLL, "absent", denies[1])),
    )
    assert (one.kind, one.proposal, one.because) == (kind, proposal, because)
    assert [e.clip for e in one.against] == [2]
    # Both sides keep their own number.
    assert one.against[0].finding.judged[0].reading.value == denies[1]
    assert (one.severity > 0) == (kind == "fault")


def test_a_tick_that_the_numbers_of_its_clip_deny_stays_what_the_coach_says() -> None:
    one = only(clip(1, "front-under", finding(ROLL, value=30.0, seen=True, proof="refuted")))
    assert (one.kind, one.proposal, one.because) == ("fault", "look", "eye")
    assert (one.seen, one.evidence[0].grade) == (True, SEEN)
    # One that the numbers prove is as good as a measured one.
    proved = only(clip(1, "front-under", finding(ROLL, value=60.0, seen=True, proof="proved")))
    assert (proved.seen, proved.evidence[0].grade) == (False, MEASURED_IN_VIEW)


def test_at_another_pace_both_hold() -> None:
    fast = clip(1, "front-under", finding(ROLL, value=60.0), effort="race")
    slow = clip(2, "front-under", finding(ROLL, "absent", 30.0), effort="easy")
    one = only(fast, slow)
    assert (one.kind, one.other_pace, one.proposal) == ("fault", True, "")
    assert [e.clip for e in one.against] == [2]
    unknown = clip(2, "front-under", finding(ROLL, "absent", 30.0))
    assert only(fast, unknown).proposal == "film"


@pytest.mark.parametrize(
    ("one", "other", "surely"),
    [
        (Pace("easy"), Pace("easy"), False),
        (Pace("easy"), Pace("race"), True),
        (Pace(""), Pace("race"), False),
        (Pace("easy", 80.0), Pace("race", 83.9), False),
        (Pace("easy", 80.0), Pace("easy", 84.1), True),
        (Pace("easy", 80.0), Pace("race"), True),
    ],
)
def test_which_paces_are_other_ones(one: Pace, other: Pace, surely: bool) -> None:
    assert one.surely_other(other) is surely
    assert other.surely_other(one) is surely


def test_left_and_right_are_findings_of_their_own_and_no_side_joins_them() -> None:
    found = join(
        [
            clip(1, "front-under", finding(ELBOW, side="left"), finding(ELBOW, side="right")),
            clip(2, "side-under", finding(ELBOW, value=60.0)),
        ],
        TABLES,
    )
    assert sorted(f.side for f in found) == ["left", "right"]
    assert all({e.clip for e in f.evidence} == {1, 2} for f in found)


def test_praise_for_what_another_clip_calls_a_fault_is_not_said() -> None:
    praise = Finding("good-roll", "strength", "Roll", "Even roll.", judged=(number(ROLL, 40.0),))
    fault = clip(2, "front-under", finding(ROLL, value=60.0))
    assert [f.id for f in join([clip(1, "side-under", praise), fault], TABLES)] == [ROLL]
    # What the coach has seen stays.
    seen = replace(praise, seen=True)
    assert len(join([clip(1, "side-under", seen), fault], TABLES)) == 2


def test_the_map_runs_over_all_clips() -> None:
    """The roll seen from in front relieves the elbow seen from the side."""
    found = join(
        [
            clip(1, "side-under", finding(ELBOW, value=60.0)),
            clip(2, "front-under", finding(ROLL, value=60.0)),
        ],
        TABLES,
    )
    first, second = rank(found, TABLES, ())
    assert (first.fault.id, first.feeds) == (ROLL, (ELBOW,))
    assert second.fault.id == ELBOW


def test_kit_stands_beside_the_evidence() -> None:
    one = only(clip(1, "front-under", finding(ROLL, value=60.0), kit=("fins",)))
    assert one.evidence[0].kit == ("fins",)
