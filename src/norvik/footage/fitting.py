"""Decoding a source into frames that fit a review copy: upright, square pixels, small enough."""

from __future__ import annotations

import queue
import threading
from collections.abc import Callable, Iterator
from contextlib import suppress

import av.filter
from av.video.frame import VideoFrame

from norvik.footage.frames import Losses, decoded_frames
from norvik.footage.opening import Source
from norvik.footage.probe import Shape

#: Longest side of a review copy in pixels: full frames on a laptop's screen, quick to seek.
LONGEST_SIDE = 1280
#: Decoded frames that wait for the encoder; about 1.4 MB each at 720p.
_WAITING = 12
#: Pictures above this many pixels are decoded in fewer threads: each holds frames of its own.
_HUGE_PIXELS = 10_000_000

#: Looks at every fitted frame, in the decoding thread.
Look = Callable[[VideoFrame], None]


class Feed:
    """Decodes and fits frames in a thread of its own, so that both cores have work.

    pts grows with the frames: their presentation timestamps in output order.
    """

    def __init__(
        self, source: Source, losses: Losses, pts: list[int | None], look: Look | None = None
    ) -> None:
        context = source.stream.codec_context
        if context.width * context.height > _HUGE_PIXELS:
            source.stream.thread_type = "SLICE"
        self._source, self._losses, self._pts, self._look = source, losses, pts, look
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
            fit: Fit | None = None
            for frame in decoded_frames(self._source, self._losses):
                if fit is None:
                    self.shape = Shape.of(frame, self._source)
                    fit = Fit(self._source, frame, self.shape)
                self._pts.append(frame.pts)
                fitted = fit(frame)
                if self._look is not None:
                    self._look(fitted)
                self._put(fitted)
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


class Fit:
    """Scales, turns upright and converts a frame; does nothing where nothing is needed."""

    def __init__(
        self, source: Source, frame: VideoFrame, shape: Shape, longest: int = LONGEST_SIDE
    ) -> None:
        width, height = fitted_size(shape.width, shape.height, longest)
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


def fitted_size(width: int, height: int, longest: int = LONGEST_SIDE) -> tuple[int, int]:
    """Even width and height of a review copy, its longest side at most `longest`."""
    scale = min(1.0, longest / max(width, height))
    return max(2, round(width * scale / 2) * 2), max(2, round(height * scale / 2) * 2)
