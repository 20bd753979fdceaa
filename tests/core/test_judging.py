"""Findings, their order, and the prescription."""

from __future__ import annotations

import pytest

from norvik.catalogue import load
from norvik.core.judging.coaching_model import Band
from norvik.core.judging.findings import find, judge
from norvik.core.judging.judged import Finding, Seen
from norvik.core.judging.ranking import downstream, rank, upstream
from norvik.core.prescription.prescribe import (
    SwimmerProfile,
    dose,
    effort_of,
    prescribe,
    topics_of,
    unsuitable,
)
from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.core.time.timing import Timing
from tests.marking import marks, steady_arm

CATALOGUE = load("freestyle")


def timing_of(
    shares: tuple[float, float, float, float] = (0.25, 0.12, 0.38, 0.25),
    breaths: str = "",
    lag: float = 1.0,
    frame_interval_s: float = 1 / 120,
) -> Timing:
    arms = steady_arm("right", 0, 2.0, 6, shares) + steady_arm("left", lag, 2.0, 6, shares)
    return compute_timing(arms + marks(breaths), "freestyle", frame_interval_s)


def findings(
    timing: Timing, *seen: Seen, level: str = "improver", **schools: str
) -> dict[str, Finding]:
    return {f.id: f for f in find(timing, seen, CATALOGUE, level, schools)}


