"""The review copy: every source frame is one frame of a constant-rate file that browsers step.

The copy's own clock means nothing; the frame table keeps the true times. Frame n of the copy is
shown by seeking to (n + 0.5) / rate, which is exact in every encoding that was tried.
"""

from __future__ import annotations

import os
import queue
import threading
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import av.filter
import numpy as np
from av.video.frame import VideoFrame
from numpy.typing import NDArray

from norvik.core.errors import DiskFullError, FootageError
from norvik.footage.frames import Losses, decoded_frames, times_from
from norvik.footage.opening import Source, open_footage
from norvik.footage.probe import Shape

#: Longest side of a review copy in pixels: full frames on a laptop's screen, quick to seek.
LONGEST_SIDE = 1280
#: Frames from one key frame to the next. Seeking decodes from a key frame, so this bounds it.
KEY_EVERY = 8
#: Rates outside cannot be played at their true speed by browsers at every speed step.
RATES = (10, 240)
ENCODER = {
    "preset": "superfast",
    "crf": "22",
    "g": str(KEY_EVERY),
    "keyint_min": str(KEY_EVERY),
    "sc_threshold": "0",
    "bf": "0",
}
#: Decoded frames that wait for the encoder; about 1.4 MB each at 720p.
_WAITING = 12

#: Called with the frames done and the frames expected (None when unknown). May raise to cancel.
Progress = Callable[[int, int | None], None]


@dataclass(frozen=True)
class ReviewCopy:
    """A finished copy. rate: its constant frames per second. media_s: true times of the source."""

    path: Path
    rate: Fraction
    width: int
    height: int
    source: Shape
    codec: str
    tick_s: float
    media_s: NDArray[np.float64]
    losses: Losses
    copied: bool


def make_review_copy(
    source_path: Path, out: Path, progress: Progress = lambda done, of: None
) -> ReviewCopy:
    """Build the review copy of source_path at out.

    A source that already is what a review copy must be is used as it is (`copied` is False and
    `path` is the source). Otherwise writes to a neighbour of out and renames it when whole: a
    failing copy leaves nothing behind and keeps an older good one. Raises FootageError.
    """
    with open_footage(source_path) as source:
        rate = fitting_rate(source)
    if rate is not None:
        fitting = _as_it_is(source_path, rate, progress)
        if fitting is not None:
            return fitting
    part = out.with_name(out.name + ".part")
    try:
        result = _encode(source_path, part, out, progress)
        os.replace(part, out)
    except av.error.FFmpegError as error:
        if isinstance(error, OSError) and error.errno == 28:
            raise DiskFullError(
                "The disk is full, so the review copy could not be written. "
                "Make room and try again; the clip itself is safe."
            ) from error
        raise FootageError(f"The review copy could not be made ({error.strerror}).") from error
    finally:
        with suppress(FileNotFoundError):
            part.unlink()
    return result


def fitting_rate(source: Source) -> Fraction | None:
    """The constant rate of a file that browsers can step as it is, from its packets; else None.

    H.264 in 8-bit 4:2:0, MP4, upright square pixels, no reordering, first frame at 0, one step
    between all frames, a key frame at least every KEY_EVERY, not larger than a review copy.
    """
    stream, context = source.stream, source.stream.codec_context
    ratio = stream.sample_aspect_ratio
    fits = (
        "mp4" in source.container.format.name
        and source.path.suffix.lower() in (".mp4", ".m4v", ".mov")
        and context.name == "h264"
        and context.pix_fmt == "yuv420p"
        and max(context.width, context.height) <= LONGEST_SIDE
        and not context.width % 2
        and not context.height % 2
        and ratio in (None, 0, 1)
        and stream.time_base is not None
        and source.bytes_missing() == 0
    )
    if not fits or stream.time_base is None:
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


def _as_it_is(source_path: Path, rate: Fraction, progress: Progress) -> ReviewCopy | None:
    """Decode a fitting file once: its packets must give exactly as many good frames."""
    losses = Losses()
    pts: list[int | None] = []
    shape: Shape | None = None
    with open_footage(source_path) as source:
        expected = source.stream.frames or None
        for frame in decoded_frames(source, losses):
            if shape is None:
                shape = Shape.of(frame, source)
            pts.append(frame.pts)
            progress(len(pts), expected)
        base = source.stream.time_base
        assert base is not None  # fitting_rate saw it
        if shape is None or shape.rotation_deg or losses.sentence() or pts[0] != 0:
            return None
        media_s = times_from(pts, base, losses)
        if losses.sentence() or not np.allclose(np.diff(media_s), float(1 / rate)):
            return None
        return ReviewCopy(
            source_path, rate, shape.width, shape.height, shape, source.codec, float(base),
            media_s, losses, copied=False,
        )  # fmt: skip


