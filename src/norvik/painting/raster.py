"""SVG to pixels, with the typeface that ships and no other."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
import resvg_py
from numpy.typing import NDArray

import norvik

_FONT = Path(norvik.__file__).parent / "web/static/fonts/atkinson-hyperlegible-next-bold.ttf"


def as_png(svg: str) -> bytes:
    """A picture as PNG. Nothing outside of the SVG itself is read for it."""
    return bytes(
        resvg_py.svg_to_bytes(svg_string=svg, font_files=[str(_FONT)], skip_system_fonts=True)
    )


def as_pixels(svg: str) -> NDArray[np.uint8]:
    """A picture with its transparency, shape (height, width, 4), blue-green-red-alpha, 0-255."""
    made = cv2.imdecode(np.frombuffer(as_png(svg), np.uint8), cv2.IMREAD_UNCHANGED)
    assert made is not None  # it was written a moment ago
    return np.asarray(made, np.uint8)
