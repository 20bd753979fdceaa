"""Two films in step: exact examples, and two swims of the model at different rates."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from dtaidistance.dtw_ndim import warping_path

from norvik.core.errors import MarkError
from norvik.core.strokes.events import Mark
from norvik.core.time.compute import compute_timing
from norvik.core.time.in_step import (
    Anchor,
    CycleEvents,
    InStep,
    by_clock,
    by_event,
    by_phase,
    by_two_clocks,
    cycles_of_arm,
    laid_end_to_end,
)
from norvik.core.time.resolve import ResolvedMarks
from norvik.core.time.two_clocks import CommonInstant, tied
from norvik.model.body import Build
from norvik.model.dials import usual_swim
from norvik.model.pose import pose
from norvik.model.schedule import Schedule, schedule


def cycle(begin: float, end: float, **inner: float) -> CycleEvents:
    return CycleEvents("right", (("entry", begin), *inner.items()), end)


def test_each_phase_is_stretched_on_the_others() -> None:
    step = by_phase([cycle(1, 3, catch=1.5, exit=2.5)], [cycle(10, 11, catch=10.4, exit=10.6)])
    for one, other in ((1, 10), (1.25, 10.2), (1.5, 10.4), (2, 10.5), (2.5, 10.6), (3, 11)):
        assert step.other(one) == pytest.approx(other)
        assert step.one(other) == pytest.approx(one)
    # Outside of the cycles both run in real time.
    assert step.other(0.5) == pytest.approx(9.5)
    assert step.other(3.7) == pytest.approx(11.7)


def test_cycle_n_lies_on_cycle_m_and_those_around_follow() -> None:
    one = [cycle(t, t + 2) for t in (0, 2, 4)]
    other = [cycle(t, t + 1) for t in (0, 1, 2, 3)]
    step = by_phase(one, other, n=1, m=2)
    assert step.other(2) == pytest.approx(2)
    assert step.other(0) == pytest.approx(1)
    assert step.other(5) == pytest.approx(3.5)
    assert [a.other_s for a in step.anchors] == [1, 2, 3, 4]


def test_an_event_of_one_film_alone_is_passed_over() -> None:
    step = by_phase([cycle(0, 2, catch=0.5, press=1.0)], [cycle(0, 1, press=0.5)])
    assert [a.event for a in step.anchors] == ["entry", "press", "entry"]
    assert step.other(0.5) == pytest.approx(0.25)


def test_by_event_real_time_runs_between_and_waits_for_the_next() -> None:
    step = by_event([1.0, 3.0, 5.0], [10.0, 11.0, 14.0], "entry")
    assert step.other(1.6) == pytest.approx(10.6)
    # The other film's next event comes sooner: it waits there, no event is stepped over.
    assert step.other(2.5) == pytest.approx(11.0)
    assert step.other(3.0) == pytest.approx(11.0)
    # It comes later: the film jumps to it.
    assert step.other(4.9) == pytest.approx(12.9)
    assert step.other(5.0) == pytest.approx(14.0)
    assert by_event([1.0], [2.0, 4.0], "entry", 0, 1).other(1.5) == pytest.approx(4.5)


def test_one_cycle_stands_for_all() -> None:
    many = laid_end_to_end(cycle(10, 12, catch=10.5), 3)
    assert [(c.begin_s, c.end_s) for c in many] == [(10, 12), (12, 14), (14, 16)]
    assert [dict(c.events)["catch"] for c in many] == [10.5, 12.5, 14.5]
    step = by_phase([cycle(0, 1, catch=0.5), cycle(1, 3, catch=1.5)], many)
    assert step.other(1.5) == pytest.approx(12.5)


def test_two_cameras_go_by_the_one_clock() -> None:
    step = by_two_clocks(tied(CommonInstant(1, 11), CommonInstant(5, 15.02)))
    for one, other in ((1, 11), (5, 15.02), (3, 13.01), (0, 9.995), (9, 19.04)):
        assert step.other(one) == pytest.approx(other, abs=1e-6)
        assert step.one(other) == pytest.approx(one, abs=1e-6)


def test_by_clock_and_turned_round() -> None:
    step = by_clock(2.0, 7.0)
    assert step.other(3.5) == pytest.approx(8.5)
    assert step.turned.other(8.5) == pytest.approx(3.5)
    assert InStep((Anchor(0, 0), Anchor(1, 2))).turned.other(2) == 1


@pytest.mark.parametrize(
    ("build", "words"),
    [
        (lambda: by_phase([], [cycle(0, 1)]), "first film has no whole cycle"),
        (lambda: by_phase([cycle(0, 1)], []), "second film has no whole cycle"),
        (lambda: by_phase([cycle(0, 1)], [cycle(0, 1)], 1, 0), "no longer marked"),
        (lambda: by_event([], [1.0], "catch"), "first film has no"),
        (lambda: by_event([1.0], [1.0], "catch", 0, 3), "no longer marked"),
    ],
)
def test_it_says_what_to_mark(build, words: str) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(MarkError, match=words):
        build()


def test_marks_that_go_backward_in_one_film_are_no_anchors() -> None:
    step = by_phase([cycle(0, 2, catch=0.5, press=1.0)], [cycle(0, 1, press=0.4, catch=0.6)])
    assert [a.event for a in step.anchors] == ["entry", "catch", "entry"]


def plan(per_min: float, seed: int, **shares: float) -> Schedule:
    swim = replace(usual_swim("freestyle", per_min, seed), breath_every=0, **shares)
    return schedule(swim, 12)


def elbow(plan: Schedule, times: np.ndarray) -> np.ndarray:
    """Degrees at the right elbow."""
    joints = pose(plan, Build(), times, "freestyle")
    upper = joints["right_shoulder"] - joints["right_elbow"]
    fore = joints["right_wrist"] - joints["right_elbow"]
    cosine = (upper * fore).sum(1) / (np.linalg.norm(upper, axis=1) * np.linalg.norm(fore, axis=1))
    return np.degrees(np.arccos(np.clip(cosine, -1, 1)))


def read(swum: Schedule, fps: float) -> list[CycleEvents]:
    """The right arm's cycles as marked on the frames of a film."""
    events = [
        m._replace(time_s=round(m.time_s * fps) / fps)
        for m in swum.marks(0.0, 12.0)
        if m.lane == "arm"
    ]
    return cycles_of_arm(compute_timing(events, "freestyle", 1 / fps).resolved, "right")


