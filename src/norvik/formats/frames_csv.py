"""OUT.frames.csv: the true time of every frame of a review copy."""

from __future__ import annotations

from collections.abc import Iterable


def write_frames(times_s: Iterable[float]) -> str:
    """frame,time_s with one row a source frame, first at 0."""
    rows = [f"{n},{t:.9f}" for n, t in enumerate(times_s)]
    return "\r\n".join(["frame,time_s", *rows, ""])