@pytest.mark.parametrize(
    ("value", "u", "verdict"),
    [(10, 0.1, "fault"), (6.3, 0.1, "fault"), (6.1, 0.1, "unsure"), (5.9, 0.1, "unsure"),
     (5.0, 0.1, "watch"), (3.1, 0.1, "good"), (2.9, 0.1, "good"), (3.3, 0.1, "watch"),
     (6.1, 0.0, "fault")],
)  # fmt: skip
def test_a_limit_within_the_measuring_error_cannot_be_told(
    value: float, u: float, verdict: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    from norvik.core.judging import findings as module
    from norvik.core.time.quantities import QUANTITIES, Quantity, Reading

    fixed = Quantity("q", "q", "%", 1, lambda timing: Reading(value, u))
    monkeypatch.setitem(QUANTITIES, "q", fixed)
    band = Band("b", "q", "own", good_to=3.0, fault_above=6.0, full=6.0)
    judged = module.judge(band, timing_of())
    assert judged is not None
    assert judged.verdict == verdict


def test_what_is_not_marked_is_not_judged() -> None:
    empty = compute_timing([], "freestyle")
    assert judge(CATALOGUE.band("hand-over", {}), empty) is None
    assert find(empty, [], CATALOGUE, "improver", {}) == []


def test_overglide_needs_long_glide_and_gap_and_depends_on_the_school() -> None:
    both = timing_of((0.32, 0.10, 0.38, 0.20))
    assert "overglide" not in findings(both, glide="patient")
    found = findings(both, glide="continuous")["overglide"]
    assert (found.kind, found.seen) == ("fault", False)
    assert found.schools == ("Continuous drive",)
    assert {j.band.id for j in found.judged} == {"glide-share", "hand-over"}
    # A long glide without a gap is none.
    no_gap = timing_of((0.32, 0.05, 0.50, 0.13))
    assert "overglide" not in findings(no_gap, glide="continuous")


def test_late_breath_with_evidence_and_share() -> None:
    # Right hand lands at 2, 4, 6, 8: down 0.3 late, 0.3 late, just early, 0.3 late.
    text = ";".join(
        f"R turn {t - 1.2}; R air {t - 0.6}; R down {t + d}"
        for t, d in ((2, 0.3), (4, 0.3), (6, -0.02), (8, 0.3))
    )
    found = findings(timing_of(breaths=text))["late-breath"]
    assert found.kind == "fault"
    assert found.share == pytest.approx(0.75)
    assert found.instants == pytest.approx((2.3, 4.3, 8.3))
    assert found.degree == "clear"


@pytest.mark.parametrize(("level", "present"), [("beginner", False), ("improver", True)])
def test_head_before_arm_is_no_fault_for_beginners(level: str, present: bool) -> None:
    text = ";".join(f"R turn {t}; R air {t + 0.5}; R down {t + 1}" for t in (0.3, 2.3, 4.3))
    assert ("head-before-arm" in findings(timing_of(breaths=text), level=level)) is present


def test_breath_held() -> None:
    text = ";".join(
        f"R air {t}; R down {t + 0.5}; bubbles-on {t + 1.8}; bubbles-off {t + 1.95}"
        for t in (1.2, 3.2, 5.2, 7.2)
    )
    found = findings(timing_of(breaths=text))["breath-held"]
    assert found.judged[0].reading.value == pytest.approx(10)


def test_uneven_rhythm_and_everything_for_one_side() -> None:
    text = ";".join(f"R air {t}; R down {t + 0.5}" for t in (1.2, 3.2, 5.2, 7.2))
    found = findings(timing_of(lag=1.15, breaths=text))
    assert found["uneven-rhythm"].judged[0].reading.value == pytest.approx(15)
    assert found["one-sided"].kind == "fault"
    assert "one-sided" not in findings(timing_of(breaths=text))


def test_rate_fades() -> None:
    entries, t = [], 0.0
    for n in range(12):
        entries.append(Mark(t, "arm", "right", "entry"))
        t += 1.5 + 0.02 * n
    found = findings(compute_timing(entries, "freestyle", 1 / 120))["rate-fades"]
    assert found.kind == "fault"


def test_strengths_come_first_and_never_praise_what_is_faulted() -> None:
    text = ";".join(f"R turn {t - 1.1}; R air {t - 0.6}; R down {t - 0.1}" for t in (2, 4, 6, 8))
    every = find(timing_of(breaths=text), [Seen("crossing", "left", "clear")], CATALOGUE,
                 "improver", {})  # fmt: skip
    kinds = [f.kind for f in every]
    assert kinds.index("fault") == kinds.count("strength") >= 2
    glider = findings(timing_of((0.45, 0.10, 0.28, 0.17)))
    assert glider["overglide"].kind == "fault"
    assert not any(
        j.quantity.id in ("entry-share", "hand-over")
        for f in glider.values()
        if f.kind == "strength"
        for j in f.judged
    )


def test_a_recovery_of_the_chosen_school_is_no_fault() -> None:
    from norvik.core.judging.findings import applies

    fault = CATALOGUE.faults["hand-above-elbow"]
    assert applies(fault, CATALOGUE, "improver", {"recovery": "bent"})
    assert not applies(fault, CATALOGUE, "improver", {"recovery": "straighter"})


def seen(*ids: str, degree: str = "clear") -> list[Finding]:
    ticks = [Seen(i, "", degree) for i in ids]
    return find(compute_timing([], "freestyle"), ticks, CATALOGUE, "improver", {})


def test_source_first_puts_the_cause_before_its_consequences() -> None:
    order = [
        r.fault.id for r in rank(seen("legs-low", "scissor", "head-lift-breath"), CATALOGUE, [])
    ]
    assert order[0] == "head-lift-breath"
    (first, *_) = rank(seen("legs-low", "head-forward"), CATALOGUE, [])
    assert first.feeds == ("legs-low",)
    assert "leads to another fault found here: hips low, legs sink" in first.reasons[0]
    # Own severity 0.8 of drag, and half of the same downstream.
    assert first.score == pytest.approx(0.8 + 0.5 * 0.8)


def test_what_loads_a_painful_part_comes_first() -> None:
    found = seen("thumb-first", degree="slight") + seen("head-forward", "legs-low", "back-arch")
    assert rank(found, CATALOGUE, [])[0].fault.id != "thumb-first"
    first = rank(found, CATALOGUE, ["shoulder"])[0]
    assert first.fault.id == "thumb-first"
    assert first.reasons[0].startswith("It loads the shoulder, which hurts")


def test_a_loop_in_the_map_ends() -> None:
    assert downstream("exit-over-back", CATALOGUE)["over-rotation"] == 1
    assert "exit-over-back" not in downstream("exit-over-back", CATALOGUE)


def test_at_most_three_drills_one_for_each_part_of_the_session() -> None:
    for fault in CATALOGUE.faults.values():
        kit = {"fins", "buoy", "beeper"}
        given = prescribe(fault, CATALOGUE, {fault.id}, SwimmerProfile("advanced", kit))
        assert 1 <= len(given.drills) <= 3, fault.id
        slots = [("prepare", "main", "whole").index(d.slot) for d in given.drills]
        assert slots == sorted(slots), fault.id
        in_water = [d for d in given.drills if d.place == "water"]
        assert in_water, fault.id
        assert len({d.slot for d in in_water}) == len(in_water), fault.id


def test_no_drill_feeds_another_finding_or_hurts() -> None:
    for fault in CATALOGUE.faults.values():
        found = {"overglide", "legs-low", fault.id}
        receiver = SwimmerProfile("advanced", {"buoy", "beeper"}, {"shoulder"})
        given = prescribe(fault, CATALOGUE, found, receiver)
        for drill in given.drills:
            assert not set(drill.feeds) & found
            assert "shoulder" not in drill.not_with + drill.loads


def test_causes_are_looked_for_upstream_nearest_first() -> None:
    found = ["breath-held", "late-breath", "overglide", "straight-arm"]
    assert upstream("overglide", found, CATALOGUE) == ["late-breath", "breath-held"]
    assert upstream("straight-arm", found, CATALOGUE) == []
    assert upstream("overglide", ["overglide"], CATALOGUE) == []


@pytest.mark.parametrize(
    ("drill", "found", "level", "kit", "pain", "word"),
    [
        ("catch-up", {"overglide"}, "improver", {}, {}, "it makes"),
        ("heads-up", {"legs-low"}, "improver", {}, {}, "it makes"),
        ("heads-up", {}, "improver", {}, {"neck"}, "painful neck"),
        ("heads-up", {}, "beginner", {}, {}, "not for a beginner"),
        ("front-scull", {}, "improver", {}, {}, "needs a buoy"),
        ("front-scull", {}, "improver", {"buoy"}, {}, None),
        ("ankle-sit", {}, "improver", {}, {"knee"}, "painful knee"),
    ],
)
def test_who_does_not_get_a_drill(drill, found, level, kit, pain, word) -> None:  # type: ignore[no-untyped-def]
    reason = unsuitable(CATALOGUE.drills[drill], CATALOGUE, found, SwimmerProfile(level, kit, pain))
    assert (reason is None) if word is None else (word in reason)


def test_doses_in_words() -> None:
    assert dose(CATALOGUE.drills["torpedo-kick"]) == "4 to 8 × 25 m"
    assert dose(CATALOGUE.drills["side-kick-line"]) == "4 × 25 m a side"
    assert dose(CATALOGUE.drills["ankle-sit"]) == "3 × 30 s"
    assert dose(CATALOGUE.drills["wall-slide"]) == "10 to 15 times"


def test_a_fault_that_loads_the_shoulder_brings_its_caution() -> None:
    topics = topics_of(CATALOGUE.faults["thumb-first"], [], "improver")
    assert "shoulder" in [c.id for c in CATALOGUE.cautions_for(topics)]


@pytest.mark.parametrize("stroke", ["freestyle", "backstroke", "breaststroke", "butterfly"])
def test_everybody_gets_a_drill_without_owning_anything(stroke: str) -> None:
    tables = load(stroke)
    for fault in tables.faults.values():
        given = prescribe(fault, tables, {fault.id}, SwimmerProfile("advanced"))
        assert given.drills, fault.id


def test_another_drill_goes_round_and_keeps_its_slot_first() -> None:
    fault = CATALOGUE.faults["dropped-elbow"]
    given = prescribe(fault, CATALOGUE, {fault.id}, SwimmerProfile("advanced", {"cord"}))
    kept = [d.id for d in given.drills]
    assert kept == ["wall-slide", "fist", "rail-hold"]
    other = given.instead_of("fist", kept)
    assert other is not None
    assert (other.id, other.slot) == ("doggy-paddle", "main")
    seen = {"fist"}
    at = "fist"
    for _ in range(10):
        other = given.instead_of(at, [k for k in kept if k != "fist"] + [at])
        assert other is not None
        at = other.id
        seen.add(at)
    assert {"fist", "doggy-paddle", "bench-paddle-3"} <= seen
    assert given.instead_of("catch-up", kept) is None


def test_the_school_decides_how_hard_to_drill_and_what_is_wanted() -> None:
    fist, rail = CATALOGUE.drills["heads-up"], CATALOGUE.drills["rail-hold"]
    assert effort_of(fist, CATALOGUE, {"intensity": "slow"}) == 2
    assert effort_of(fist, CATALOGUE, {"intensity": "varied"}) == fist.effort == 4
    # The whole stroke keeps its own effort.
    assert effort_of(rail, CATALOGUE, {}) == rail.effort
    light = SwimmerProfile("improver", schools={"kick": "two-beat"})
    reason = unsuitable(CATALOGUE.drills["six-beat-sets"], CATALOGUE, {}, light)
    assert reason == "not wanted by “light two-beat”"
