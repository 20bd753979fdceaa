"""The networks that come along: joined from their parts and checked before they are used."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from norvik.core.errors import ReadingError

FOLDER = Path(__file__).with_name("networks")


@dataclass(frozen=True, slots=True)
class NetworkFile:
    """A network in one or more files. sha256: of all of them joined."""

    name: str
    parts: tuple[str, ...]
    sha256: str


LANDMARKS = NetworkFile(
    "the pose network", ("pose_landmark_full.tflite.1", "pose_landmark_full.tflite.2"),
    "e9a5c5cb17f736fafd4c2ec1da3b3d331d6edbe8a0d32395855aeb2cdfd64b9f",
)  # fmt: skip
DETECTOR = NetworkFile(
    "the person detector", ("pose_detection.tflite",),
    "a63c614bef30d35947f13be361820b1e4e3bec9cfeebf4d11216a18373108e85",
)  # fmt: skip


@lru_cache(maxsize=4)
def network(file: NetworkFile, folder: Path = FOLDER) -> bytes:
    """A network whole. ReadingError where a part is missing or its content is not what it was."""
    try:
        data = b"".join((folder / part).read_bytes() for part in file.parts)
    except OSError as error:
        raise ReadingError(
            f"The film cannot be read automatically: {file.name} is missing. Install Norvik again."
        ) from error
    if hashlib.sha256(data).hexdigest() != file.sha256:
        raise ReadingError(
            f"The film cannot be read automatically: {file.name} is damaged. Install Norvik again."
        )
    return data


def network_at(path: Path) -> bytes:
    """Another network, named by path. ReadingError where it cannot be read."""
    try:
        return path.read_bytes()
    except OSError as error:
        raise ReadingError(
            f"{path.name} cannot be read. Choose a network file that exists."
        ) from error
