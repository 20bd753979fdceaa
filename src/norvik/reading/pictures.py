"""The frames of a film that are read, from a file or from the review copy of a clip."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path

import numpy as np
from av.video.frame import VideoFrame
from numpy.typing import NDArray

from norvik.footage.copy_frames import frames_of_copy, spread_pictures, upright
from norvik.footage.frames import Losses, decoded_frames
from norvik.footage.opening import open_footage
from norvik.reading.follow import Finder, usual_trunk
from norvik.reading.followed import READ_FPS

Image = NDArray[np.uint8]
Series = NDArray[np.float64]

#: Pictures from which the size of the swimmer is taken.
_LOOKS = 12


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


def film_pictures(path: Path, stretch: float) -> Iterator[tuple[int, float, Image]]:
    """The frames of a film that are read. stretch: how many times slower it plays than real."""
    return ((number, now, upright(frame)) for number, now, frame in _film_frames(path, stretch))


def film_times(path: Path, stretch: float) -> dict[int, float]:
    """Real seconds of the frames that are read, by their number."""
    return {number: now for number, now, _ in _film_frames(path, stretch)}


def _film_frames(path: Path, stretch: float) -> Iterator[tuple[int, float, VideoFrame]]:
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
                yield number, now, frame


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


def clip_times(first: int, last: int, real_s: Series) -> dict[int, float]:
    """Real seconds of the frames of a clip that are read, by their number; no picture is needed."""
    chosen = _Chosen()
    return {
        n: float(real_s[n]) for n in range(first, min(last + 1, len(real_s)))
        if chosen(float(real_s[n]))
    }  # fmt: skip


def trunk_in_clip(copy: Path, finder: Finder, first: int, last: int, frames: int) -> float | None:
    """See `usual_trunk`; of a clip of a recording that has so many frames."""
    whole = max(1, frames)
    pictures = spread_pictures(copy, _LOOKS, first / whole, (last + 1) / whole)
    return usual_trunk(pictures, finder)


def trunk_in_film(path: Path, finder: Finder) -> float | None:
    """See `usual_trunk`; of a whole film."""
    return usual_trunk(spread_pictures(path, _LOOKS), finder)
