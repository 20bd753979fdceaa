"""Small clips whose every frame carries its own number, readable by a program.

The number stands in a row of black and white blocks along the top: a white start block, 16 bits
with the highest first, a black end block. Lossy coding leaves such blocks readable.
"""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from functools import cache
from pathlib import Path

import av
import numpy as np
from numpy.typing import NDArray

BITS = 16
BLOCK = 16


@cache
def _water(width: int, height: int) -> NDArray[np.uint8]:
    """A wide picture full of detail, to be scrolled through."""
    rng = np.random.default_rng(8)
    grain = rng.integers(0, 256, (height // 8 + 1, width // 2, 3), dtype=np.uint8)
    return np.kron(grain, np.ones((8, 8, 1), np.uint8))[:height]


def numbered_frame(
    n: int, width: int = 640, height: int = 360, busy: bool = False
) -> NDArray[np.uint8]:
    """Frame n, shape (height, width, 3): number blocks over a picture that changes.

    busy: as hard to encode as water in motion.
    """
    image = np.full((height, width, 3), 90, np.uint8)
    if busy:
        at = (n * 3) % (3 * width)
        image[:] = _water(width, height)[:, at : at + width] // 4 + 70
    x = (n * 7) % width
    image[height // 2 :, max(0, x - 20) : x + 20] = (30, 160, 220)
    blocks = [1, *(n >> (BITS - 1 - bit) & 1 for bit in range(BITS)), 0]
    for place, on in enumerate(blocks):
        image[:BLOCK, place * BLOCK : (place + 1) * BLOCK] = 255 if on else 0
    return image


def read_number(image: NDArray[np.uint8], scale: float = 1.0) -> int:
    """The number in a frame; scale: size of the picture against the one that was made."""
    size = BLOCK * scale
    centres = [
        image[int(BLOCK * min(1, scale) / 2), int((place + 0.5) * size)].mean() > 128
        for place in range(BITS + 2)
    ]
    assert centres[0], "no start block: this is not a numbered frame"
    assert not centres[-1], "no end block: this is not a numbered frame"
    return sum(int(on) << (BITS - 1 - bit) for bit, on in enumerate(centres[1:-1]))


def numbered_clip(
    path: Path,
    times_s: Sequence[float],
    size: tuple[int, int] = (640, 360),
    codec: str = "libx264",
    options: dict[str, str] | None = None,
    clock: Fraction = Fraction(1, 90_000),
    busy: bool = False,
    pix_fmt: str = "yuv420p",
    muxer: dict[str, str] | None = None,
) -> Path:
    """A clip with one numbered frame at each of the given seconds."""
    with av.open(str(path), "w", options=muxer or {}) as target:
        stream = target.add_stream(codec, rate=30, options=options or {"preset": "ultrafast"})
        stream.width, stream.height, stream.pix_fmt = size[0], size[1], pix_fmt
        stream.codec_context.time_base = clock
        for n, time_s in enumerate(times_s):
            image = numbered_frame(n, *size, busy)
            frame = av.VideoFrame.from_ndarray(image, format="rgb24")
            frame.pts, frame.time_base = round(time_s / clock), clock
            target.mux(stream.encode(frame))
        target.mux(stream.encode(None))
    return path


def add_sound(film: Path, out: Path, seconds: float, *beeps_s: float, beep_s: float = -1) -> Path:
    """The same film with sound beside it: silence, and a tone of 0.2 s from each of these on."""
    rate = 44_100
    t = np.arange(round(seconds * rate)) / rate
    heard = np.zeros(t.size, bool)
    for begin in beeps_s or (beep_s,):
        heard |= (t >= begin) & (t < begin + 0.2)
    wave = np.where(heard, 0.8 * np.sin(2 * np.pi * 880 * t), 0.0)
    with av.open(str(film)) as source, av.open(str(out), "w") as target:
        video = source.streams.video[0]
        picture = target.add_stream_from_template(video)
        voice = target.add_stream("aac", rate=rate, layout="mono")
        for packet in source.demux(video):
            if packet.dts is not None:
                packet.stream = picture
                target.mux(packet)
        for at in range(0, wave.size - 1024, 1024):
            block = wave[None, at : at + 1024].astype(np.float32)
            frame = av.AudioFrame.from_ndarray(block, format="fltp", layout="mono")
            frame.sample_rate, frame.pts, frame.time_base = rate, at, Fraction(1, rate)
            target.mux(voice.encode(frame))
        target.mux(voice.encode(None))
    return out
