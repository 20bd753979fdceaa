"""Films, sounds and pictures on their way to a browser, which may take its time.

A player that is paused reads no further, for as long as its page is open. The server's own loop
sends a file bit by bit while it does everything else; whatever an application gives out in pieces
keeps one of the few threads until the last is read. Flask gives a part of a file, which is all
that players ask for, in pieces: eight of them paused, and nobody else was answered.
"""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

from flask import Response, request, send_file
from werkzeug.wsgi import wrap_file

#: Read at once from the disk.
_READ_BYTES = 1 << 18


class FilePart(io.RawIOBase):
    """The bytes of a file from start up to stop, as a file of their own."""

    def __init__(self, path: Path, start: int, stop: int) -> None:
        self._file = path.open("rb", buffering=0)
        self._start, self._stop = start, stop
        self.seek(0)

    def readable(self) -> bool:
        return True

    def seekable(self) -> bool:
        return True

    def seek(self, offset: int, whence: int = io.SEEK_SET) -> int:
        of = {io.SEEK_SET: 0, io.SEEK_CUR: self.tell(), io.SEEK_END: self._stop - self._start}
        return self._file.seek(self._start + of[whence] + offset) - self._start

    def tell(self) -> int:
        return self._file.tell() - self._start

    def readinto(self, into: Any) -> int | None:
        left = max(0, self._stop - self._file.tell())
        return self._file.readinto(memoryview(into)[:left])

    def close(self) -> None:
        self._file.close()
        super().close()


def kept_file(path: Path, mimetype: str | None = None, **how: Any) -> Response:
    """A file of the house, or the part that is asked for. how: see `flask.send_file`."""
    made = send_file(path, mimetype=mimetype, conditional=True, **how)
    part = made.content_range
    if made.status_code == 206 and part.start is not None and part.stop is not None:
        made.close()
        file = io.BufferedReader(FilePart(path, part.start, part.stop), _READ_BYTES)
        made.response = wrap_file(request.environ, file)
    return made
