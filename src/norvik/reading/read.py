"""Reading a film: follow the swimmer, tell the rate, and find the events of the stroke."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from norvik.core.reading.cycle import CycleTime, cycle_time, swap_proof
from norvik.core.reading.limbs import limbs_of
from norvik.core.reading.stroke import VIEWS, ReadEvent, read_stroke
from norvik.footage.copy_frames import frames_of_copy, spread_pictures, upright
from norvik.footage.frames import Losses, decoded_frames
from norvik.footage.opening import open_footage
from norvik.reading.detect import Person
from norvik.reading.follow import Finder, Pose, follow_swimmer, usual_trunk
from norvik.reading.network import JOINTS, PoseNetwork
from norvik.reading.templates import templates_of

Image = NDArray[np.uint8]
Series = NDArray[np.float64]
#: (number of the frame, its real seconds, its picture).
Pictures = Iterable[tuple[int, float, Image]]

#: An arm is no longer than this, in trunk lengths.
_FARTHEST = 1.6
#: Frames a second that are read: all cycles together place an event finer than that.
READ_FPS = 30.0
#: Of so many frames read the swimmer has to be found in one, or nothing is told.
_LEAST_FOUND = 0.2
#: Pictures from which the size of the swimmer is taken.
_LOOKS = 12


@dataclass(frozen=True)
class Followed:
    """A swimmer in a film. poses: of the frames in which it was found; times_s: real seconds of
    every frame that was read, by its number.
    """

    poses: tuple[Pose, ...]
    times_s: Mapping[int, float]

    @property
    def seen(self) -> float:
        """Share of the frames read in which the swimmer was found."""
        return len(self.poses) / max(1, len(self.times_s))


@dataclass(frozen=True)
class Read:
    """What was read of a film.

    cycle: the time of a cycle, or None. events: of the stroke, in time order, none of them a mark.
    reasons: what cannot be told, and why.
    """

    followed: Followed
    cycle: CycleTime | None = None
    events: tuple[ReadEvent, ...] = ()
    reasons: Mapping[str, str] = field(default_factory=dict)


def read_film(
    path: Path, stroke: str, network: PoseNetwork, finder: Finder, stretch: float = 1.0,
    tapped: Person | None = None, told: Callable[[int], None] | None = None, view: str = "",
) -> Read:  # fmt: skip
    """Read a film of one swimmer. FootageError where it cannot be decoded.

    stretch: how many times slower the film plays than real time. tapped: the swimmer in the first
    frame. told: the number of each frame that was read; what it raises ends the reading. view:
    where it was filmed from; without it no events are looked for.
    """
    usual = None if tapped else usual_trunk(spread_pictures(path, _LOOKS), finder)
    followed = follow_film(_of_film(path, stretch), network, finder, usual, tapped, told)
    return read_followed(followed, stroke, view)


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


def read_followed(followed: Followed, stroke: str, view: str) -> Read:
    """What is told by where the joints of a swimmer are."""
    if not followed.poses:
        return _nothing(followed, "no swimmer was found in this film")
    if followed.seen < _LEAST_FOUND:
        return _nothing(followed, "the swimmer is out of sight most of the time")
    cycle = cycle_time(*_movement(followed.poses, dict(followed.times_s)), stroke)
    if isinstance(cycle, str):
        return _nothing(followed, cycle)
    templates = templates_of(stroke, view) if view in VIEWS else None
    if templates is None:
        reasons = {"events": "events are found only in films from the side"} if view else {}
        return Read(followed, cycle, (), reasons)
    times_s, joints = _evenly(followed)
    found = read_stroke(limbs_of(joints), times_s, stroke, templates, cycle.seconds)
    return Read(followed, cycle, found.events, found.reasons)


def _nothing(followed: Followed, reason: str) -> Read:
    return Read(followed, None, (), {"rate": reason, "events": reason})


class _Chosen:
    """Which frames are read, by their real seconds."""

    def __init__(self) -> None:
        self._due: float | None = None

    def __call__(self, time_s: float) -> bool:
        due = time_s if self._due is None else self._due
        # Half a frame's grace, so that 60 frames a second give every second one.
        if time_s + 0.2 / READ_FPS < due:
            return False
        self._due = max(due, time_s) + 1 / READ_FPS
        return True


def _of_film(path: Path, stretch: float) -> Iterator[tuple[int, float, Image]]:
    chosen = _Chosen()
    with open_footage(path) as source:
        base = source.stream.time_base
        first = None
        for number, frame in enumerate(decoded_frames(source, Losses())):
            if frame.pts is None or base is None:
                continue
            first = frame.pts if first is None else first
            now = float((frame.pts - first) * base) / stretch
            if chosen(now):
                yield number, now, upright(frame)


def clip_pictures(
    copy: Path, rate: Fraction, first: int, last: int, real_s: Series
) -> Iterator[tuple[int, float, Image]]:
    """The frames of a clip that are read, from its review copy. real_s: of each frame of the
    recording.
    """
    chosen = _Chosen()
    for number, frame in frames_of_copy(copy, rate, first, last):
        if number < len(real_s) and chosen(float(real_s[number])):
            yield number, float(real_s[number]), upright(frame)


def trunk_in_clip(copy: Path, finder: Finder, first: int, last: int, frames: int) -> float | None:
    """See `usual_trunk`; of a clip of a recording that has so many frames."""
    whole = max(1, frames)
    pictures = spread_pictures(copy, _LOOKS, first / whole, (last + 1) / whole)
    return usual_trunk(pictures, finder)


def _evenly(followed: Followed) -> tuple[Series, dict[str, Series]]:
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


def _movement(poses: tuple[Pose, ...], times: dict[int, float]) -> tuple[Series, Series, float]:
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
