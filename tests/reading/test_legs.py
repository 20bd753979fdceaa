"""What is seen to change where the legs are, and what is not."""

from __future__ import annotations

from collections.abc import Iterator

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.reading.detect import Person
from norvik.reading.follow import follow_swimmer
from norvik.reading.followed import Followed, legs_evenly
from norvik.reading.legs import SIZE, LegStir
from norvik.reading.network import JOINTS, Landmarks

Image = NDArray[np.uint8]
Floats = NDArray[np.float64]
#: A picture that is the square itself.
AS_IT_IS = np.eye(2, 3)


def pool(rng: np.random.Generator) -> Image:
    return np.repeat(rng.integers(90, 110, (200, 260, 1), np.uint8), 3, axis=2)


def with_a_foot(picture: Image, x: float, y: float) -> Image:
    made = picture.copy()
    cv2.circle(made, (round(x), round(y)), 4, (240, 220, 200), -1)
    return made


def parts(changed: Floats | None) -> Floats:
    assert changed is not None
    return changed.reshape(8, 8)


def test_only_what_moves_among_the_legs_changes_and_only_there() -> None:
    still = pool(np.random.default_rng(1))
    stir = LegStir()
    assert stir.look(still, AS_IT_IS) is None
    assert not parts(stir.look(still, AS_IT_IS)).any()
    # Above the hips: an arm, say.
    assert not parts(stir.look(with_a_foot(still, 64, 40), AS_IT_IS)).any()
    found = parts(stir.look(with_a_foot(still, 40 + 3, 74 + 45), AS_IT_IS))
    assert found.argmax() == 7 * 8 + 0
    assert found[:3].max() < 0.1 * found.max()
    stir.forget()
    assert stir.look(still, AS_IT_IS) is None


def test_light_that_comes_and_goes_is_no_movement() -> None:
    still = pool(np.random.default_rng(2))
    stir = LegStir()
    stir.look(still, AS_IT_IS)
    brighter = parts(stir.look(np.asarray(still + 20, np.uint8), AS_IT_IS))
    moved = parts(stir.look(with_a_foot(np.asarray(still + 20, np.uint8), 60, 100), AS_IT_IS))
    assert brighter.max() < 0.05 * moved.max()


def test_it_goes_along_with_the_swimmer_and_the_pool_stays_behind() -> None:
    """The same change wherever the swimmer is; what was there one picture ago is looked at too."""
    still = pool(np.random.default_rng(3))
    seen = []
    for shift in (0, 70):
        stir, into = LegStir(), AS_IT_IS.copy()
        into[0, 2] = -shift
        stir.look(with_a_foot(still, 60 + shift, 90), into)
        # One step on: the square has moved, tiles that it passes have not.
        into[0, 2] = -shift - 3
        seen.append(parts(stir.look(with_a_foot(still, 63 + shift, 100), into)))
    assert np.corrcoef(seen[0].ravel(), seen[1].ravel())[0, 1] > 0.98
    assert seen[0][0, 7] == 0


class _Upright:
    """A network that sees a swimmer upright in the middle of whatever it is shown."""

    size = 256

    def landmarks(self, square: Image) -> Landmarks:
        trunk, points = self.size / 5.4, np.full((len(JOINTS), 2), self.size / 2, np.float32)
        for n, name in enumerate(JOINTS):
            if name.endswith("shoulder"):
                points[n, 1] -= trunk
        return Landmarks(points, np.ones(len(JOINTS), np.float32), 1.0)


class _Known:
    def person(self, picture: Image) -> Person | None:
        return Person((130.0, 100.0), (130.0, 60.0), 0.9)


def test_each_pose_but_the_first_says_how_its_legs_changed_halfway_before_it() -> None:
    assert SIZE == 128
    still = pool(np.random.default_rng(4))

    def frames() -> Iterator[tuple[int, Image]]:
        for n in range(30):
            yield n, with_a_foot(still, 130, 150 + (12 if n >= 20 else 0))

    poses = tuple(follow_swimmer(frames(), _Upright(), _Known(), 1 / 30, None, 40.0))
    assert [p.legs_changed is None for p in poses] == [True] + [False] * 29
    followed = Followed(poses, {n: n / 30 for n in range(30)})
    times_s = np.arange(30) / 30
    changed = legs_evenly(followed, times_s)
    assert changed is not None
    # The foot moved between the pictures of 19/30 and 20/30 s: half of it falls to each.
    total = np.nansum(changed, axis=1)
    assert total[19] == total[20] > 0
    assert total.sum() == total[19] + total[20]
    without = tuple(type(p)(p.frame, p.points, p.visible) for p in poses)
    assert legs_evenly(Followed(without, followed.times_s), times_s) is None
    gap = Followed(tuple(p for p in poses if not 5 <= p.frame < 10), followed.times_s)
    lost = legs_evenly(gap, times_s)
    assert lost is not None
    assert np.isnan(lost[6:9]).all()
    assert np.isfinite(lost[11:]).all()
