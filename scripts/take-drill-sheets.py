"""Makes docs/drills-*.jpg (every drill in four instants) and docs/filmlike-cameras.jpg.

.venv/bin/python scripts/take-drill-sheets.py
"""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np

from norvik.model.camera import VIEWS
from norvik.model.dials import usual_swim
from norvik.model.drills import backstroke, breaststroke, butterfly, freestyle, walls
from norvik.model.drills.loop import drill_loop
from norvik.model.film import Conditions, Take, shot_of

OUT = Path(__file__).parent.parent / "docs"
WIDE, HIGH = 168, 105
#: B, G, R.
COLOURS = {
    "near": (142, 176, 224), "head": (142, 176, 224), "trunk": (124, 160, 211),
    "far": (155, 167, 183), "suit": (60, 40, 20), "cap": (151, 111, 23), "kit": (30, 140, 242),
    "kit-pale": (196, 227, 247), "wall": (163, 163, 152), "ground": (166, 178, 180),
    "bubble": (255, 255, 255), "mark": (30, 38, 179),
}  # fmt: skip


def strip(drill: str) -> np.ndarray:
    """Four instants beside each other with the drill's id."""
    shown = drill_loop(drill)
    assert shown is not None
    left, top, width, _ = shown.box
    scale = WIDE / width
    pictures = []
    for n in shown.instants:
        image = np.full((HIGH, WIDE, 3), (242, 244, 238), np.uint8)
        if shown.water:
            line = 0 if shown.surface_y is None else max(0, round((shown.surface_y - top) * scale))
            image[line:] = (226, 224, 196)
        for shape in (*shown.around, *shown.frames[n]):
            points = (np.array(shape.points) - [left, top]) * scale * 16
            corners = [np.rint(points).astype(np.int32)]
            cv2.fillPoly(image, corners, COLOURS[shape.tone], cv2.LINE_AA, 4)
        image[:, -2:] = 255
        pictures.append(image)
    row = np.hstack(pictures)
    cv2.putText(row, drill, (4, 12), cv2.FONT_HERSHEY_SIMPLEX, 0.38, (60, 40, 10), 1, cv2.LINE_AA)
    row[-2:] = 255
    return row


def sheet(name: str, drills: list[str]) -> None:
    rows = [strip(drill) for drill in drills]
    if len(rows) % 2:
        rows.append(np.full_like(rows[0], 255))
    half = len(rows) // 2
    whole = np.hstack([np.vstack(rows[:half]), np.vstack(rows[half:])])
    cv2.imwrite(str(OUT / name), whole, [cv2.IMWRITE_JPEG_QUALITY, 82])


def cameras() -> None:
    """A film-like frame of each camera in a hall, one of breaststroke, and two in the open air."""
    chosen = [("freestyle", view, 75, 0.0) for view in VIEWS]
    chosen += [("breaststroke", "side-under", 118, 0.0), ("butterfly", "side-under", 96, 1.0),
               ("freestyle", "below", 75, 1.0)]  # fmt: skip
    frames = []
    for stroke, view, n, sun in chosen:
        take = Take(usual_swim(stroke), view=view, seconds=3, style="filmlike",
                    conditions=Conditions(sun=sun))  # fmt: skip
        frame = shot_of(take).frame(n)
        frames.append(cv2.resize(frame, (640, 360), interpolation=cv2.INTER_AREA))
    rows = [np.hstack(frames[k : k + 2]) for k in range(0, len(frames), 2)]
    path = str(OUT / "filmlike-cameras.jpg")
    cv2.imwrite(path, np.vstack(rows), [cv2.IMWRITE_JPEG_QUALITY, 80])


if __name__ == "__main__":
    sheet("drills-freestyle.jpg", list(freestyle.MOTIONS))
    sheet("drills-back-fly.jpg", [*backstroke.MOTIONS, *butterfly.MOTIONS])
    sheet("drills-breast-walls.jpg", [*breaststroke.MOTIONS, *walls.MOTIONS])
    cameras()
