"""What is said of each event that was read: its side, its plus-minus, how sure it is; and in which
words it is said that something cannot be told.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from norvik.core.reading.breaths import front_breaths
from norvik.core.reading.events import clock_of
from norvik.core.reading.kicks import dolphin, flutter
from norvik.core.reading.limbs import Limbs
from norvik.core.reading.phase import phase_path
from norvik.core.reading.stroke import (
    BREATH,
    ReadEvent,
    ReadStroke,
    Templates,
    read_stroke,
    stroke_cost,
    within,
)
from norvik.model.schedule import USUAL
from norvik.reading.templates import templates_of
from tests.core.kick_counts import saying
from tests.core.test_read_stroke import Series, swum

#: Of a made-up network: SD in seconds of what was read.
OFFS = {"entry": 0.02, "turn": 0.05, "air": 0.04, "down": 0.03, "beat": 0.025, "set": 0.01}


def known(stroke: str) -> Templates:
    templates = templates_of(stroke, "side-under")
    assert templates is not None
    # As of tracked points: no picture is looked at.
    return replace(templates, offs=OFFS, kicks=saying(6), kick_motion=None)


def clock(limbs: Limbs, stroke: str, times: Series, together: bool) -> tuple[Series, Series]:
    way = phase_path(limbs.arms, known(stroke).arms, USUAL[stroke].cycle_s, 1 / 30, not together)
    return clock_of(times, way.phase)


def read(limbs: Limbs, times: Series, stroke: str) -> ReadStroke:
    return read_stroke(limbs, times, stroke, known(stroke), USUAL[stroke].cycle_s)


def of_lane(found: ReadStroke, lane: str) -> list[ReadEvent]:
    return [e for e in found.events if e.lane == lane]


def test_breaths_and_kicks_of_butterfly_come_on_the_clock_of_its_arms() -> None:
    _, times, limbs = swum("butterfly", "side-under", 1)
    numbers, opened = clock(limbs, "butterfly", times, together=True)
    share = np.interp(times, opened, numbers)
    rng = np.random.default_rng(4)
    head = 0.3 * ((share % 2 > 0.55) & (share % 2 < 0.95)) + rng.normal(0, 0.02, len(times))
    low = sum(np.exp(-0.5 * (((share - c + 0.5) % 1 - 0.5) / 0.07) ** 2) for c in (0.1, 0.65))
    limbs = replace(limbs, head=head, feet=-np.stack([low, low], axis=1))
    found = read(limbs, times, "butterfly")
    assert found.reasons == {}
    assert [e.time_s for e in found.events] == sorted(e.time_s for e in found.events)
    places = {e: known("butterfly").arms.events[e] for e in BREATH}
    breaths = front_breaths(times, head, numbers, opened, places, False)
    assert breaths
    assert of_lane(found, "breath") == [
        ReadEvent(t, "breath", "" if e == "down" else "front", e, 1.96 * OFFS[e],
                  round(within(0.08, OFFS[e]) * clear, 3))
        for e, t, clear in breaths
    ]  # fmt: skip
    kicks = dolphin(times, limbs.feet, numbers, opened)
    assert kicks is not None
    sure = round(within(0.08, 0.025) * kicks[1], 3)
    assert of_lane(found, "leg") == [
        ReadEvent(t, "leg", "", "beat", 1.96 * 0.025, sure) for t in kicks[0]
    ]
    entries = [e for e in of_lane(found, "arm") if e.event == "entry"]
    assert {(e.side, e.u95_s, e.confidence) for e in entries} == {("", 1.96 * 0.02, 1.0)}
    # What nothing was learnt of: a usual spread.
    exits = {(e.u95_s, e.confidence) for e in of_lane(found, "arm") if e.event == "exit"}
    assert exits == {(1.96 * 0.06, within(0.08, 0.06))}


def test_freestyle_has_two_arms_and_kicks_and_says_that_breaths_are_not_seen() -> None:
    _, times, foam = swum("freestyle", "side-under", -1)
    limbs = foam
    numbers, opened = clock(limbs, "freestyle", times, together=False)
    wave = 0.1 * np.cos(2 * np.pi * 3 * np.interp(times, opened, numbers))
    limbs = replace(limbs, feet=np.stack([wave, -wave], axis=1))
    found = read(limbs, times, "freestyle")
    assert found.reasons == {"breaths": "breaths to the side can't be seen in films from the side"}
    assert {e.side for e in of_lane(found, "arm")} == {"left", "right"}
    kicks = flutter(times, limbs.feet, numbers, opened, 6)
    assert kicks is not None
    assert [e.time_s for e in of_lane(found, "leg")] == kicks[0]
    assert {e.confidence for e in of_lane(found, "leg")} == {
        round(within(0.08, OFFS["beat"]) * kicks[1], 3)
    }
    assert of_lane(found, "breath") == []
    still = read(replace(limbs, feet=np.full((300, 2), np.nan)), times, "freestyle")
    assert still.reasons["kicks"] == "the feet show no steady kick"
    assert of_lane(still, "leg") == []
    assert of_lane(still, "arm") == of_lane(found, "arm")
    unsure = replace(known("freestyle"), kicks=saying(None))
    doubtful = read_stroke(foam, times, "freestyle", unsure, USUAL["freestyle"].cycle_s)
    assert doubtful.reasons["kicks"] == "the number of kicks per cycle can't be seen"
    assert of_lane(doubtful, "leg") == []


def test_the_far_arm_of_a_swimmer_may_be_lost_alone() -> None:
    _, times, limbs = swum("freestyle", "side-under", 1)
    good = read(limbs, times, "freestyle")
    arms = limbs.arms.copy()
    templates = known("freestyle").arms
    way = phase_path(arms, templates, USUAL["freestyle"].cycle_s, 1 / 30, True)
    # The far arm is held up out of the water; which of the two it is changes from frame to frame.
    is_far = np.nan_to_num(arms) == np.nan_to_num(way.far)[:, None]
    arms[is_far.all(axis=2)] = (0.2, 1.5, 0.1, 0.8)
    found = read(replace(limbs, arms=arms), times, "freestyle")
    assert {e.side for e in of_lane(good, "arm")} == {"left", "right"}
    assert {e.side for e in of_lane(found, "arm")} == {"right"}
    assert found.reasons["arm left"] == "this arm does not move as in this stroke"
    assert len(of_lane(found, "arm")) == sum(e.side == "right" for e in good.events)


def test_the_legs_of_breaststroke_say_when_they_are_no_kick() -> None:
    _, times, limbs = swum("breaststroke", "side-under", 1)
    rng = np.random.default_rng(6)
    good = read(limbs, times, "breaststroke")
    assert good.reasons == {}
    sets = {(e.side, e.u95_s, e.confidence) for e in of_lane(good, "leg") if e.event == "set"}
    assert sets == {("", 1.96 * 0.01, 1.0)}
    wild = replace(limbs, legs=rng.uniform(-2, 2, limbs.legs.shape))
    found = read(wild, times, "breaststroke")
    assert found.reasons == {"legs": "the legs do not move as in a breaststroke kick"}
    assert of_lane(found, "leg") == []
    # In breaststroke every cycle has its breath, however little the head comes up.
    airs = [e for e in of_lane(good, "breath") if e.event == "air"]
    assert len(airs) >= 5
    unlearnt = replace(known("breaststroke"), offs={})
    usual = read_stroke(limbs, times, "breaststroke", unlearnt, USUAL["breaststroke"].cycle_s)
    assert {e.u95_s for e in of_lane(usual, "breath")} == {1.96 * 0.08}
    blind = read(replace(limbs, head=np.full(300, np.nan)), times, "breaststroke")
    assert blind.reasons == {"breaths": "the head does not clearly come up"}
    assert of_lane(blind, "breath") == []
    assert of_lane(blind, "arm") == of_lane(good, "arm")


def test_too_little_or_something_else_is_said_in_words() -> None:
    _, times, limbs = swum("freestyle", "side-under", 1)
    short = Limbs(
        limbs.arms[:40],
        limbs.legs[:40],
        limbs.feet[:40],
        limbs.toes[:40],
        limbs.head[:40],
        1,
        limbs.trunk_px,
    )
    few = read(short, times[:40], "freestyle")
    assert few == ReadStroke((), {"arms": "fewer than two whole cycles can be seen"})
    rng = np.random.default_rng(7)
    wild = replace(limbs, arms=rng.uniform(-1.6, 1.6, limbs.arms.shape))
    none = read(wild, times, "freestyle")
    assert none == ReadStroke((), {"arms": "the arms do not move as in this stroke"})


@pytest.mark.parametrize(("stroke", "share"), [("backstroke", 1.0), ("butterfly", 0.75)])
def test_arms_that_move_together_are_the_easier_to_fit(stroke: str, share: float) -> None:
    _, _, limbs = swum(stroke, "side-under", 1)
    templates, cycle = known(stroke), USUAL[stroke].cycle_s
    way = phase_path(limbs.arms, templates.arms, cycle, 1 / 30, stroke == "backstroke")
    cost = stroke_cost(limbs, stroke, templates, cycle, 1 / 30)
    assert cost == pytest.approx(share * way.total, rel=1e-12)
