"""The filmstrip: small pictures along a recording, in one sheet, gathered while it is decoded."""

from __future__ import annotations

from pathlib import Path

import numpy as np
from av.video.frame import VideoFrame
from numpy.typing import NDArray

from norvik.core.frame.filmstrip import Strip
from norvik.core.frame.levels import Levels
from norvik.footage.stills import jpeg

#: Height of a picture on the strip in pixels.
HEIGHT = 72
_COLUMNS = 10
#: As many pictures as are wanted, and how many are gathered before every other one is dropped.
_WANTED, _MOST = 120, 240


class StripMaker:
    """Takes every frame of a recording in turn and keeps some of them, small."""

    def __init__(self) -> None:
        self._every = 0
        self._seen = 0
        self._pictures: list[NDArray[np.uint8]] = []

    def expect(self, frames: int | None) -> None:
        """Say how many frames will come; when nobody knows, the pictures are thinned out later."""
        if not self._every:
            self._every = max(1, (frames or 0) // _WANTED)

    def __call__(self, frame: VideoFrame) -> None:
        self.expect(None)
        if self._seen % self._every == 0:
            width = max(16, round(HEIGHT * frame.width / frame.height))
            small = frame.reformat(width=width, height=HEIGHT, format="bgr24")
            self._pictures.append(small.to_ndarray().astype(np.uint8, copy=False))
            if len(self._pictures) >= _MOST:
                self._pictures = self._pictures[::2]
                self._every *= 2
        self._seen += 1

    def save(self, path: Path) -> tuple[Strip, Levels] | None:
        """Write the sheet of what was gathered so far; None when there is nothing yet."""
        pictures = list(self._pictures)
        if not pictures:
            return None
        height, width = pictures[0].shape[:2]
        rows = -(-len(pictures) // _COLUMNS)
        sheet = np.zeros((rows * height, _COLUMNS * width, 3), np.uint8)
        for n, picture in enumerate(pictures):
            y, x = n // _COLUMNS * height, n % _COLUMNS * width
            sheet[y : y + height, x : x + width] = picture
        part = path.with_suffix(".part")
        part.write_bytes(jpeg(sheet))
        part.replace(path)
        strip = Strip(len(pictures), self._every, _COLUMNS, width, height)
        return strip, Levels.of(pictures[:: max(1, len(pictures) // 40)])
