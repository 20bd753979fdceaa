"""The elbow's angle in space from one camera, against arms that are built in three dimensions, and
what is said of a pull where points are lost.
"""

from __future__ import annotations

import math
from itertools import pairwise

import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.core.frame.movement import BENT_DEG, OUT_OF_PLANE, bends, climb, late_bend, longest

Values = NDArray[np.float64]
UPPER, FORE = 120.0, 100.0


def arm(bend_deg: float, out_deg: float, across_deg: float = 0.0) -> tuple[Values, Values, Values]:
    """Shoulder, elbow and wrist on the picture, one frame each, of an arm with that inner angle.

    out_deg: how far the plane of the arm is turned out of the picture about the line from shoulder
    to wrist, so that the elbow points to the camera's side.
    """
    half = math.radians(bend_deg)
    shoulder = np.array([0.0, 0.0, 0.0])
    # In the plane of the arm first: the elbow at the corner, then all turned about the chord.
    reach = math.sqrt(UPPER**2 + FORE**2 - 2 * UPPER * FORE * math.cos(half))
    at_shoulder = math.acos((UPPER**2 + reach**2 - FORE**2) / (2 * UPPER * reach))
    along, off = UPPER * math.cos(at_shoulder), UPPER * math.sin(at_shoulder)
    out = math.radians(out_deg)
    elbow = np.array([along, off * math.cos(out), off * math.sin(out)])
    wrist = np.array([reach, 0.0, 0.0])
    turn = math.radians(across_deg)
    rotated = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
    flat = [(rotated @ p[:2])[None] for p in (shoulder, elbow, wrist)]
    return flat[0], flat[1], flat[2]


@pytest.mark.parametrize("across", [0.0, 70.0, 200.0])
@pytest.mark.parametrize("bend", [60.0, 80.0, 100.0])
def test_an_elbow_that_points_to_the_camera_is_seen_to_bend(bend: float, across: float) -> None:
    """Its plane stands on the picture: both segments appear short, and the picture says 180."""
    shoulder, elbow, wrist = arm(bend, 90.0, across)
    assert bends(shoulder, elbow, wrist, UPPER, FORE)[0] == pytest.approx(bend, abs=1e-6)
    flat = math.degrees(
        math.acos(
            float(
                np.sum((shoulder - elbow) * (wrist - elbow))
                / np.prod([np.hypot(*(p - elbow).T) for p in (shoulder, wrist)])
            )
        )
    )
    assert flat == pytest.approx(180, abs=1e-4)


@pytest.mark.parametrize("bend", [90.0, 130.0, 170.0])
def test_in_the_picture_it_is_the_angle_that_is_seen(bend: float) -> None:
    shoulder, elbow, wrist = arm(bend, 0.0, 33.0)
    assert bends(shoulder, elbow, wrist, UPPER, FORE)[0] == pytest.approx(bend, abs=1e-6)
    # Slips of the clicks: what appears a little short does not point out of the picture.
    for share in (0.86, 0.999):
        long = bends(shoulder, elbow, wrist, UPPER / share, FORE / share)[0]
        assert long == pytest.approx(bend, abs=1e-6)
    # Shorter than that, both do.
    out = bends(shoulder, elbow, wrist, UPPER / 0.84, FORE / 0.84)[0]
    assert out < bend - 5 or bend == 90.0
    assert OUT_OF_PLANE == 0.85


def test_each_frame_by_itself_and_nothing_of_one_that_is_lost() -> None:
    arms = [arm(b, 90.0) for b in (80.0, 110.0, 100.0)]
    shoulder, elbow, wrist = (np.concatenate(points) for points in zip(*arms, strict=True))
    elbow[1] = np.nan
    found = bends(shoulder, elbow, wrist, UPPER, FORE)
    assert found[[0, 2]] == pytest.approx([80, 100])
    assert math.isnan(found[1])


def test_the_longest_that_a_segment_appears() -> None:
    """All but the last twentieth: one slip of a click does not count."""
    lengths = np.concatenate([np.arange(1.0, 101.0), [math.nan]])
    a = np.zeros((101, 2))
    b = np.stack([0.6 * lengths, 0.8 * lengths], axis=1)
    assert longest(a, b) == pytest.approx(np.percentile(lengths[:100], 95))
    assert longest(a + 7, b + 7) == pytest.approx(longest(a, b))
    assert math.isnan(longest(a, np.full((101, 2), math.nan)))


def pull(bent_from: int, frames: int = 61) -> tuple[Values, Values, Values]:
    """An arm that swings down from the front; from a frame on its forearm stays 60° behind."""
    swing = np.radians(np.linspace(0, 120, frames))
    shoulder = np.zeros((frames, 2))
    elbow = UPPER * np.stack([np.cos(swing), np.sin(swing)], axis=1)
    behind = np.where(np.arange(frames) >= bent_from, swing - np.radians(60), swing)
    wrist = elbow + FORE * np.stack([np.cos(behind), np.sin(behind)], axis=1)
    return shoulder, elbow, wrist


def share_before(wrist: Values, frame: int) -> float:
    steps = [math.dist(a, b) for a, b in pairwise(wrist)]
    return 100 * math.fsum(steps[:frame]) / math.fsum(steps)


