"""The review copy against the ffmpeg command line doing the same encode, and odd files."""

from __future__ import annotations

import subprocess
import time
from pathlib import Path

from tests.clips import numbered_clip
from tests.footage.odd_files import ODD_FILES, numbers_in

from bench.figures import line
from norvik.footage.pieces import ENCODER
from norvik.footage.review_copy import make_review_copy
from norvik.footage.strip import StripMaker

RATE = 240


def run(room: Path) -> Path:
    """Measure copies of 10 s at 240 frames/s; gives the 720p source clip."""
    sources = {
        name: numbered_clip(
            room / f"{name}.mp4",
            [n / RATE for n in range(10 * RATE)],
            size=size,
            options={"preset": "veryfast", "g": "250", "bf": "3"},
            busy=True,
        )
        for name, size in (("720p", (1280, 720)), ("1080p", (1920, 1080)))
    }
    for name, source in sources.items():
        _against_ffmpeg(room, name, source)
    _odd_files(room)
    return sources["720p"]


def _against_ffmpeg(room: Path, name: str, source: Path) -> None:
    ours, theirs = [], []
    for turn in range(2):
        began = time.perf_counter()
        strip = StripMaker()
        strip.expect(10 * RATE)
        made = make_review_copy(source, room / f"copy-{turn}.mp4", look=strip)
        strip.save(room / "strip.jpg")
        ours.append(time.perf_counter() - began)
        began = time.perf_counter()
        _ffmpeg(source, room / "ffmpeg.mp4", (made.width, made.height))
        theirs.append(time.perf_counter() - began)
    line(f"10 s of {name}240 ready for review", f"{min(ours):.1f} s", "under 40 s for 720p")
    ratio = min(ours) / min(theirs)
    found = f"ratio {ratio:.2f} (ffmpeg {min(theirs):.1f} s)"
    line("  against ffmpeg, same encode", found, "at most 1.1 for 1080p")
    size = (room / "copy-0.mp4").stat().st_size / 1e6
    line("  size of the review copy", f"{size:.1f} MB, {made.media_s.size} frames", "")


def _ffmpeg(source: Path, out: Path, size: tuple[int, int]) -> None:
    options = [word for key, value in ENCODER.items() for word in (f"-{key}", value)]
    command = ["ffmpeg", "-y", "-v", "error", "-i", str(source), "-an", "-vf",
               f"scale={size[0]}:{size[1]}:flags=bicubic", "-c:v", "libx264", *options,
               "-pix_fmt", "yuv420p", "-movflags", "+faststart", str(out)]  # fmt: skip
    subprocess.run(command, check=True)


def _odd_files(room: Path) -> None:
    good = 0
    for name, write in ODD_FILES.items():
        folder = room / f"odd-{good}"
        folder.mkdir(exist_ok=True)
        source, expected, width = write(folder)
        made = make_review_copy(source, folder / "copy.mp4")
        numbers = numbers_in(made.path, made.width / width)
        same = numbers == expected and made.media_s.size == len(expected)
        good += int(same)
        if not same:
            line(f"  {name}", "frames lost or out of order", "")
    line("odd files: frames in = frames out, in order", f"{good} of {len(ODD_FILES)}", "all")
