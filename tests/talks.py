"""Talks as a browser would send them: sound in pieces, deeds beside it."""

from __future__ import annotations

import io
import sqlite3
from collections.abc import Sequence
from fractions import Fraction
from typing import Any

import av
import numpy as np
from numpy.typing import NDArray

from norvik.store import talks
from norvik.workflow.talk.record import Bit, Place, begin, take_bit

RATE = 48_000
Samples = NDArray[np.float32]


def clicks(seconds: float, *at_s: float) -> Samples:
    """Silence with a short burst of sound at each of these instants."""
    samples = np.zeros(round(seconds * RATE), np.float32)
    burst = 0.7 * np.sin(2 * np.pi * 1200 * np.arange(RATE // 50) / RATE)
    for at in at_s:
        begin_at = round(at * RATE)
        samples[begin_at : begin_at + burst.size] = burst[: samples.size - begin_at]
    return samples


def tone(seconds: float, level: float = 0.1) -> Samples:
    at = np.arange(round(seconds * RATE)) / RATE
    return (level * np.sin(2 * np.pi * 300 * at)).astype(np.float32)


def webm(samples: Samples) -> bytes:
    """Opus in WebM, as Chromium records it."""
    out = io.BytesIO()
    with av.open(out, "w", format="webm") as target:
        voice = target.add_stream("libopus", rate=RATE, layout="mono", bit_rate=64_000)
        for at in range(0, samples.size, 960):
            block = np.zeros((1, 960), np.float32)
            part = samples[at : at + 960]
            block[0, : part.size] = part
            frame = av.AudioFrame.from_ndarray(block, format="flt", layout="mono")
            frame.sample_rate, frame.pts, frame.time_base = RATE, at, Fraction(1, RATE)
            target.mux(voice.encode(frame))
        target.mux(voice.encode(None))
    return out.getvalue()


def stage(*films: dict[str, Any], layout: str = "beside") -> list[Any]:
    return [0, "stage", layout, list(films)]


def clip_film(clip: int, title: str = "", size: tuple[int, int] = (640, 360)) -> dict[str, Any]:
    return {"clip": clip, "size": list(size), "title": title}


def whole(n: int, size: tuple[int, int] = (640, 360)) -> list[Any]:
    """The film fills its box."""
    return [0, "place", n, [size[0], size[1], 1, 0, 0, 1, 0, 0]]


def record(
    connection: sqlite3.Connection, talk_id: int, deeds: Sequence[Sequence[Any]],
    sound: Samples | None = None, inks: dict[str, str] | None = None,
    place: Place | None = None, key: str = "take-0001",
) -> int:  # fmt: skip
    """A take in three pieces; gives its number. Its length is that of its last deed."""
    talk = talks.by_id(connection, talk_id)
    take_id = begin(connection, talk, key, "" if sound is None else "audio/webm", place or Place())
    data = b"" if sound is None else webm(sound)
    length = max(d[0] for d in deeds)
    for n in range(3):
        share = slice(n * len(data) // 3, (n + 1) * len(data) // 3)
        mine = [d for d in deeds if n * length / 3 <= d[0] < (n + 1) * length / 3 + 10 * (n == 2)]
        bit = Bit(n, data[share], mine, inks or {} if n == 0 else {}, (n + 1) * length / 3)
        assert take_bit(connection, talk, take_id, bit, lambda clip: None)
    return take_id
