"""The sound of a talk: pieces of its takes one after the other, evened out, to play and to film."""

from __future__ import annotations

import io
import os
from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.audio.frame import AudioFrame
from av.audio.resampler import AudioResampler
from av.filter import Graph
from numpy.typing import NDArray

from norvik.core.errors import TalkError
from norvik.core.talk.pieces import Laid

#: Samples a second of everything that is kept and sent.
RATE = 48_000
Samples = NDArray[np.float32]
#: What a voice is evened to: LUFS, dB of true peak, and LU of range. EBU R 128 measures so; its own
#: aim of -23 is for broadcasting, phones in a loud hall want about this (common practice).
LOUDNESS_LUFS, PEAK_DB, RANGE_LU = -16.0, -1.5, 9.0
#: Quieter than this over a whole window is silence.
SILENCE_DB = -45.0
_WINDOW_S = 0.05


@dataclass(frozen=True, slots=True)
class SoundPiece:
    """from_ms to to_ms of one take's sound, shape (n,) at RATE."""

    samples: Samples
    from_ms: float
    to_ms: float


def decoded(data: bytes) -> Samples:
    """The samples of what a browser recorded, one channel at RATE, from its first sample on.

    A recording that breaks off gives what there is of it. Nothing recorded gives no samples.
    Raises TalkError where it is no sound at all.
    """
    if not data:
        return np.zeros(0, np.float32)
    found: list[Samples] = []
    try:
        with av.open(io.BytesIO(data), "r") as source:
            resampler = AudioResampler(format="fltp", layout="mono", rate=RATE)
            done = 0
            first: int | None = None
            for frame in _readable(source):
                at = _samples_at(frame)
                first = at if first is None else first
                # A hole is silence: what comes after keeps its time.
                gap = at - first - done
                if gap > RATE // 100:
                    found.append(np.zeros(gap, np.float32))
                    done += gap
                for piece in resampler.resample(frame):
                    found.append(piece.to_ndarray()[0].astype(np.float32))
                    done += piece.samples
    except (av.error.FFmpegError, IndexError) as error:
        raise TalkError("The sound of this recording cannot be read.") from error
    return np.concatenate(found) if found else np.zeros(0, np.float32)


def _readable(source: av.container.InputContainer) -> Iterator[AudioFrame]:
    try:
        yield from source.decode(audio=0)
    except av.error.FFmpegError:
        return  # the page was closed in the middle of a packet


def _samples_at(frame: AudioFrame) -> int:
    if frame.pts is None or frame.time_base is None:
        return 0
    return round(float(frame.pts * frame.time_base) * RATE)


def joined(pieces: Iterable[SoundPiece]) -> Samples:
    """The pieces one after the other, each exactly as long as it says: silence where sound lacks.

    The rim of each piece rises and falls over 5 ms, so that a cut does not click.
    """
    found: list[Samples] = []
    rim = RATE // 200
    at_ms = 0.0
    done = 0
    for piece in pieces:
        at_ms += piece.to_ms - piece.from_ms
        # Counted from the beginning: a thousand cuts add no error.
        length = max(0, round(at_ms * RATE / 1000) - done)
        done += length
        begin = round(piece.from_ms * RATE / 1000)
        part = np.zeros(length, np.float32)
        there = piece.samples[begin : begin + length]
        part[: len(there)] = there
        slope = min(rim, length // 2)
        if slope:
            rise = np.linspace(0, 1, slope, dtype=np.float32)
            part[:slope] *= rise
            part[length - slope :] *= rise[::-1]
        found.append(part)
    return np.concatenate(found) if found else np.zeros(0, np.float32)


def voice(row: Sequence[Laid], recorded: Callable[[int], bytes]) -> Samples:
    """The sound of a talk, as it was spoken. recorded: what a browser recorded of a take."""
    takes = {take: decoded(recorded(take)) for take in {p.take for p in row}}
    return joined(SoundPiece(takes[p.take], p.from_ms, p.to_ms) for p in row)


def evened(samples: Samples) -> Samples:
    """The same sound at an even loudness, as long as before. Silence stays silence.

    By FFmpeg's filter loudnorm. Source: EBU R 128, Loudness normalisation; ITU-R BS.1770.
    """
    if samples.size < RATE // 2 or float(np.abs(samples).max()) < 10 ** (SILENCE_DB / 20):
        return samples
    graph = Graph()
    source = graph.add_abuffer(
        sample_rate=RATE, format="flt", layout="mono", time_base=Fraction(1, RATE)
    )
    even = graph.add("loudnorm", f"I={LOUDNESS_LUFS}:TP={PEAK_DB}:LRA={RANGE_LU}")
    form = graph.add("aformat", f"sample_fmts=flt:sample_rates={RATE}:channel_layouts=mono")
    sink = graph.add("abuffersink")
    source.link_to(even)
    even.link_to(form)
    form.link_to(sink)
    graph.configure()
    found: list[Samples] = []

    def drain() -> None:
        with suppress(av.error.BlockingIOError, av.error.EOFError):
            while True:
                frame = sink.pull()
                assert isinstance(frame, AudioFrame)  # nothing else went in
                found.append(frame.to_ndarray().reshape(-1).astype(np.float32))

    for frame in _frames(samples, RATE // 10, "flt"):
        source.push(frame)
        drain()
    source.push(None)
    drain()
    made = np.concatenate(found) if found else samples
    out = np.zeros(samples.size, np.float32)
    out[: min(len(made), samples.size)] = made[: samples.size]
    return out


def silent_ends(samples: Samples) -> tuple[float, float]:
    """Milliseconds of silence at the beginning and at the end, a quarter of a second left standing.

    (0, 0) for a sound that is silent throughout.
    """
    window = round(_WINDOW_S * RATE)
    count = samples.size // window
    if not count:
        return 0.0, 0.0
    power = np.sqrt((samples[: count * window].reshape(count, window) ** 2).mean(axis=1))
    loud = np.flatnonzero(power > 10 ** (SILENCE_DB / 20))
    if not loud.size:
        return 0.0, 0.0
    kept = 250.0
    before = 1000 * _WINDOW_S * float(loud[0])
    behind = 1000 * (samples.size / RATE - _WINDOW_S * float(loud[-1] + 1))
    return max(0.0, before - kept), max(0.0, behind - kept)


def _frames(samples: Samples, size: int, form: str) -> Iterator[AudioFrame]:
    for at in range(0, samples.size, size):
        part = np.ascontiguousarray(samples[at : at + size]).reshape(1, -1)
        frame = AudioFrame.from_ndarray(part, format=form, layout="mono")
        frame.sample_rate, frame.pts, frame.time_base = RATE, at, Fraction(1, RATE)
        yield frame


def aac_frames(samples: Samples) -> Iterator[AudioFrame]:
    """Frames for an AAC encoder, on their own clock from 0."""
    return _frames(samples, 1024, "fltp")


def write_sound(samples: Samples, out: Path) -> None:
    """AAC in MP4, which every browser plays and seeks in. Whole, or not there."""
    part = out.with_name(f"{out.name}.{os.getpid()}.part")
    try:
        with av.open(
            f"file:{part.resolve()}", "w", format="mp4", options={"movflags": "+faststart"}
        ) as target:
            voice = target.add_stream("aac", rate=RATE, layout="mono", bit_rate=96_000)
            for frame in aac_frames(samples):
                target.mux(voice.encode(frame))
            target.mux(voice.encode(None))
        os.replace(part, out)
    finally:
        part.unlink(missing_ok=True)
