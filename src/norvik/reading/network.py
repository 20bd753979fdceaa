"""A network that finds the joints of one person in a square picture: behind one small interface."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from norvik.core.errors import ReadingError
from norvik.core.reading.tracked import JOINTS as NAMES
from norvik.reading.files import LANDMARKS, network, network_at

Floats = NDArray[np.float32]
Image = NDArray[np.uint8]

#: The number of each joint in the network's answer.
JOINTS = dict(zip(
    NAMES, (0, 7, 8, 11, 12, 13, 14, 15, 16, 23, 24, 25, 26, 27, 28, 31, 32), strict=True
))  # fmt: skip


@dataclass(frozen=True, slots=True)
class Landmarks:
    """points: pixels of the square picture, shape (joints, 2) in the order of JOINTS. visible:
    0..1, shape (joints,). score: 0..1, how sure the network is that there is a body.
    """

    points: Floats
    visible: Floats
    score: float


class PoseNetwork(Protocol):
    """What reading needs of a network; another one is another class with this."""

    #: Edge of the square picture, pixels.
    size: int

    def landmarks(self, picture: Image) -> Landmarks:
        """The joints of a square RGB picture, shape (size, size, 3), the head up."""
        ...


def interpreter(data: bytes) -> Any:
    """A network ready to run. ReadingError where the package is not installed or refuses it."""
    try:
        from ai_edge_litert.interpreter import Interpreter
    except ImportError as error:
        raise ReadingError(
            "Films cannot be read automatically on this machine: the package ai-edge-litert is not "
            "installed. Everything else works without it."
        ) from error
    try:
        made = Interpreter(model_content=data, num_threads=1)
        made.allocate_tensors()
    except (ValueError, RuntimeError) as error:
        raise ReadingError(
            "This file is not a network that Norvik can run. Choose another."
        ) from error
    return made


class LitePose:
    """The pose network that comes along, or another one of the same kind at `path`."""

    size = 256

    def __init__(self, path: Path | None = None) -> None:
        self._run = interpreter(network(LANDMARKS) if path is None else network_at(path))
        taken, given = self._run.get_input_details(), self._run.get_output_details()
        shapes = [tuple(int(v) for v in one["shape"]) for one in (*taken, *given[:2])]
        if shapes != [(1, self.size, self.size, 3), (1, 195), (1, 1)]:
            raise ReadingError("This network does not find 39 landmarks. Choose another.")
        self._in, self._out = taken[0]["index"], [one["index"] for one in given[:2]]

    def landmarks(self, picture: Image) -> Landmarks:
        self._run.set_tensor(self._in, picture[None].astype(np.float32) / np.float32(255))
        self._run.invoke()
        rows = self._run.get_tensor(self._out[0]).reshape(39, 5)[list(JOINTS.values())]
        score = float(np.ravel(self._run.get_tensor(self._out[1]))[0])
        visible = 1 / (1 + np.exp(-np.clip(rows[:, 3], -30, 30)))
        return Landmarks(rows[:, :2].astype(np.float32), visible.astype(np.float32), score)