def _encode(source_path: Path, part: Path, out: Path, progress: Progress) -> ReviewCopy:
    losses = Losses()
    pts: list[int | None] = []
    with open_footage(source_path) as source:
        base = source.stream.time_base
        assert base is not None  # a stream that was opened has a clock
        rate = _rate_guess(source)
        expected = source.stream.frames or _expected(source)
        feed = _Feed(source, losses, pts)
        first = next(feed.frames, None)
        if first is None:
            times_from([], base, losses)  # raises the sentence for a file without frames
        assert first is not None
        assert feed.shape is not None
        options = {"movflags": "+faststart", "video_track_timescale": str(int(rate) * 64)}
        with av.open(f"file:{part.resolve()}", "w", format="mp4", options=options) as target:
            stream = target.add_stream("libx264", rate=int(rate), options=ENCODER)
            stream.width, stream.height = first.width, first.height
            stream.pix_fmt = "yuv420p"
            # Whole frames in parallel; the binding's default cuts each into slices, a fifth slower.
            stream.codec_context.thread_type = "FRAME"
            # The muxer changes the stream's own time base; the encoder's stays.
            tick = stream.codec_context.time_base = Fraction(1, int(rate))
            number = 0
            try:
                frame: VideoFrame | None = first
                while frame is not None:
                    frame.pts, frame.time_base, frame.pict_type = number, tick, 0
                    target.mux(stream.encode(frame))
                    number += 1
                    progress(number, expected)
                    frame = next(feed.frames, None)
                target.mux(stream.encode(None))
            finally:
                feed.stop()
        media_s = times_from(pts, base, losses)
        return ReviewCopy(
            out, rate, first.width, first.height, feed.shape, source.codec, float(base),
            media_s, losses, copied=True,
        )  # fmt: skip


class _Feed:
    """Decodes and fits frames in a thread of its own, so that both cores have work."""

    def __init__(self, source: Source, losses: Losses, pts: list[int | None]) -> None:
        self._source, self._losses, self._pts = source, losses, pts
        self._queue: queue.Queue[VideoFrame | BaseException | None] = queue.Queue(_WAITING)
        self._stopped = threading.Event()
        self.shape: Shape | None = None
        self._thread = threading.Thread(target=self._run, name="decode", daemon=True)
        self._thread.start()
        self.frames = self._take()

    def stop(self) -> None:
        self._stopped.set()
        while self._thread.is_alive():
            with suppress(queue.Empty):
                self._queue.get(timeout=0.05)

    def _put(self, item: VideoFrame | BaseException | None) -> None:
        while not self._stopped.is_set():
            with suppress(queue.Full):
                self._queue.put(item, timeout=0.2)
                return

    def _run(self) -> None:
        try:
            fit: _Fit | None = None
            for frame in decoded_frames(self._source, self._losses):
                if fit is None:
                    self.shape = Shape.of(frame, self._source)
                    fit = _Fit(self._source, frame, self.shape)
                self._pts.append(frame.pts)
                self._put(fit(frame))
                if self._stopped.is_set():
                    return
            self._put(None)
        except BaseException as error:  # handed to the encoding thread, which raises it
            self._put(error)

    def _take(self) -> Iterator[VideoFrame]:
        while True:
            item = self._queue.get()
            if item is None:
                return
            if isinstance(item, BaseException):
                raise item
            yield item


class _Fit:
    """Scales, turns upright and converts a frame; does nothing where nothing is needed."""

    def __init__(self, source: Source, frame: VideoFrame, shape: Shape) -> None:
        width, height = fitted_size(shape.width, shape.height)
        self._graph: av.filter.Graph | None = None
        same = (frame.width, frame.height) == (width, height) and not shape.rotation_deg
        if same and frame.format.name == "yuv420p":
            return
        across = shape.rotation_deg in (90, 270)
        before = (height, width) if across else (width, height)
        graph = av.filter.Graph()
        chain = [
            graph.add_buffer(template=source.stream),
            graph.add("scale", f"{before[0]}:{before[1]}:flags=bicubic:out_range=tv"),
        ]
        chain += [
            graph.add(name, options)
            for name, options in {
                0: (),
                90: (("transpose", "clock"),),
                180: (("hflip", None), ("vflip", None)),
                270: (("transpose", "cclock"),),
            }[shape.rotation_deg]
        ]
        chain += [graph.add("format", "yuv420p"), graph.add("buffersink")]
        graph.link_nodes(*chain)
        graph.configure()
        self._graph = graph

    def __call__(self, frame: VideoFrame) -> VideoFrame:
        if self._graph is None:
            return frame
        self._graph.vpush(frame)
        return self._graph.vpull()


def fitted_size(width: int, height: int) -> tuple[int, int]:
    """Even width and height of a review copy, its longest side at most LONGEST_SIDE."""
    scale = min(1.0, LONGEST_SIDE / max(width, height))
    return max(2, round(width * scale / 2) * 2), max(2, round(height * scale / 2) * 2)


def _rate_guess(source: Source) -> Fraction:
    """A whole rate near that of the source. Only playback comfort hangs on it, no number."""
    guess = source.stream.guessed_rate or source.stream.average_rate or Fraction(30)
    return Fraction(min(max(round(guess), RATES[0]), RATES[1]))


def _expected(source: Source) -> int | None:
    duration, base = source.stream.duration, source.stream.time_base
    rate = source.stream.average_rate
    return round(duration * base * rate) if duration and base and rate else None
