"""Events from followed points, held against what the model swimmer really did."""

from __future__ import annotations

from collections import defaultdict

import numpy as np
import pytest

from norvik.core.frame.geometry import Point
from norvik.core.frame.references import References
from norvik.core.frame.track_events import Followed, propose_from_tracks
from norvik.core.time.proposals import Proposal, merged
from norvik.model.body import Build
from norvik.model.camera import camera_for
from norvik.model.dials import usual_swim
from norvik.model.pose import pose
from norvik.model.schedule import schedule

SECONDS, RATE = 12, 60
TIMES = np.arange(SECONDS * RATE) / RATE
CAMERA = camera_for("side-under")
SURFACE = References(
    water=tuple(Point(*p) for p in CAMERA.project(np.array([[-1.0, 0, 0], [1.0, 0, 0]])).tolist())
)


def swim(stroke: str, rate: float, points: tuple[str, ...]) -> tuple[Followed, list]:  # type: ignore[type-arg]
    plan = schedule(usual_swim(stroke, rate, 3), SECONDS)
    joints = pose(plan, Build(), TIMES, stroke)
    followed = {
        (point, side): CAMERA.project(joints[f"{side}_{point}"])
        for side in ("left", "right")
        for point in points
    }
    return followed, plan.marks(0, SECONDS)


def off(found: list[Proposal], marks: list) -> dict[str, list[float]]:  # type: ignore[type-arg]
    """Seconds from each proposal to the nearest true event of its kind; later is positive."""
    away = defaultdict(list)
    for p in found:
        true = [m.time_s for m in marks if (m.lane, m.side, m.event) == (p.lane, p.side, p.event)]
        away[p.event].append(min((p.time_s - t for t in true), key=abs))
    return away


@pytest.mark.parametrize("rate", [28, 40, 56])
def test_arm_events_of_freestyle(rate: float) -> None:
    followed, marks = swim("freestyle", rate, ("wrist", "shoulder"))
    away = off(propose_from_tracks(TIMES, followed, SURFACE), marks)
    true = sum(m.event == "exit" for m in marks)
    for event, usual_s, count in (
        ("exit", 0.05, true - 1), ("shoulder", 0.03, true - 3), ("catch", 0.05, true - 3),
        # The wrist is no fingertip: it goes in a little later.
        ("entry", 0.08, true - 3), ("press", 0.08, true - 3),
    ):  # fmt: skip
        assert len(away[event]) >= count, event
        assert abs(np.median(away[event])) <= usual_s, event
    assert max(map(abs, away["exit"])) < 0.1


def test_beats_are_the_lowest_of_the_ankle() -> None:
    followed, marks = swim("freestyle", 30, ("ankle",))
    found = propose_from_tracks(TIMES, followed, References())
    away = off(found, marks)
    assert {p.lane for p in found} == {"leg"}
    assert len(away["beat"]) >= 0.85 * sum(m.event == "beat" for m in marks)
    assert np.median(np.abs(away["beat"])) < 0.1


def test_a_mouth_above_the_surface_is_a_breath() -> None:
    height = 20 * np.sin(2 * np.pi * 0.4 * TIMES + 0.1)
    mouth = np.stack([np.full(TIMES.size, 300.0), 160 - height], axis=1)
    surface = References(water=(Point(0, 160), Point(1000, 160)))
    found = propose_from_tracks(TIMES, {("mouth", ""): mouth}, surface)
    assert [p.event for p in found[:3]] == ["down", "air", "down"]
    assert {p.lane for p in found} == {"breath"}
    assert found[0].time_s == pytest.approx(1.25 - 0.1 / (2 * np.pi * 0.4), abs=0.02)


def test_lost_is_lost_and_without_a_surface_nothing_crosses_it() -> None:
    followed, _ = swim("freestyle", 40, ("wrist",))
    assert propose_from_tracks(TIMES, followed, References()) == []
    hidden = {k: v.copy() for k, v in followed.items()}
    for at in hidden.values():
        at[100:400] = np.nan
    found = propose_from_tracks(TIMES, hidden, SURFACE)
    assert found
    assert not [p for p in found if TIMES[102] < p.time_s < TIMES[397]]


def test_what_is_seen_counts_more_than_what_is_usual() -> None:
    usual = [Proposal(1.0, "left", "entry"), Proposal(2.0, "left", "catch")]
    seen = [Proposal(1.1, "left", "entry"), Proposal(0.5, "", "down", "breath")]
    assert merged(usual, seen) == [seen[1], seen[0], usual[1]]
