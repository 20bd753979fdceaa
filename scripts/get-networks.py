"""Shows how src/norvik/reading/networks came about: the files of an npm package, split and checked.

scripts/get-networks.py FOLDER_OF_THE_UNPACKED_PACKAGE

The package is @mediapipe/pose 0.5.1675469404 (Apache-2.0): `npm pack @mediapipe/pose` and unpack
it. Nothing is fetched when Norvik runs. No file of the repository is larger than 4 MB: the landmark
network lies in two.
"""

from __future__ import annotations

import hashlib
import sys
from pathlib import Path

from norvik.reading.files import DETECTOR, FOLDER, LANDMARKS, NetworkFile

_FROM = {
    LANDMARKS.name: "pose_landmark_full.tflite",
    # The whole packed file is the detector.
    DETECTOR.name: "pose_solution_packed_assets.data",
}


def put(file: NetworkFile, package: Path) -> None:
    """Write a network's parts, checked by its SHA-256."""
    data = (package / _FROM[file.name]).read_bytes()
    if hashlib.sha256(data).hexdigest() != file.sha256:
        sys.exit(f"{_FROM[file.name]} is not the file that Norvik was tried with.")
    size = -(-len(data) // len(file.parts))
    for n, part in enumerate(file.parts):
        (FOLDER / part).write_bytes(data[n * size : (n + 1) * size])


if __name__ == "__main__":
    FOLDER.mkdir(exist_ok=True)
    for one in (LANDMARKS, DETECTOR):
        put(one, Path(sys.argv[1]))
