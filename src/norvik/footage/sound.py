"""The sound of a recording, kept in a file of its own on the recording's real clock.

The review copy's clock counts frames and means nothing, so sound cannot lie in it.
"""

from __future__ import annotations

import os
from contextlib import suppress
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.audio.resampler import AudioResampler
from av.container import InputContainer, OutputContainer
from numpy.typing import NDArray

from norvik.footage.opening import open_footage

_RATE = 44_100


def extract_sound(source_path: Path, out: Path, first_s: float) -> bool:
    """Write the sound of a recording as AAC in MP4; False when it has none that can be read.

    first_s: time of the first picture on the file's clock; the sound of that moment comes first.
    """
    part = out.with_name(out.name + ".part")
    try:
        with open_footage(source_path) as source:
            if not source.container.streams.audio:
                return False
            options = {"movflags": "+faststart"}
            with av.open(f"file:{part.resolve()}", "w", format="mp4", options=options) as target:
                if not _encode(source.container, target, first_s):
                    return False
        os.replace(part, out)
    except av.error.FFmpegError as error:
        # A full disk has to stop the job; sound that cannot be read is only not there.
        if isinstance(error, OSError) and error.errno == 28:
            raise
        return False
    finally:
        with suppress(FileNotFoundError):
            part.unlink()
    return True


def _encode(source: InputContainer, target: OutputContainer, first_s: float) -> bool:
    stream = source.streams.audio[0]
    voice = target.add_stream("aac", rate=_RATE, layout="mono", bit_rate=64_000)
    resampler = AudioResampler(format="fltp", layout="mono", rate=_RATE)
    done = 0
    for packet in source.demux(stream):
        try:
            frames = packet.decode()
        except av.error.FFmpegError:
            continue  # a damaged piece: what follows keeps its own time
        for frame in frames:
            if frame.pts is None or frame.time_base is None:
                continue
            start = round((float(frame.pts * frame.time_base) - first_s) * _RATE)
            for piece in resampler.resample(frame):
                # The encoder wants times that grow; a piece before the first picture goes.
                if start + piece.samples <= 0 or start < done:
                    start += piece.samples
                    if start <= done:
                        continue
                piece.pts, piece.time_base = max(start, done), Fraction(1, _RATE)
                done = piece.pts + piece.samples
                start = done
                target.mux(voice.encode(piece))
    if done:
        target.mux(voice.encode(None))
    return done > 0


def read_sound(path: Path, rate_hz: int) -> NDArray[np.float64]:
    """The samples of a sound file, shape (n,), -1 to 1, one channel at so many a second.

    What comes before its clock's zero is left out, and a gap is silence: sample n belongs to
    n / rate_hz seconds. Raises av.error.FFmpegError for a file that cannot be read.
    """
    pieces: list[tuple[int, NDArray[np.float64]]] = []
    with av.open(f"file:{path.resolve()}") as source:
        resampler = AudioResampler(format="fltp", layout="mono", rate=rate_hz)
        for frame in source.decode(audio=0):
            if frame.pts is None or frame.time_base is None:
                continue
            start = round(float(frame.pts * frame.time_base) * rate_hz)
            for piece in resampler.resample(frame):
                pieces.append((start, np.asarray(piece.to_ndarray()[0], np.float64)))
                start += piece.samples
    if not pieces:
        return np.zeros(0)
    made = np.zeros(max(0, max(start + len(piece) for start, piece in pieces)))
    for start, samples in pieces:
        kept = samples[max(0, -start) :]
        made[max(0, start) : max(0, start) + len(kept)] = kept
    return made
