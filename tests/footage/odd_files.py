"""Files as they really come, each with the numbers its frames carry in display order."""

from __future__ import annotations

import random
import struct
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

import av

from tests.clips import add_sound, numbered_clip, read_number

STEADY = [n / 30 for n in range(60)]
#: The file, the numbers of its frames, and the width in which they were drawn.
Written = tuple[Path, list[int], int]


def numbers_in(path: Path, scale: float = 1.0) -> list[int]:
    with av.open(str(path)) as container:
        return [read_number(f.to_ndarray(format="rgb24"), scale) for f in container.decode(video=0)]


def irregular(count: int, seed: int = 3) -> list[float]:
    """Times as phones write them: mostly 1/60 s, with long and short steps."""
    rng = random.Random(seed)
    times, t = [], 0.0
    for _ in range(count):
        times.append(t)
        t += rng.choice([1 / 60, 1 / 60, 1 / 60, 1 / 30, 1 / 120, 0.05])
    return times


def _plain(name: str, times: list[float] = STEADY, **how: object) -> Callable[[Path], Written]:
    def write(folder: Path) -> Written:
        path = numbered_clip(folder / name, times, **how)  # type: ignore[arg-type]
        return path, list(range(len(times))), how.get("size", (640, 360))[0]  # type: ignore[index]

    return write


def repeated_timestamps(folder: Path) -> Written:
    """Frame 21 shows at the very time of frame 20: its sample lasts no time."""
    times = [n / 30 + (1 / 30 if n > 20 else 0) for n in range(60)]
    path = numbered_clip(folder / "repeated.mp4", times, options={"preset": "ultrafast", "bf": "0"})
    data = bytearray(path.read_bytes())
    at = data.index(b"stts") + 8
    (entries,) = struct.unpack_from(">I", data, at)
    for n in range(entries):
        count, delta = struct.unpack_from(">II", data, at + 4 + 8 * n)
        if count == 1 and delta > 3000:
            struct.pack_into(">II", data, at + 4 + 8 * n, count, 0)
    path.write_bytes(data)
    return path, list(range(60)), 640


def _negative(name: str, before: int) -> Callable[[Path], Written]:
    """`before` frames lie before the zero of the file's clock."""

    def write(folder: Path) -> Written:
        times = [(n - before) / 30 for n in range(60)]
        return (
            numbered_clip(
                folder / name, times, options={"preset": "ultrafast", "bf": "0"},
                muxer={"avoid_negative_ts": "disabled"},
            ),
            list(range(60)),
            640,
        )  # fmt: skip

    return write


def with_sound(folder: Path) -> Written:
    film = numbered_clip(folder / "silent.mp4", STEADY)
    return add_sound(film, folder / "sound.mp4", 2.0, 1.0), list(range(60)), 640


def wide_pixels(folder: Path) -> Written:
    """Pixels wider than high, as some cameras store them."""
    path = folder / "anamorphic.mp4"
    film = numbered_clip(folder / "square.mp4", STEADY)
    with av.open(str(film)) as source, av.open(str(path), "w") as target:
        video = source.streams.video[0]
        stream = target.add_stream("libx264", rate=30, options={"preset": "ultrafast"})
        stream.width, stream.height, stream.pix_fmt = 640, 360, "yuv420p"
        stream.codec_context.sample_aspect_ratio = Fraction(2, 1)
        for frame in source.decode(video):
            frame.pict_type = 0
            target.mux(stream.encode(frame))
        target.mux(stream.encode(None))
    return path, list(range(60)), 640


_X265 = {"x265-params": "log-level=none", "preset": "ultrafast"}
ODD_FILES: dict[str, Callable[[Path], Written]] = {
    "variable frame rate": _plain("variable.mp4", irregular(120)),
    "B-frames and long groups": _plain("long.mp4", options={"g": "250", "bf": "3"}),
    "HEVC in 10 bit": _plain(
        "phone.mov", codec="libx265", pix_fmt="yuv420p10le", options=_X265
    ),
    "odd width and height": _plain("odd.mkv", size=(321, 181), codec="libvpx-vp9",
                                   options={"deadline": "realtime", "cpu-used": "8"}),
    "8K": _plain("8k.mp4", STEADY[:6], size=(7680, 4320)),
    "starts late": _plain("late.mkv", [t + 2.5 for t in STEADY]),
    "negative timestamps": _negative("negative.ts", 10),
    "first frames without a timestamp": _negative("nameless.mkv", 10),
    "repeated timestamps": repeated_timestamps,
    "AVI with B-frames": _plain("camera.avi", codec="mpeg4", clock=Fraction(1, 30),
                                options={"b": "2M", "bf": "2"}),
    "every frame a key frame": _plain("keys.mp4", options={"g": "1", "preset": "ultrafast"}),
    "sound beside the film": with_sound,
    "pixels that are not square": wide_pixels,
    "one frame": _plain("one.mp4", [0.0]),
    "three hours": _plain("hours.mp4", [60.0 * n for n in range(181)]),
}  # fmt: skip
