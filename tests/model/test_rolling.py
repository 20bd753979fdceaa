"""A sensor read row by row: against a sum done by hand, and against the instants of each row."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from norvik.model.camera import camera_for
from norvik.model.dials import usual_swim
from norvik.model.film import Conditions, Shot, Take, shot_of
from norvik.model.rolling import Rolling
from norvik.model.truth import truth_of

READ_S = 0.02


def shot(read_s: float, fps: int = 60, still: bool = False, **more: float) -> Shot:
    conditions = Conditions(rolling_s=read_s, **more)  # type: ignore[arg-type]
    return Shot(Take(usual_swim("freestyle"), seconds=2, fps=fps, still=still,
                     conditions=conditions))  # fmt: skip


def test_rows_are_read_one_after_the_other_about_the_middle_one() -> None:
    late = Rolling(READ_S, 720).late_s(np.array([0.0, 360.0, 720.0, 900.0]))
    assert late == pytest.approx([-0.01, 0, 0.01, 0.01])


@pytest.mark.parametrize("still", [False, True])
def test_a_joint_is_where_it_was_as_its_row_was_read(still: bool) -> None:
    """Against the same swim with many more frames, looked up at that instant."""
    rolled, fine = shot(READ_S, still=still), shot(0, fps=6000, still=still)

    def seen(s: Shot, name: str) -> np.ndarray:
        along = np.zeros_like(s.joints[name])
        if still:
            along[:, 0] = s.travelled
        return s.camera.project(s.joints[name] + along)

    farthest = 0.0
    for name in ("right_wrist", "left_ankle", "crown"):
        flat, sharp = seen(rolled, name), seen(fine, name)
        at_once = sharp[:: 6000 // 60][: len(flat)]
        for n in range(10, 110, 7):
            row = flat[n, 1]
            instant = rolled.times[n] + READ_S * (np.clip(row / 720, 0, 1) - 0.5)
            true = [np.interp(instant, fine.times, sharp[:, k]) for k in range(2)]
            assert flat[n] == pytest.approx(true, abs=1.5)
            farthest = max(farthest, float(np.hypot(*(flat[n] - at_once[n]))))
    assert farthest > 2.5


def test_angles_are_those_of_the_body_and_not_of_its_picture() -> None:
    rolled, whole = shot(READ_S), shot(0)
    one = truth_of(rolled.joints, rolled.camera, rolled.travelled, rolled.body, rolled.in_picture)
    two = truth_of(whole.joints, whole.camera, whole.travelled)
    assert one["angles_deg"] == two["angles_deg"]
    assert one["joints_px"] != two["joints_px"]
    assert rolled.plan == whole.plan


def test_a_picture_that_a_hand_moves_leans_as_its_points_do() -> None:
    rolled = shot(READ_S, shake_px=20)
    pixels = np.tile([[300.0, 90.0]], (len(rolled.times), 1))
    moved = rolled.in_picture(pixels)
    speed = np.gradient(rolled.shaken, rolled.times, axis=0)
    for n in (5, 40, 77):
        matrix = rolled.rolling.moving(rolled.shaken[n], speed[n])
        assert moved[n] == pytest.approx(matrix @ [300, 90, 1])
        # By hand: row 90 of 720 is read 7.5 ms before the frame's instant.
        assert moved[n] == pytest.approx([300, 90] + rolled.shaken[n] - 0.0075 * speed[n])


def test_a_rope_float_low_in_the_picture_is_seen_later_than_the_wall_above_it() -> None:
    """A camera that goes along: what is read later has gone farther back."""
    take = Take(usual_swim("freestyle"), seconds=1, fps=30, style="filmlike")
    plain = shot_of(take)
    rolled = shot_of(replace(take, conditions=Conditions(rolling_s=0.03)))
    n, by = 12, 420
    one, two = plain.frame(n).astype(np.float32), rolled.frame(n).astype(np.float32)

    def shifted(top: int) -> int:
        """Pixels by which a band of the picture has to go right to look as in the plain one."""
        rows = np.s_[top : top + 40, 200:1080]
        off = {
            d: float(np.abs(one[rows] - np.roll(two, d, axis=1)[rows]).mean())
            for d in range(-15, 16)
        }
        return min(off, key=off.__getitem__)

    metre = camera_for("side-under").px_per_m(8.5)
    speed = float(np.gradient(plain.travelled, plain.times)[n])
    low, high = shifted(670), shifted(by)
    assert low - high == pytest.approx(speed * 0.03 * (670 - by) / 720 * metre, abs=3)
    assert low > high
