"""Decoding every good frame of a source, and saying what was lost."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from fractions import Fraction

import av
import numpy as np
from av.video.frame import VideoFrame
from numpy.typing import NDArray

from norvik.core.errors import FootageError
from norvik.footage.opening import Source


@dataclass
class Losses:
    """What could not be read. notes: further oddities, each one sentence.

    times_estimated: frames that carried no time of their own.
    """

    broken_pieces: int = 0
    cut_off: bool = False
    times_estimated: int = 0
    notes: list[str] = field(default_factory=list)

    def sentence(self) -> str | None:
        """One line for the coach; None when nothing was lost."""
        parts = list(self.notes)
        if self.cut_off:
            parts.append("the file is cut off: its end is missing")
        if self.broken_pieces:
            pieces = "1 place" if self.broken_pieces == 1 else f"{self.broken_pieces} places"
            parts.append(f"the file is damaged in {pieces} and the frames there are lost")
        if not parts:
            return None
        text = "; ".join(parts)
        return f"{text[0].upper()}{text[1:]}. Every other frame is kept at its own time."


def decoded_frames(source: Source, losses: Losses) -> Iterator[VideoFrame]:
    """Good frames in display order. Decoding goes on after a broken piece."""
    packets = source.container.demux(source.stream)
    while True:
        try:
            packet = next(packets)
        except StopIteration:
            # Last, because an index of a million frames takes its time.
            losses.cut_off = source.bytes_missing() > 0
            return
        except av.error.FFmpegError:
            # The container itself is broken from here on.
            losses.cut_off = True
            yield from _flush(source, losses)
            return
        try:
            frames = packet.decode()
        except av.error.FFmpegError:
            losses.broken_pieces += 1
            continue
        for frame in frames:
            if isinstance(frame, VideoFrame):
                if frame.is_corrupt:
                    losses.broken_pieces += 1
                else:
                    yield frame


def _flush(source: Source, losses: Losses) -> Iterator[VideoFrame]:
    try:
        yield from source.stream.codec_context.decode(None)
    except av.error.FFmpegError:
        losses.broken_pieces += 1


def times_from(pts: list[int | None], time_base: Fraction, losses: Losses) -> NDArray[np.float64]:
    """Media seconds of each frame, shape (n,), first at 0, strictly growing.

    pts: presentation timestamps of the frames in output order. Some AVI files give them out of
    order although the pictures are in order: the sorted ones are right. Frames without a time of
    their own are spread evenly up to the next known one, and that is said.
    Raises FootageError when there is no frame, or no frame has a time.
    """
    if not pts:
        raise FootageError(
            "The file holds no picture that can be decoded; it may have been cut off in copying. "
            "Copy it from the camera again."
        )
    known = sorted(p for p in pts if p is not None)
    if not known or (known[0] == known[-1] and len(pts) > 1):
        raise FootageError(
            "The frames of this file carry no times, so nothing in it can be timed. "
            "Export it from the camera again, or convert it to MP4."
        )
    ticks = np.array(known + [known[-1]] * (len(pts) - len(known)), dtype=np.int64)
    seconds = (ticks - ticks[0]).astype(np.float64) * float(time_base)
    fresh = np.concatenate(([True], np.diff(ticks) > 0))
    if not fresh.all():
        doubled = int((~fresh).sum())
        losses.times_estimated = doubled
        frames = "1 frame" if doubled == 1 else f"{doubled} frames"
        losses.notes.append(f"{frames} carried no time of their own; the time there is estimated")
        seconds = _spread(seconds, fresh)
    return seconds


def _spread(seconds: NDArray[np.float64], fresh: NDArray[np.bool_]) -> NDArray[np.float64]:
    """Place frames without their own time evenly between those that have one."""
    places = np.flatnonzero(fresh)
    steps = np.diff(seconds[places]) / np.diff(places)
    usual = float(np.median(steps)) if steps.size else 1.0
    frames = np.arange(seconds.size)
    spread = np.interp(frames, places, seconds[places])
    beyond = frames > places[-1]
    spread[beyond] = seconds[places[-1]] + usual * (frames[beyond] - places[-1])
    return spread
