"""Frames of one review copy in any order, quick where they come one after the other."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
from av.video.frame import VideoFrame
from numpy.typing import NDArray

from norvik.core.errors import FootageError
from norvik.footage.opening import Source, open_footage

Image = NDArray[np.uint8]
#: A frame so many ahead is reached by decoding what lies between; farther ones are sought.
_AHEAD = 24
#: Pictures that are kept: a loop of a few frames, and what is gone back to.
_KEPT = 12


class FrameReader:
    """A context manager. rate: frames a second of the copy. Raises FootageError when unreadable."""

    def __init__(self, copy: Path, rate: Fraction) -> None:
        self._open = open_footage(copy)
        self._rate = rate
        self._kept: OrderedDict[int, Image] = OrderedDict()
        self._at: int | None = None
        self._frames: Iterator[VideoFrame] = iter(())

    def __enter__(self) -> FrameReader:
        self._source: Source = self._open.__enter__()
        base = self._source.stream.time_base
        assert base is not None  # a stream that was opened has a clock
        self._step = 1 / (self._rate * base)
        return self

    def __exit__(self, *what: object) -> None:
        self._frames = iter(())
        self._open.__exit__(None, None, None)

    def frame(self, number: int) -> Image:
        """Shape (height, width, 3), blue-green-red, 0-255. Not to be written into."""
        if number in self._kept:
            self._kept.move_to_end(number)
            return self._kept[number]
        if self._at is None or not self._at < number <= self._at + _AHEAD:
            stream = self._source.stream
            self._source.container.seek(round(number * self._step), stream=stream, backward=True)
            self._frames = self._source.container.decode(stream)
        try:
            for picture in self._frames:
                if picture.pts is None:
                    continue
                self._at = round(picture.pts / self._step)
                if self._at == number:
                    image = _blue_green_red(picture)
                    self._kept[number] = image
                    if len(self._kept) > _KEPT:
                        self._kept.popitem(last=False)
                    return image
                if self._at > number:
                    break
        except av.error.FFmpegError as error:
            raise FootageError("This film cannot be read. Make the review copy again.") from error
        self._at = None
        raise FootageError(f"There is no frame {number} in this clip.")


def _blue_green_red(picture: VideoFrame) -> Image:
    """The usual form of a review copy by OpenCV, in a third of the time; any other by FFmpeg."""
    if picture.format.name == "yuv420p" and picture.width % 2 == picture.height % 2 == 0:
        return np.asarray(cv2.cvtColor(picture.to_ndarray(), cv2.COLOR_YUV2BGR_I420), np.uint8)
    return picture.to_ndarray(format="bgr24").astype(np.uint8, copy=False)
