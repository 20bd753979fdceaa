"""Reading a film: decode, find and follow the swimmer, and tell the rate."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.cycle import CycleTime, cycle_time, swap_proof
from norvik.footage.frames import Losses, decoded_frames
from norvik.footage.opening import open_footage
from norvik.reading.detect import Person
from norvik.reading.follow import Finder, Pose, follow_swimmer
from norvik.reading.network import JOINTS, PoseNetwork

Series = NDArray[np.float64]

#: An arm is no longer than this, in trunk lengths.
_FARTHEST = 1.6
#: Frames a second that are read: more tell nothing more about a rate.
_READ_FPS = 30.0
#: Of so many frames read the swimmer has to be found in one, or nothing is told.
_LEAST_FOUND = 0.2


@dataclass(frozen=True)
class Read:
    """What was read of a film.

    poses: of the frames in which the swimmer was found; times_s: seconds since the first frame of
    every frame that was read, by its number. cycle: the time of a cycle, or None. reasons: what
    cannot be told, and why. seen: share of the frames read in which the swimmer was found.
    """

    poses: tuple[Pose, ...]
    times_s: dict[int, float]
    cycle: CycleTime | None
    seen: float
    reasons: dict[str, str] = field(default_factory=dict)


def read_film(
    path: Path, stroke: str, network: PoseNetwork, finder: Finder, stretch: float = 1.0,
    tapped: Person | None = None, told: Callable[[int], None] | None = None,
) -> Read:  # fmt: skip
    """Read a film of one swimmer. FootageError where it cannot be decoded.

    stretch: how many times slower the film plays than real time. tapped: the swimmer in the first
    frame. told: the number of each frame that was read; what it raises ends the reading.
    """
    times: dict[int, float] = {}
    frames = _frames(path, stretch, times, told)
    poses = tuple(follow_swimmer(frames, network, finder, 1 / _READ_FPS, tapped))
    seen = len(poses) / max(1, len(times))
    if not poses:
        return Read((), times, None, 0.0, {"rate": "no swimmer was found in this film"})
    if seen < _LEAST_FOUND:
        return Read(
            poses, times, None, seen, {"rate": "the swimmer is out of sight most of the time"}
        )
    found = cycle_time(*_movement(poses, times), stroke)
    if isinstance(found, str):
        return Read(poses, times, None, seen, {"rate": found})
    return Read(poses, times, found, seen)


def _frames(
    path: Path, stretch: float, times: dict[int, float], told: Callable[[int], None] | None
) -> Iterator[tuple[int, NDArray[np.uint8]]]:
    """Every frame that is read, upright, as RGB; its real seconds are noted in `times`."""
    with open_footage(path) as source:
        base = source.stream.time_base
        source.stream.thread_type = "AUTO"
        first, due = None, 0.0
        for number, frame in enumerate(decoded_frames(source, Losses())):
            if frame.pts is None or base is None:
                continue
            first = frame.pts if first is None else first
            now = float((frame.pts - first) * base) / stretch
            # Half a frame's grace, so that 60 frames a second give every second one.
            if now + 0.2 / _READ_FPS < due:
                continue
            due = max(due, now) + 1 / _READ_FPS
            times[number] = now
            picture = frame.to_ndarray(format="rgb24")
            turns = (frame.rotation // 90) % 4
            yield number, np.ascontiguousarray(np.rot90(picture, turns))
            if told is not None:
                told(number)


def _movement(poses: tuple[Pose, ...], times: dict[int, float]) -> tuple[Series, Series, float]:
    """How wrists, elbows and head move against the shoulders, in trunk lengths.

    Along the body and across it, evenly apart: what stays when the arms are swapped, what turns
    over then, and the seconds from one to the next.
    """
    apart = 1 / _READ_FPS
    grid = np.arange(min(times.values()), max(times.values()) + apart / 2, apart)
    at = {name: n for n, name in enumerate(JOINTS)}
    points = np.array([p.points for p in poses])
    when = np.array([times[p.frame] for p in poses])
    shoulders = 0.5 * (points[:, at["left_shoulder"]] + points[:, at["right_shoulder"]])
    trunk = shoulders - 0.5 * (points[:, at["left_hip"]] + points[:, at["right_hip"]])
    length = np.maximum(np.linalg.norm(trunk, axis=1, keepdims=True), 1e-6)
    along = trunk / length
    across = np.stack([-along[:, 1], along[:, 0]], axis=1)
    usual = float(np.median(length))

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
