"""Filming the model swimmer: painting and encoding together, real frames a second."""

from __future__ import annotations

import time
from pathlib import Path

from bench.figures import line
from norvik.model.camera import VIEWS
from norvik.model.dials import usual_swim
from norvik.model.film import Take, film

_SECONDS, _FILMLIKE_SECONDS, _FPS = 6, 2, 60


def run(room: Path) -> None:
    for view in VIEWS:
        take = Take(usual_swim("freestyle"), seconds=_SECONDS, fps=_FPS, view=view)
        began = time.perf_counter()
        film(take, room / "swim.mp4")
        rate = _SECONDS * _FPS / (time.perf_counter() - began)
        line(f"filming at 1280x720, {view}", f"{rate:.0f} frames/s", "60 frames/s")
    for view in VIEWS:
        take = Take(
            usual_swim("freestyle"), seconds=_FILMLIKE_SECONDS, fps=_FPS, view=view,
            style="filmlike",
        )  # fmt: skip
        began = time.perf_counter()
        film(take, room / "swim.mp4")
        rate = _FILMLIKE_SECONDS * _FPS / (time.perf_counter() - began)
        line(f"filming film-like at 1280x720, {view}", f"{rate:.1f} frames/s", "8 frames/s")
