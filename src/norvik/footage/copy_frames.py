"""Frames of a review copy by their numbers, and a few pictures spread over any film."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.video.frame import VideoFrame
from numpy.typing import NDArray

from norvik.core.errors import FootageError
from norvik.footage.opening import open_footage

Image = NDArray[np.uint8]


def frames_of_copy(
    copy: Path, rate: Fraction, first: int, last: int
) -> Iterator[tuple[int, VideoFrame]]:
    """Frames first to last of a review copy, both included, with their numbers.

    rate: frames a second of the copy. Raises FootageError when the copy cannot be read.
    """
    with open_footage(copy) as source:
        base = source.stream.time_base
        assert base is not None  # a stream that was opened has a clock
        step = 1 / (rate * base)
        source.container.seek(max(0, round(first * step)), stream=source.stream, backward=True)
        try:
            for picture in source.container.decode(source.stream):
                if picture.pts is None:
                    continue
                frame = round(picture.pts / step)
                if frame > last:
                    return
                if frame >= first:
                    yield frame, picture
        except av.error.FFmpegError as error:
            raise FootageError("This film cannot be read. Make the review copy again.") from error


def upright(picture: VideoFrame) -> Image:
    """A frame as red, green and blue, shape (height, width, 3), turned as its film says."""
    image = picture.to_ndarray(format="rgb24")
    return np.ascontiguousarray(np.rot90(image, (picture.rotation // 90) % 4))


def spread_pictures(path: Path, count: int, from_share: float = 0.0, to_share: float = 1.0
                    ) -> Iterator[Image]:  # fmt: skip
    """Up to `count` key frames, evenly spread over a film or a share of it.

    A film that says no duration gives its first frames. Fewer where several are the same.
    """
    with open_footage(path) as source:
        stream, container = source.stream, source.container
        length = stream.duration or 0
        seen: set[int | None] = set()
        for n in range(count):
            share = from_share + (to_share - from_share) * (n + 0.5) / count
            try:
                if length:
                    begin = (stream.start_time or 0) + int(length * share)
                    container.seek(begin, stream=stream, backward=True)
                picture = next(container.decode(stream))
            except (av.error.FFmpegError, StopIteration):
                continue  # a damaged stretch; others tell enough
            if picture.pts not in seen:
                seen.add(picture.pts)
                yield upright(picture)
