"""Finding a swimmer in a picture: the person detector at four quarter turns.

The detector expects people upright; swimmers lie. Its answer is laid out as single-shot detectors
do: for each cell of three grids a few boxes, each with four points of the body.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.reading.files import DETECTOR, network
from norvik.reading.network import interpreter

Image = NDArray[np.uint8]
Floats = NDArray[np.float64]
_SIZE = 224
#: Cells along an edge, and boxes in each.
_GRIDS = ((28, 2), (14, 2), (7, 6))
#: From this score on somebody is there. Empty pools stay under 0.34 and swimmers begin at 0.37
#: (found in a trial on rendered pools; see the checks).
SURE = 0.40


@dataclass(frozen=True, slots=True)
class Person:
    """hips, shoulders: middles in pixels of the picture. score: 0..1."""

    hips: tuple[float, float]
    shoulders: tuple[float, float]
    score: float


def shown_by(head_x: float, head_y: float, hips_x: float, hips_y: float) -> Person:
    """The person whose head and hips somebody showed, pixels of the picture."""
    # From head to hips lies the head's length more than from shoulders to hips.
    shoulders = (head_x + 0.36 * (hips_x - head_x), head_y + 0.36 * (hips_y - head_y))
    return Person((hips_x, hips_y), shoulders, 1.0)


class Detector:
    """Finds the surest person of a picture. ReadingError where its network cannot be run."""

    def __init__(self) -> None:
        self._run = interpreter(network(DETECTOR))
        self._in = self._run.get_input_details()[0]["index"]
        given = sorted(self._run.get_output_details(), key=lambda one: int(one["shape"][-1]))
        self._scores, self._boxes = given[0]["index"], given[-1]["index"]

    def person(self, picture: Image) -> Person | None:
        """The surest person of an RGB picture over the four quarter turns; None under SURE."""
        found = [p for turn in range(4) if (p := self._turned(picture, turn)) is not None]
        best = max(found, key=lambda p: p.score, default=None)
        return best if best is not None and best.score >= SURE else None

    def _turned(self, picture: Image, turn: int) -> Person | None:
        """The surest person of a picture that is turned by quarters, in its own pixels again."""
        height, width = picture.shape[:2]
        turned = np.ascontiguousarray(np.rot90(picture, turn))
        tall, wide = turned.shape[:2]
        scale = _SIZE / max(tall, wide)
        small = cv2.resize(turned, (round(wide * scale), round(tall * scale)),
                           interpolation=cv2.INTER_AREA)  # fmt: skip
        left, top = (_SIZE - small.shape[1]) // 2, (_SIZE - small.shape[0]) // 2
        square = np.zeros((_SIZE, _SIZE, 3), np.float32)
        square[top : top + small.shape[0], left : left + small.shape[1]] = small
        self._run.set_tensor(self._in, (square / 127.5 - 1)[None])
        self._run.invoke()
        logits = np.ravel(self._run.get_tensor(self._scores))
        best = int(np.argmax(logits))
        score = float(1 / (1 + np.exp(-np.clip(logits[best], -30, 30))))
        box = self._run.get_tensor(self._boxes).reshape(-1, 12)[best].astype(float)
        points = box[4:].reshape(4, 2) / _SIZE + _anchors()[best]
        places = [
            _unturned((x * _SIZE - left) / scale, (y * _SIZE - top) / scale, turn, width, height)
            for x, y in points
        ]
        return Person(places[0], places[2], score)


def _unturned(x: float, y: float, turn: int, width: int, height: int) -> tuple[float, float]:
    """A place of a picture that was turned by quarters anticlockwise, before it was."""
    for k in range(turn, 0, -1):
        # Before this quarter the picture was as wide as it is tall now.
        across = width if k % 2 else height
        x, y = across - y, x
    return x, y


@cache
def _anchors() -> Floats:
    """Middles of the boxes as shares of the picture, shape (boxes, 2)."""
    found = []
    for cells, boxes in _GRIDS:
        y, x = np.mgrid[0:cells, 0:cells]
        middle = (np.stack([x, y], axis=-1).reshape(-1, 2) + 0.5) / cells
        found.append(np.repeat(middle, boxes, axis=0))
    return np.concatenate(found)
