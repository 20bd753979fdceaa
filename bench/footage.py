"""The review copy against the ffmpeg command line doing the same encode."""

from __future__ import annotations

import subprocess
import time
from pathlib import Path

from tests.clips import numbered_clip

from bench.figures import line
from norvik.footage.review_copy import ENCODER, make_review_copy
from norvik.footage.stills import frame_image, jpeg

FRAMES, RATE = 2400, 240


def run(room: Path) -> Path:
    """Measure the copy of 10 s of 1280x720 at 240 frames/s; gives the source clip."""
    source = numbered_clip(
        room / "source.mp4",
        [n / RATE for n in range(FRAMES)],
        size=(1280, 720),
        options={"preset": "veryfast", "g": "250", "bf": "3"},
        busy=True,
    )
    ours, theirs = [], []
    for turn in range(2):
        began = time.perf_counter()
        made = make_review_copy(source, room / f"copy-{turn}.mp4")
        jpeg(frame_image(made.path, made.rate, FRAMES // 2), 480)
        ours.append(time.perf_counter() - began)
        began = time.perf_counter()
        _ffmpeg(source, room / "ffmpeg.mp4")
        theirs.append(time.perf_counter() - began)
    line("10 s of 720p240 ready for review", f"{min(ours):.1f} s", "under 40 s")
    ratio = min(ours) / min(theirs)
    line("  against ffmpeg, same encode", f"ratio {ratio:.2f} (ffmpeg {min(theirs):.1f} s)", "1.3")
    size = (room / "copy-0.mp4").stat().st_size / 1e6
    line("  size of the review copy", f"{size:.1f} MB, {made.media_s.size} frames", "")
    return source


def _ffmpeg(source: Path, out: Path) -> None:
    options = [word for key, value in ENCODER.items() for word in (f"-{key}", value)]
    command = ["ffmpeg", "-y", "-v", "error", "-i", str(source), "-an", "-c:v", "libx264", *options,
               "-pix_fmt", "yuv420p", "-movflags", "+faststart", str(out)]  # fmt: skip
    subprocess.run(command, check=True)