def test_two_swims_of_one_technique_agree_at_fifty_instants() -> None:
    """Another rate, another frame rate: the same place in the stroke.

    Allowed is what half a frame interval of each film moves the joint, and 2 degrees.
    """
    slow, fast = plan(28, 3, variation=0.0), plan(46, 8, variation=0.0)
    one, other = read(slow, 60.0), read(fast, 240.0)
    step = by_phase(one, other, 1, 2)
    at = np.linspace(one[1].begin_s, one[3].end_s, 50, endpoint=False)
    there = np.array([step.other(float(t)) for t in at])
    assert np.all(np.diff(there) > 0)

    def moves(swum: Schedule, when: np.ndarray, half: float) -> np.ndarray:
        here = elbow(swum, when)
        return np.maximum(
            np.abs(elbow(swum, when + half) - here), np.abs(elbow(swum, when - half) - here)
        )

    allowed = moves(slow, at, 1 / 120) + moves(fast, there, 1 / 480) + 2.0
    apart = np.abs(elbow(slow, at) - elbow(fast, there))
    assert np.all(apart <= allowed), float(np.max(apart - allowed))


def test_with_other_shares_of_the_phases_every_event_meets_its_own() -> None:
    slow = plan(28, 3, entry=0.30, catch=0.14, pull=0.32, recovery=0.24, variation=0.02)
    fast = plan(46, 8, entry=0.16, catch=0.16, pull=0.40, recovery=0.28, variation=0.02)
    step = by_phase(read(slow, 60.0), read(fast, 240.0), 1, 2)
    whole = [[c.at for c in swum.arms["right"] if min(c.at.values()) > 0] for swum in (slow, fast)]
    for n in (1, 2, 3):
        for event, at in whole[0][n].items():
            # Half a frame of the slow film, as long as it lasts in the other one, and half a frame.
            allowed = (1 / 120) * 2.0 + 1 / 480
            there = whole[1][n + 1][event]
            assert step.other(at) == pytest.approx(there, abs=allowed), (n, event)


def angles(swum: Schedule, times: np.ndarray) -> np.ndarray:
    """How the right arm stands, shape (instants, 5).

    The elbow's angle, and where elbow and wrist are seen from the shoulder in the swimmer's plane,
    all of a size.
    """
    joints = pose(swum, Build(), times, "freestyle")
    rows = [elbow(swum, times) / 90.0]
    for name in ("right_elbow", "right_wrist"):
        away = joints[name] - joints["right_shoulder"]
        rows += [away[:, 0] / 0.3, away[:, 2] / 0.3]
    return np.column_stack(rows)


