"""A swimmer followed through a film, and the joints evenly apart in time."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.cycle import swap_proof
from norvik.reading.detect import Person
from norvik.reading.follow import Finder, Pose, follow_swimmer
from norvik.reading.network import JOINTS, PoseNetwork

Image = NDArray[np.uint8]
Series = NDArray[np.float64]
#: (number of the frame, its real seconds, its picture).
Pictures = Iterable[tuple[int, float, Image]]

#: An arm is no longer than this, in trunk lengths.
_FARTHEST = 1.6
#: Frames a second that are read: all cycles together place an event finer than that.
READ_FPS = 30.0


@dataclass(frozen=True)
class Followed:
    """A swimmer in a film. poses: of the frames in which it was found; times_s: real seconds of
    every frame that was read, by its number. by_points: the joints are points that were tracked,
    not what the network saw.
    """

    poses: tuple[Pose, ...]
    times_s: Mapping[int, float]
    by_points: bool = False

    @property
    def seen(self) -> float:
        """Share of the frames read in which the swimmer was found."""
        return len(self.poses) / max(1, len(self.times_s))


def follow_film(
    pictures: Pictures, network: PoseNetwork, finder: Finder, usual_px: float | None,
    tapped: Person | None = None, told: Callable[[int], None] | None = None,
) -> Followed:  # fmt: skip
    """Follow one swimmer through as many of the pictures as are read. usual_px: see `usual_trunk`;
    without it, and without a tap, nobody is there to be followed.
    """
    times: dict[int, float] = {}

    def frames() -> Iterator[tuple[int, Image]]:
        for number, time_s, picture in pictures:
            times[number] = time_s
            yield number, picture
            if told is not None:
                told(number)

    if usual_px is None and tapped is None:
        return Followed((), {number: time_s for number, time_s, _ in pictures})
    found = follow_swimmer(frames(), network, finder, 1 / READ_FPS, tapped, usual_px)
    return Followed(tuple(found), times)


def evenly(followed: Followed) -> tuple[Series, dict[str, Series]]:
    """Joints evenly apart in time, nan where the swimmer was not found."""
    apart = 1 / READ_FPS
    times = followed.times_s.values()
    grid = np.arange(min(times), max(times) + apart / 2, apart)
    when = np.array([followed.times_s[p.frame] for p in followed.poses])
    points = np.array([p.points for p in followed.poses])
    gaps = np.abs(when[:, None] - grid[None]).min(axis=0) > 0.75 * apart
    joints = {}
    for n, name in enumerate(JOINTS):
        place = np.stack([np.interp(grid, when, points[:, n, axis]) for axis in (0, 1)], axis=1)
        place[gaps] = np.nan
        joints[name] = place
    return grid, joints


def legs_evenly(followed: Followed, times_s: Series) -> Series | None:
    """How much the picture changed where the legs are at each of times_s, shape (frames, parts).

    nan where the swimmer was not found; None where no picture was looked at.
    """
    seen = [(p.frame, p.legs_changed) for p in followed.poses if p.legs_changed is not None]
    if len(seen) < 2:
        return None
    apart = float(np.median(np.diff(sorted(followed.times_s.values()))))
    # What changed from one picture to the next did so halfway between.
    when = np.array([followed.times_s[frame] for frame, _ in seen]) - 0.5 * apart
    parts = np.array([changed for _, changed in seen])
    even = np.stack([np.interp(times_s, when, one) for one in parts.T], axis=1)
    even[np.abs(when[:, None] - times_s[None]).min(axis=0) > 0.75 * max(apart, 1 / READ_FPS)] = (
        np.nan
    )
    return even


def movement_of(poses: tuple[Pose, ...], times: dict[int, float]) -> tuple[Series, Series, float]:
    """How wrists, elbows and head move against the shoulders, in trunk lengths.

    Along the body and across it, evenly apart: what stays when the arms are swapped, what turns
    over then, and the seconds from one to the next.
    """
    apart = 1 / READ_FPS
    grid = np.arange(min(times.values()), max(times.values()) + apart / 2, apart)
    at = {name: n for n, name in enumerate(JOINTS)}
    points = np.array([p.points for p in poses])
    when = np.array([times[p.frame] for p in poses])
    shoulders = 0.5 * (points[:, at["left_shoulder"]] + points[:, at["right_shoulder"]])
    trunk = shoulders - 0.5 * (points[:, at["left_hip"]] + points[:, at["right_hip"]])
    length = np.maximum(np.linalg.norm(trunk, axis=1, keepdims=True), 1e-6)
    along = trunk / length
    across = np.stack([-along[:, 1], along[:, 0]], axis=1)
    usual = float(np.nanmedian(length))

    def moved(joint: str, way: Series) -> Series:
        place = np.sum((points[:, at[joint]] - shoulders) * way, axis=1) / usual
        return np.clip(place, -_FARTHEST, _FARTHEST)

    steady, turning = [moved("nose", across)[:, None]], []
    for joint in ("wrist", "elbow"):
        for way in (along, across):
            stays, turns = swap_proof(moved(f"left_{joint}", way), moved(f"right_{joint}", way))
            steady.append(stays)
            turning.append(turns[:, None])
    gaps = np.abs(when[:, None] - grid[None]).min(axis=0) > 2.5 * apart

    def even(series: Series) -> Series:
        found = np.stack([np.interp(grid, when, one) for one in series.T], axis=1)
        found[gaps] = np.nan
        return found

    return even(np.concatenate(steady, axis=1)), even(np.concatenate(turning, axis=1)), apart
