"""The review copy: every source frame is one frame of a constant-rate file that browsers step.

The copy's own clock means nothing; the frame table keeps the true times. Frame n of the copy is
shown by seeking to (n + 0.5) / rate, which is exact in every encoding that was tried.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from numpy.typing import NDArray

from norvik.core.errors import DiskFullError, FootageError
from norvik.footage.fitting import LONGEST_SIDE, Feed, Look
from norvik.footage.frames import Losses, decoded_frames, times_from
from norvik.footage.opening import Source, open_footage
from norvik.footage.pieces import KEY_EVERY, Pieces
from norvik.footage.probe import Shape

#: Rates outside cannot be played at their true speed by browsers at every speed step.
RATES = (10, 240)
#: Seconds of work after which a first stretch is whole enough to be handed out.
FIRST_STRETCH_S = 1.5
#: Seconds of work after which the next one is; the time doubles for each one after that.
NEXT_STRETCH_S = 6.0
#: A file with more frames than this is not looked through before a first stretch is there.
_SOON_LOOKED_THROUGH = 1200

#: Called with the frames done and the frames expected (None when unknown). May raise to cancel.
Progress = Callable[[int, int | None], None]


@dataclass(frozen=True)
class ReviewCopy:
    """A finished copy, or the beginning of one.

    rate: its constant frames per second. media_s: true times of the source. first_s: time of the
    first frame on the file's own clock. copied: False when `path` is the source itself.
    whole: every frame of the source is in it.
    """

    path: Path
    rate: Fraction
    width: int
    height: int
    source: Shape
    codec: str
    tick_s: float
    first_s: float
    media_s: NDArray[np.float64]
    losses: Losses
    copied: bool = True
    whole: bool = True


#: Called with the beginning of the copy, each time a longer one.
OnStretch = Callable[[ReviewCopy], None]


def make_review_copy(
    source_path: Path,
    out: Path,
    progress: Progress = lambda done, of: None,
    *,
    first_only: bool = False,
    on_stretch: OnStretch | None = None,
    look: Look | None = None,
) -> ReviewCopy:
    """Build the review copy of source_path at out.

    A source that already is what a review copy must be is used as it is (`copied` is False and
    `path` is the source). Otherwise writes to neighbours of out and renames when whole: a failing
    copy leaves nothing behind and keeps an older good one. Raises FootageError.

    first_only: stop after about FIRST_STRETCH_S seconds of work; what is there by then is the
    result, beside out and not `whole`, unless the end is near anyway.
    on_stretch: gets longer and longer beginnings, in files beside out that are the caller's to
    remove. look: sees every frame of the copy.
    """
    try:
        with open_footage(source_path) as source:
            candidate = _looks_fitting(source)
            expected = source.stream.frames or _expected(source) or 0
        if candidate and not (first_only and expected > _SOON_LOOKED_THROUGH):
            fitting = _as_it_is(source_path, progress, look)
            if fitting is not None:
                return fitting
        return _encode(source_path, out, progress, first_only, on_stretch, look)
    except av.error.FFmpegError as error:
        if isinstance(error, OSError) and error.errno == 28:
            raise DiskFullError(
                "The disk is full, so the review copy could not be written. "
                "Make room and try again; the clip itself is safe."
            ) from error
        raise FootageError(f"The review copy could not be made ({error.strerror}).") from error


def _looks_fitting(source: Source) -> bool:
    """Could browsers step this file as it is, by what its header says?"""
    stream, context = source.stream, source.stream.codec_context
    return (
        "mp4" in source.container.format.name
        and source.path.suffix.lower() in (".mp4", ".m4v", ".mov")
        and context.name == "h264"
        and context.pix_fmt == "yuv420p"
        and max(context.width, context.height) <= LONGEST_SIDE
        and not context.width % 2
        and not context.height % 2
        and stream.sample_aspect_ratio in (None, 0, 1)
        and stream.time_base is not None
        and source.bytes_missing() == 0
    )


def fitting_rate(source: Source) -> Fraction | None:
    """The constant rate of a file that browsers can step as it is, from its packets; else None.

    H.264 in 8-bit 4:2:0, MP4, upright square pixels, no reordering, first frame at 0, one step
    between all frames, a key frame at least every KEY_EVERY, not larger than a review copy.
    """
    stream = source.stream
    if not _looks_fitting(source) or stream.time_base is None:
        return None
    since_key = 0
    times: list[int] = []
    for packet in source.container.demux(stream):
        if packet.size == 0:
            continue
        since_key = 0 if packet.is_keyframe else since_key + 1
        if packet.pts is None or packet.pts != packet.dts or packet.is_corrupt:
            return None
        if since_key >= KEY_EVERY or (not times and (since_key or packet.pts != 0)):
            return None
        times.append(packet.pts)
    steps = set(np.diff(times).tolist())
    if len(times) < 2 or len(steps) != 1:
        return None
    rate = 1 / (steps.pop() * stream.time_base)
    return rate if RATES[0] <= rate <= RATES[1] else None


def _as_it_is(source_path: Path, progress: Progress, look: Look | None) -> ReviewCopy | None:
    """Decode a fitting file once: its packets must give exactly as many good frames."""
    with open_footage(source_path) as source:
        rate = fitting_rate(source)
    if rate is None:
        return None
    losses = Losses()
    pts: list[int | None] = []
    shape: Shape | None = None
    with open_footage(source_path) as source:
        expected = source.stream.frames or None
        for frame in decoded_frames(source, losses):
            if shape is None:
                shape = Shape.of(frame, source)
                if shape.rotation_deg or frame.pts != 0:
                    return None
            pts.append(frame.pts)
            if look is not None:
                look(frame)
            progress(len(pts), expected)
        base = source.stream.time_base
        assert base is not None  # fitting_rate saw it
        if shape is None or losses.sentence():
            return None
        media_s = times_from(pts, base, losses)
        if losses.sentence() or not np.allclose(np.diff(media_s), float(1 / rate)):
            return None
        return ReviewCopy(
            source_path, rate, shape.width, shape.height, shape, source.codec, float(base), 0.0,
            media_s, losses, copied=False,
        )  # fmt: skip


def _encode(
    source_path: Path,
    out: Path,
    progress: Progress,
    first_only: bool,
    on_stretch: OnStretch | None,
    look: Look | None,
) -> ReviewCopy:
    losses = Losses()
    pts: list[int | None] = []
    with open_footage(source_path) as source:
        base = source.stream.time_base
        assert base is not None  # a stream that was opened has a clock
        rate = _rate_guess(source)
        expected = source.stream.frames or _expected(source)
        feed = Feed(source, losses, pts, look)
        pieces = Pieces(out, int(rate))
        size = (0, 0)

        def copy_at(path: Path, found: Losses, whole: bool) -> ReviewCopy:
            assert feed.shape is not None
            taken = pts[: pieces.frames]
            times = times_from(taken, base, found)
            first = min(p for p in taken if p is not None)
            return ReviewCopy(
                path, rate, size[0], size[1], feed.shape, source.codec, float(base),
                float(first * base), times, found, whole=whole,
            )  # fmt: skip

        def beginning() -> ReviewCopy:
            pieces.close()
            path = out.with_name(f"{out.stem}-{pieces.frames}{out.suffix}")
            pieces.join(path)
            return copy_at(path, Losses(), whole=False)

        began = time.monotonic()
        due_s = FIRST_STRETCH_S if first_only else NEXT_STRETCH_S
        try:
            for frame in feed.frames:
                if pieces.frames and pieces.frames % KEY_EVERY == 0:
                    worked_s = time.monotonic() - began
                    # Near the end a beginning would be overtaken by the whole before it is seen.
                    if worked_s >= due_s and not (expected and pieces.frames > 0.6 * expected):
                        if first_only:
                            return beginning()
                        if on_stretch is not None:
                            on_stretch(beginning())
                        due_s = 2 * worked_s
                size = (frame.width, frame.height)
                pieces.add(frame)
                progress(pieces.frames, expected)
            pieces.close()
            # Refused here (no frame, no times) before an older good copy is replaced.
            times_from(pts, base, Losses())
            pieces.join(out)
            return copy_at(out, losses, whole=True)
        finally:
            feed.stop()
            pieces.clean()


def _rate_guess(source: Source) -> Fraction:
    """A whole rate near that of the source. Only playback comfort hangs on it, no number."""
    guess = source.stream.guessed_rate or source.stream.average_rate or Fraction(30)
    return Fraction(min(max(round(guess), RATES[0]), RATES[1]))


def _expected(source: Source) -> int | None:
    duration, base = source.stream.duration, source.stream.time_base
    rate = source.stream.average_rate
    return round(duration * base * rate) if duration and base and rate else None
