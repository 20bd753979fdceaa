"""Encoding a review copy in pieces, so that what is there already can be watched.

Each piece is encoded on its own and begins with a key frame; joined they are one film, packet by
packet, without encoding again.
"""

from __future__ import annotations

import os
from contextlib import suppress
from fractions import Fraction
from pathlib import Path

import av
from av.container import OutputContainer
from av.video.frame import VideoFrame
from av.video.stream import VideoStream

#: Frames from one key frame to the next. Seeking decodes from a key frame, so this bounds it.
KEY_EVERY = 8
ENCODER = {
    "preset": "veryfast",
    "crf": "22",
    "g": str(KEY_EVERY),
    "keyint_min": str(KEY_EVERY),
    "sc_threshold": "0",
    "bf": "0",
}


class Pieces:
    """Pieces of one copy, beside `out`, under names that end in .part until they are joined."""

    def __init__(self, out: Path, rate: int) -> None:
        self._out, self._rate = out, rate
        self._closed: list[Path] = []
        self._target: OutputContainer | None = None
        self._stream: VideoStream | None = None
        self._in_piece = 0
        self.frames = 0

    def add(self, frame: VideoFrame) -> None:
        """Encode the next frame."""
        if self._target is None:
            self._begin(frame)
        assert self._target is not None
        assert self._stream is not None
        # A picture's own type would be kept: a copy of an all-key source would be all keys.
        frame.pts, frame.time_base, frame.pict_type = self._in_piece, Fraction(1, self._rate), 0
        self._target.mux(self._stream.encode(frame))
        self._in_piece += 1
        self.frames += 1

    def _begin(self, frame: VideoFrame) -> None:
        path = self._out.with_name(f"{self._out.name}.{len(self._closed)}.part")
        self._closed.append(path)
        self._target = _film(path, self._rate, faststart=False)
        stream = self._target.add_stream("libx264", rate=self._rate, options=ENCODER)
        stream.width, stream.height = frame.width, frame.height
        stream.pix_fmt = "yuv420p"
        # Whole frames in parallel; the binding's default cuts each into slices, a fifth slower.
        stream.codec_context.thread_type = "FRAME"
        # The muxer changes the stream's own time base; the encoder's stays.
        stream.codec_context.time_base = Fraction(1, self._rate)
        self._stream = stream
        self._in_piece = 0

    def close(self) -> None:
        """End the piece that is being encoded; the next frame begins a new one."""
        if self._target is not None and self._stream is not None:
            target, self._target = self._target, None
            try:
                target.mux(self._stream.encode(None))
            finally:
                target.close()

    def join(self, out: Path) -> None:
        """Write all closed pieces as one film at `out`, whole or not at all."""
        part = out.with_name(out.name + ".part")
        try:
            with _film(part, self._rate, faststart=True) as target:
                stream: VideoStream | None = None
                tick = 0
                for piece in self._closed:
                    with av.open(f"file:{piece.resolve()}") as source:
                        video = source.streams.video[0]
                        if stream is None:
                            stream = target.add_stream_from_template(video)
                            stream.time_base = video.time_base
                        assert video.time_base is not None
                        step = round(1 / (self._rate * video.time_base))
                        for packet in source.demux(video):
                            if packet.size:
                                packet.pts = packet.dts = tick * step
                                packet.stream = stream
                                target.mux(packet)
                                tick += 1
            os.replace(part, out)
        finally:
            with suppress(FileNotFoundError):
                part.unlink()

    def clean(self) -> None:
        """Remove the pieces; a join that was made stays."""
        with suppress(av.error.FFmpegError, OSError):
            if self._target is not None:
                self._target.close()
        self._target = None
        for piece in self._closed:
            with suppress(FileNotFoundError):
                piece.unlink()


def _film(path: Path, rate: int, *, faststart: bool) -> OutputContainer:
    options = {"video_track_timescale": str(rate * 64)}
    if faststart:
        options["movflags"] = "+faststart"
    return av.open(f"file:{path.resolve()}", "w", format="mp4", options=options)