@pytest.mark.parametrize(
    ("glides", "most"),
    [
        # As two paces of one swimmer differ, and as two swimmers do: within 3 % of the cycle.
        ((0.24, 0.20), 0.03),
        ((0.28, 0.18), 0.03),
    ],
)
def test_phases_agree_with_plain_dynamic_time_warping(
    glides: tuple[float, float], most: float
) -> None:
    """Against dtaidistance (Apache 2.0), which knows nothing of events.

    It lays the joints of one cycle on those of another by their likeness alone (Sakoe and Chiba
    1978, IEEE Trans Acoust 26).
    """
    swims = [
        plan(per_min, seed, entry=g, catch=0.14, pull=0.58 - g, recovery=0.28, variation=0.0)
        for per_min, seed, g in zip((28, 46), (3, 8), glides, strict=True)
    ]
    one, other = read(swims[0], 240.0)[1], read(swims[1], 240.0)[2]
    at = np.linspace(one.begin_s, one.end_s, 301)
    there = np.linspace(other.begin_s, other.end_s, 301)
    path = np.array(warping_path(angles(swims[0], at), angles(swims[1], there)))
    step = by_phase([one], [other])
    ours = np.array([step.other(float(t)) for t in at])
    off = []
    for n in range(len(at)):
        # Between the first and the last instant that it takes for as good.
        reached = there[path[path[:, 0] == n, 1]]
        off.append(max(0.0, reached.min() - ours[n], ours[n] - reached.max()))
    shares = np.array(off) / (other.end_s - other.begin_s)
    assert shares.max() < most
    assert shares.mean() < 0.01
    for event, t in one.events:
        assert shares[np.abs(at - t).argmin()] < 0.01, event


# ---- to the word, and at the edges ----


def said(build) -> str:  # type: ignore[no-untyped-def]
    with pytest.raises(MarkError) as refused:
        build()
    return refused.value.sentence


def test_every_refusal_says_which_film_and_what_to_do() -> None:
    one = [cycle(0, 1)]
    for which, build in (
        ("first", lambda: by_phase([], one)), ("second", lambda: by_phase(one, [])),
    ):  # fmt: skip
        assert said(build) == (
            f"The {which} film has no whole cycle of this arm: mark it from one hand entry to the "
            "next, or step by event or by clock."
        )
    for which, build in (
        ("first", lambda: by_event([], [1.0], "press")),
        ("second", lambda: by_event([1.0], [], "press")),
    ):
        assert said(build) == f"The {which} film has no “pull”: mark one, or step by clock."
    for n, m in ((1, 0), (0, 1), (-1, 0), (0, -1)):
        assert said(lambda n=n, m=m: by_phase(one, one, n, m)) == (
            "This cycle is no longer marked. Reload the page."
        )
        assert said(lambda n=n, m=m: by_event([1.0], [1.0], "entry", n, m)) == (
            "This event is no longer marked. Reload the page."
        )


def test_by_event_goes_back_as_far_as_both_have_events() -> None:
    step = by_event([1.0, 3.0, 5.0, 7.0], [10.0, 12.5, 15.0], "catch", 2, 1)
    assert [(a.one_s, a.other_s, a.event) for a in step.anchors] == [
        (3.0, 10.0, "catch"), (5.0, 12.5, "catch"), (7.0, 15.0, "catch"),
    ]  # fmt: skip
    assert not step.stretched
    assert by_event([1.0, 3.0], [10.0], "catch").anchors == (Anchor(1.0, 10.0, "catch"),)


def test_two_events_at_one_instant_are_one_anchor() -> None:
    same = cycle(0, 2, catch=0.0, press=1.0)
    step = by_phase([same], [cycle(0, 4, catch=0.5, press=2.0)])
    assert [a.event for a in step.anchors] == ["entry", "press", "entry"]
    step = by_phase([cycle(0, 2, catch=0.5, press=1.0)], [cycle(0, 4, catch=0.0, press=2.0)])
    assert [a.event for a in step.anchors] == ["entry", "press", "entry"]
    # A thousandth of a second apart they are two.
    step = by_phase([cycle(0, 2, catch=0.001, press=1.0)], [cycle(0, 4, catch=0.5, press=2.0)])
    assert len(step.anchors) == 4


def marked(*events: tuple[float, str, str]) -> ResolvedMarks:
    marks = [Mark(t, "arm", side, event) for t, side, event in events]
    return compute_timing(marks, "freestyle", 1 / 60).resolved


def test_cycles_of_an_arm_are_whole_and_in_order() -> None:
    resolved = marked(
        (0.5, "left", "entry"), (1.0, "right", "entry"), (1.4, "right", "press"),
        (1.2, "right", "catch"), (1.5, "left", "catch"), (2.0, "right", "entry"),
        (2.5, "left", "entry"), (2.3, "right", "catch"),
    )  # fmt: skip
    # The second cycle of the right arm is not closed.
    assert cycles_of_arm(resolved, "right") == [
        CycleEvents("right", (("entry", 1.0), ("catch", 1.2), ("press", 1.4)), 2.0)
    ]
    assert cycles_of_arm(resolved, "left") == [
        CycleEvents("left", (("entry", 0.5), ("catch", 1.5)), 2.5)
    ]
    # A side that the stroke does not have: its last arm.
    assert cycles_of_arm(resolved, "both") == cycles_of_arm(resolved, "right")


def test_end_to_end_keeps_events_and_side() -> None:
    assert laid_end_to_end(cycle(1, 3, catch=1.5), 2) == [
        CycleEvents("right", (("entry", 1), ("catch", 1.5)), 3),
        CycleEvents("right", (("entry", 3), ("catch", 3.5)), 5),
    ]
    assert laid_end_to_end(cycle(1, 3), 0) == []