@pytest.mark.parametrize("bent_from", [1, 10, 30, 60])
def test_how_much_of_the_way_is_done_before_it_bends(bent_from: int) -> None:
    shoulder, elbow, wrist = pull(bent_from)
    found = late_bend(shoulder, elbow, wrist)
    assert found == pytest.approx(share_before(wrist, bent_from))
    # The swimmer moves on past the camera: the way counts against the shoulder.
    drift = np.stack([np.linspace(0, 300, 61), np.linspace(0, 9, 61)], axis=1)
    assert late_bend(shoulder + drift, elbow + drift, wrist + drift) == pytest.approx(found)
    # By lengths of the clip it is the same arm, which lies in the picture.
    assert late_bend(shoulder, elbow, wrist, (UPPER, FORE)) == pytest.approx(found)


def test_an_arm_that_goes_in_bent_and_stretches_counts_from_its_longest() -> None:
    shoulder, elbow, wrist = pull(40)
    swing = np.radians(np.linspace(0, 120, 61))
    for n in range(8):
        behind = swing[n] - math.radians(60 - 6 * n)
        wrist[n] = elbow[n] + FORE * np.array([math.cos(behind), math.sin(behind)])
    assert late_bend(shoulder, elbow, wrist) == pytest.approx(share_before(wrist, 40))


def test_an_elbow_that_points_out_bends_only_by_the_lengths() -> None:
    """On the picture alone such an arm never bends.

    By the lengths it does, not before it truly does, and late by what the clicks may be off.
    """
    arms = [arm(170.0 - 2 * n, 90.0, 3 * n) for n in range(50)]
    shoulder, elbow, wrist = (np.concatenate(points) for points in zip(*arms, strict=True))
    assert late_bend(shoulder, elbow, wrist) == 100.0
    first = next(n for n in range(50) if told(shoulder[n], elbow[n], wrist[n]) < BENT_DEG)
    assert 170 - 2 * first < BENT_DEG
    found = late_bend(shoulder, elbow, wrist, (UPPER, FORE))
    assert found == pytest.approx(share_before(wrist, first), abs=0.01)


def told(shoulder: Values, elbow: Values, wrist: Values) -> float:
    """The bend of one frame by the cosine, each segment made as long as it is where it is short."""
    sides, outs = [], []
    for end, length in ((shoulder, UPPER), (wrist, FORE)):
        seen = math.dist(end, elbow)
        short = seen < OUT_OF_PLANE * length
        outs.append(math.sqrt(length**2 - seen**2) if short else 0.0)
        sides.append(length if short else seen)
    dot = math.fsum((shoulder - elbow) * (wrist - elbow)) + outs[0] * outs[1]
    return math.degrees(math.acos(max(-1.0, min(1.0, dot / (sides[0] * sides[1])))))


def test_lost_frames_within_a_pull_are_bridged_and_lost_ends_left_out() -> None:
    shoulder, elbow, wrist = pull(30)
    whole = late_bend(shoulder, elbow, wrist)
    assert whole is not None
    for lost in (slice(12, 15), slice(3, 25), slice(40, 50)):
        broken = wrist.copy()
        broken[lost] = np.nan
        found = late_bend(shoulder, elbow, broken)
        assert found is not None
        # What is cut off of the way is the bow over the gap.
        assert abs(found - whole) < 2
    # The elbow was lost all along while the arm reached: nobody knows when it was straight.
    unknown = elbow.copy()
    unknown[:45] = np.nan
    assert late_bend(shoulder, unknown, wrist) is None
    unknown[:20] = elbow[:20]
    assert late_bend(shoulder, unknown, wrist) == pytest.approx(share_before(wrist, 45))
    ends = wrist.copy()
    ends[:5] = np.nan
    later = late_bend(shoulder, elbow, ends)
    assert later == pytest.approx(share_before(wrist[5:], 25))
    # Two frames are no way.
    assert late_bend(shoulder[:2], elbow[:2], wrist[:2]) is None
    assert late_bend(shoulder[:3], elbow[:3], wrist[:3]) == 100.0


@pytest.mark.parametrize("heading", [1, -1])
@pytest.mark.parametrize("rise", [0.3, -0.4])
def test_a_climb_is_the_same_swum_either_way(rise: float, heading: int) -> None:
    """Up is up, whichever way it is swum; a tilted camera is put right."""
    x = np.arange(40.0)
    way = np.stack([heading * x, -rise * x], axis=1)
    expected = math.degrees(math.atan(rise))
    assert climb(way) == pytest.approx(expected)
    assert climb(way, 8.0) == pytest.approx(expected - heading * 8.0)
    # Points on either side of the way leave it where it is; a lost one is left out.
    off = way + np.stack([np.zeros(40), np.where(np.arange(40) % 2, 1.0, -1.0)], axis=1)
    assert climb(off) == pytest.approx(expected, abs=0.7)
    lost = way.copy()
    lost[7] = np.nan
    assert climb(lost) == pytest.approx(expected)
    assert climb(way[:3]) == pytest.approx(expected)
    assert climb(way[:2]) is None
