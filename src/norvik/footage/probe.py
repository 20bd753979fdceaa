"""What a file is: frames, times, size as shown, codec. Every number comes from decoding."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from av.video.frame import VideoFrame
from numpy.typing import NDArray

from norvik.footage.frames import Losses, decoded_frames, times_from
from norvik.footage.opening import Source, open_footage


@dataclass(frozen=True)
class Shape:
    """How a decoded picture is shown. rotation_deg: clockwise turn that sets it upright.

    width and height in pixels after rotation and pixel shape.
    """

    width: int
    height: int
    rotation_deg: int

    @classmethod
    def of(cls, frame: VideoFrame, source: Source) -> Shape:
        rotation = round(-frame.rotation / 90) * 90 % 360
        ratio = source.stream.sample_aspect_ratio
        width, height = frame.width, frame.height
        if ratio and ratio > 0:
            width = round(width * ratio)
        if rotation in (90, 270):
            width, height = height, width
        return cls(width, height, rotation)


@dataclass(frozen=True)
class Probe:
    """A probed file. media_s: seconds of every frame, shape (frames,), first at 0."""

    media_s: NDArray[np.float64]
    shape: Shape
    codec: str
    tick_s: float
    losses: Losses

    @property
    def frames(self) -> int:
        return int(self.media_s.size)

    @property
    def intervals_s(self) -> NDArray[np.float64]:
        return np.diff(self.media_s)

    @property
    def constant_rate(self) -> bool:
        """True when no interval is off by more than one tick of the container's clock."""
        return is_constant(self.media_s, self.tick_s)

    def as_dict(self) -> dict[str, Any]:
        """The object of `norvik probe --json` (docs/formats.md)."""
        intervals = self.intervals_s
        if not intervals.size:
            spread: dict[str, float | None] = {"min": None, "median": None, "max": None}
        else:
            spread = {
                "min": float(intervals.min()),
                "median": float(np.median(intervals)),
                "max": float(intervals.max()),
            }
        median = spread["median"]
        last = float(self.media_s[-1])
        return {
            "frames": self.frames,
            "duration_s": last + (median or 0.0),
            "width": self.shape.width,
            "height": self.shape.height,
            "rotation_deg": self.shape.rotation_deg,
            "codec": self.codec,
            "constant_rate": self.constant_rate,
            "rate_fps": (self.frames - 1) / last if last > 0 else None,
            "frame_interval_s": spread,
        }


def is_constant(media_s: NDArray[np.float64], tick_s: float) -> bool:
    """Do all frames lie on a constant raster, to within one tick of the container's clock?"""
    if media_s.size < 3:
        return True
    intervals = np.diff(media_s)
    # Rounding to ticks moves both ends of an interval by up to half a tick.
    return bool(np.ptp(intervals) <= tick_s * (1 + 1e-6))


def probe(path: Path) -> Probe:
    """Decode a whole file and tell what it is. Raises FootageError when it is no footage."""
    losses = Losses()
    shape: Shape | None = None
    pts: list[int | None] = []
    with open_footage(path) as source:
        for frame in decoded_frames(source, losses):
            if shape is None:
                shape = Shape.of(frame, source)
            pts.append(frame.pts)
        base = source.stream.time_base
        assert base is not None  # a stream that was opened has a clock
        media_s = times_from(pts, base, losses)
        assert shape is not None  # times_from refuses a file without frames
        return Probe(media_s, shape, source.codec, float(base), losses)
