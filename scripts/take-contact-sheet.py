"""Makes docs/dials-*.jpg: every fault dial of the model swimmer, without and with the fault.

.venv/bin/python scripts/take-contact-sheet.py
"""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np

from norvik.model.dials import DIALS, Dial, usual_swim, with_faults
from norvik.model.film import Shot, Take

OUT = Path(__file__).parent.parent / "docs"
SIZE = (340, 191)
ACROSS = 3


def pair(dial: Dial) -> np.ndarray:
    """Two frames at the instant at which the fault shows most, side by side, with its name."""
    plain = Take(usual_swim(dial.stroke), seconds=7, fps=30, view=dial.view)
    shots = [Shot(plain), Shot(with_faults(plain, {dial.fault: 1.0}))]
    camera, joints = shots[0].camera, shots[0].joints
    apart = np.zeros(shots[0].times.size)
    for name in joints:
        if name != "face":
            a, b = (camera.project(s.joints[name]) for s in shots)
            apart += np.linalg.norm(a - b, axis=1) ** 2
    faces = np.linalg.norm(shots[0].joints["face"] - shots[1].joints["face"], axis=1)
    apart += (150 * faces) ** 2
    apart[:30] = apart[-30:] = 0
    n = int(apart.argmax())
    frames = [cv2.resize(s.frame(n), SIZE, interpolation=cv2.INTER_AREA) for s in shots]
    label = np.full((24, 2 * SIZE[0], 3), 245, np.uint8)
    text = f"{dial.fault} ({dial.stroke}, {dial.view})"
    cv2.putText(label, text, (6, 17), cv2.FONT_HERSHEY_SIMPLEX, 0.5, (47, 42, 11), 1, cv2.LINE_AA)
    return np.vstack([label, np.hstack(frames)])


def main() -> None:
    for name, strokes in (
        ("freestyle", ["freestyle"]),
        ("others", ["backstroke", "breaststroke", "butterfly", "wall"]),
    ):
        pairs = [pair(d) for d in DIALS.values() if d.stroke in strokes]
        while len(pairs) % ACROSS:
            pairs.append(np.full_like(pairs[0], 245))
        rows = [np.hstack(pairs[n : n + ACROSS]) for n in range(0, len(pairs), ACROSS)]
        cv2.imwrite(str(OUT / f"dials-{name}.jpg"), np.vstack(rows), [cv2.IMWRITE_JPEG_QUALITY, 82])


main()
