"""Writing a film to be sent: pictures, sound, chapters and captions in one MP4, or a GIF."""

from __future__ import annotations

import os
import struct
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
from av.subtitles.stream import SubtitleStream
from av.video.format import VideoFormat
from av.video.frame import VideoFrame
from numpy.typing import NDArray

from norvik.core.errors import DiskFullError, FootageError
from norvik.footage.talk_sound import RATE, Samples, aac_frames

Image = NDArray[np.uint8]
#: Pictures a second of every film that is sent.
FPS = 30
_MS = Fraction(1, 1000)
#: Longest side and pictures a second of a GIF: larger ones are not sent by phones.
GIF_SIDE, GIF_FPS = 480, 15


@dataclass(frozen=True, slots=True)
class Words:
    """A chapter or a caption, from_ms to to_ms of the film."""

    from_ms: float
    to_ms: float
    text: str


@dataclass(frozen=True, slots=True)
class Picture:
    """What a film shows at one instant. same: as the picture before, which is not painted again."""

    image: Image
    same: bool = False


#: Told how many pictures are done; may raise to stop.
Progress = Callable[[int], None]


def write_film(
    out: Path,
    size: tuple[int, int],
    pictures: Iterable[Picture],
    sound: Samples | None = None,
    chapters: Sequence[Words] = (),
    captions: Sequence[Words] = (),
    title: str = "",
    progress: Progress = lambda done: None,
) -> None:
    """H.264 and AAC in MP4, its index in front. Whole, or not there.

    size: width, height, both even. pictures: blue-green-red, FPS of them a second. sound: shape
    (n,) at RATE; None for a film without. Raises FootageError.
    """
    part = out.with_name(f"{out.name}.{os.getpid()}.part")
    try:
        with av.open(
            f"file:{part.resolve()}", "w", format="mp4", options={"movflags": "+faststart"}
        ) as target:
            if title:
                target.metadata["title"] = title
            film = target.add_stream("libx264", rate=FPS)
            film.width, film.height, film.pix_fmt = *size, "yuv420p"
            film.codec_context.options = {"preset": "veryfast", "crf": "22"}
            film.codec_context.gop_size = 2 * FPS
            film.codec_context.thread_count = 0
            voice = None
            if sound is not None:
                voice = target.add_stream("aac", rate=RATE, layout="mono", bit_rate=96_000)
            below = target.add_stream("mov_text") if captions else None
            if below is not None:
                below.time_base = _MS
                below.codec_context.time_base = _MS
                below.codec_context.subtitle_header = b"[Script Info]\n"
            if chapters:
                target.set_chapters([_chapter(n, c) for n, c in enumerate(chapters)])
            waiting = aac_frames(sound) if sound is not None else iter(())
            ahead = next(waiting, None)
            if below is not None:
                target.start_encoding()
                for packet in _captions(below, captions):
                    target.mux(packet)
            for done, frame in enumerate(_film_frames(pictures)):
                target.mux(film.encode(frame))
                # Sound and picture lie beside each other in the file: it plays while it loads.
                while (
                    voice is not None
                    and ahead is not None
                    and ((ahead.pts or 0) <= (done + 1) * RATE // FPS)
                ):
                    target.mux(voice.encode(ahead))
                    ahead = next(waiting, None)
                progress(done + 1)
            target.mux(film.encode(None))
            while voice is not None and ahead is not None:
                target.mux(voice.encode(ahead))
                ahead = next(waiting, None)
            if voice is not None:
                target.mux(voice.encode(None))
        os.replace(part, out)
    except av.error.FFmpegError as error:
        if isinstance(error, OSError) and error.errno == 28:
            raise DiskFullError(
                "The disk is full, so the film could not be written. Make room and try again."
            ) from error
        raise FootageError(f"The film could not be made ({error.strerror}).") from error
    finally:
        part.unlink(missing_ok=True)


def _film_frames(pictures: Iterable[Picture]) -> Iterator[VideoFrame]:
    made: VideoFrame | None = None
    for n, picture in enumerate(pictures):
        if made is None or not picture.same:
            # OpenCV's conversion (BT.601, as FFmpeg's own) takes a quarter of the time.
            planes = np.asarray(cv2.cvtColor(picture.image, cv2.COLOR_BGR2YUV_I420), np.uint8)
            made = VideoFrame.from_ndarray(planes, format="yuv420p")
        made.pts, made.time_base = n, Fraction(1, FPS)
        yield made


def _chapter(n: int, chapter: Words) -> Any:
    return {
        "id": n, "start": round(chapter.from_ms), "end": round(chapter.to_ms), "time_base": _MS,
        "metadata": {"title": chapter.text},
    }  # fmt: skip


def _captions(stream: SubtitleStream, captions: Sequence[Words]) -> Iterator[av.Packet]:
    """Timed text: two bytes of length, then the words. Source: 3GPP TS 26.245."""
    for caption in captions:
        text = caption.text.encode()[:65_000]
        packet = av.Packet(struct.pack(">H", len(text)) + text)
        packet.stream, packet.time_base = stream, _MS
        packet.pts = packet.dts = round(caption.from_ms)
        packet.duration = max(1, round(caption.to_ms) - round(caption.from_ms))
        yield packet


def write_gif(out: Path, pictures: Iterable[Image], progress: Progress = lambda done: None) -> None:
    """A GIF that goes round for ever, GIF_FPS pictures a second, with one palette for all."""
    part = out.with_name(f"{out.name}.{os.getpid()}.part")
    try:
        frames = []
        for done, image in enumerate(pictures):
            scale = GIF_SIDE / max(image.shape[:2])
            size = (2 * round(image.shape[1] * scale / 2), 2 * round(image.shape[0] * scale / 2))
            small = cv2.resize(image, size, interpolation=cv2.INTER_AREA)
            frames.append(np.asarray(small, np.uint8))
            progress(done + 1)
        if not frames:
            raise FootageError("There is no frame to make a picture of.")
        _encode_gif(part, frames)
        os.replace(part, out)
    except av.error.FFmpegError as error:
        raise FootageError(f"The picture could not be made ({error.strerror}).") from error
    finally:
        part.unlink(missing_ok=True)


def _encode_gif(part: Path, frames: list[Image]) -> None:
    height, width = frames[0].shape[:2]
    base = Fraction(1, GIF_FPS)
    graph = av.filter.Graph()
    source = graph.add_buffer(
        width=width, height=height, format=VideoFormat("bgr24"), time_base=base
    )
    split, palette, use = graph.add("split"), graph.add("palettegen"), graph.add("paletteuse")
    sink = graph.add("buffersink")
    source.link_to(split)
    split.link_to(use, 0, 0)
    split.link_to(palette, 1, 0)
    palette.link_to(use, 0, 1)
    use.link_to(sink)
    graph.configure()
    for n, image in enumerate(frames):
        frame = VideoFrame.from_ndarray(image, format="bgr24")
        frame.pts, frame.time_base = n, base
        graph.push(frame)
    graph.push(None)
    with av.open(f"file:{part.resolve()}", "w", format="gif", options={"loop": "0"}) as target:
        stream = target.add_stream("gif", rate=GIF_FPS)
        stream.width, stream.height, stream.pix_fmt = width, height, "pal8"
        for n in range(len(frames)):
            made = graph.pull()
            assert isinstance(made, VideoFrame)  # nothing else went in
            made.pts, made.time_base = n, base
            target.mux(stream.encode(made))
        target.mux(stream.encode(None))
