"""Opening a file that somebody brought, trusting nothing that it says about itself."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import av
from av.container import InputContainer
from av.video.stream import VideoStream

from norvik.core.errors import FootageError

#: Playlists and lists of files open neighbouring files under a film's name, and pictures, songs
#: with a cover and subtitles are no film: only containers of footage are let in.
FORMATS = "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts"

#: A picture of 8K with some to spare; larger ones fill the memory before they show anything.
MOST_PIXELS = 8192 * 4608

_ADVICE = "Send the clip itself, as it comes from the camera (MP4, MOV, M4V, WebM, MKV or AVI)."


@dataclass(frozen=True, slots=True)
class Source:
    """An open container and its one film stream."""

    path: Path
    container: InputContainer
    stream: VideoStream

    @property
    def size_bytes(self) -> int:
        return self.path.stat().st_size

    def bytes_missing(self) -> int:
        """Bytes that the file's own index points at beyond its end: it was cut off in copying."""
        ends = (entry.pos + entry.size for entry in self.stream.index_entries)
        return max(0, max(ends, default=0) - self.size_bytes)

    @property
    def codec(self) -> str:
        name = self.stream.codec_context.name
        return "av1" if name == "libdav1d" else name


@contextmanager
def open_footage(path: Path) -> Iterator[Source]:
    """Open a file for decoding. Raises FootageError with a sentence when it is no footage."""
    path = path.resolve()
    if not path.is_file():
        raise FootageError(f"There is no file {path.name}.")
    if path.stat().st_size == 0:
        raise FootageError(
            "The file is empty (0 bytes): the copy from the camera did not work. Copy it again."
        )
    try:
        # The scheme keeps a name with a colon from being read as a protocol.
        container = av.open(f"file:{path}", options={"format_whitelist": FORMATS})
    except (av.error.FFmpegError, OSError, ValueError) as error:
        raise FootageError(
            "This is not a video that can be read, or its beginning or end was cut off in copying. "
            + _ADVICE
        ) from error
    with container:
        # A cover picture is a video stream, too.
        films = [s for s in container.streams.video if not _is_cover(s)]
        if not films:
            kind = "sound but no picture" if container.streams.audio else "no picture"
            raise FootageError(f"The file holds {kind}. {_ADVICE}")
        stream = films[0]
        if stream.width * stream.height > MOST_PIXELS:
            raise FootageError(
                f"The picture is {stream.width} × {stream.height}: larger than any camera films "
                "(8K at most). " + _ADVICE
            )
        stream.thread_type = "AUTO"
        yield Source(path, container, stream)


def _is_cover(stream: VideoStream) -> bool:
    return bool(stream.disposition & av.stream.Disposition.attached_pic)
