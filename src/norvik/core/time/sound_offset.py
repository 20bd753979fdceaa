"""How far two recordings of one swim are apart, by their sound.

A clap, a splash or a voice comes to both microphones. What is compared is how fast the loudness
rises, not the waves themselves: microphones in air and in water hear other tones, and the same
beginnings.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Samples = NDArray[np.float64]

#: Steps a second in which loudness is compared: finer than a frame at 240 frames a second.
STEPS_PER_S = 500
#: Own choice: a second likeness farther away than this is another one, in seconds.
_APART_S = 0.08
#: Own choice: the best likeness has to be so much higher than the next best one.
CLEAR = 1.25
#: Own choice: a likeness below this is chance.
LEAST = 0.15
#: Own choice: one that is to be believed reaches this. Of 20 pairs of other swims the best offset
#: reached 0.44, of the same swim under loud noise 0.58.
SURE = 0.5
#: Own choice: so much of both recordings has to lie on each other, in seconds.
_OVERLAP_S = 1.0


@dataclass(frozen=True, slots=True)
class SoundOffset:
    """later_s: seconds on the other film's clock minus those on the first one's at one instant.

    likeness: 0 to 1. clear: is it high, and well above every other offset?
    """

    later_s: float
    likeness: float
    clear: bool


def onsets(samples: Samples, rate_hz: int) -> Samples:
    """How much louder it becomes in each step of 1 / STEPS_PER_S s. samples: shape (n,), any unit.

    Loudness is taken as a logarithm, so that a near splash does not hide a far clap.
    """
    width = rate_hz // STEPS_PER_S
    count = len(samples) // width
    if count < 2:
        return np.zeros(0)
    power = (samples[: count * width].reshape(count, width) ** 2).mean(axis=1)
    # Over five steps, so that single waves of a low tone are no beginnings.
    smooth = np.convolve(power, np.full(5, 0.2), "same")
    floor = max(float(np.median(smooth)), 1e-12 * float(smooth.max(initial=0.0)), 1e-30)
    loud = np.log10(smooth / floor + 1)
    return np.asarray(np.clip(np.diff(loud, prepend=loud[0]), 0, None), np.float64)


def sound_offset(
    one: Samples, other: Samples, rate_hz: int, most_s: float = 60.0
) -> SoundOffset | None:
    """The offset at which the beginnings of sounds lie on each other best.

    one, other: shape (n,), samples of both from their film's first frame on. most_s: offsets beyond
    are not tried. None where one of them is silent, too short, or nothing fits.
    """
    a, b = onsets(one, rate_hz), onsets(other, rate_hz)
    least = round(_OVERLAP_S * STEPS_PER_S)
    if len(a) < least or len(b) < least or not a.any() or not b.any():
        return None
    a, b = a - a.mean(), b - b.mean()
    size = 1 << (len(a) + len(b) - 1).bit_length()
    # Cross-correlation by Fourier transform: b[n + shift] against a[n].
    both = np.fft.irfft(np.conj(np.fft.rfft(a, size)) * np.fft.rfft(b, size), size)
    shifts = np.arange(-(len(a) - least), len(b) - least + 1)
    shifts = shifts[np.abs(shifts) <= most_s * STEPS_PER_S]
    energy_a, energy_b = (
        np.concatenate([[0], np.cumsum(a**2)]),
        np.concatenate([[0], np.cumsum(b**2)]),
    )
    first, last = np.maximum(0, -shifts), np.minimum(len(a), len(b) - shifts)
    there = (energy_a[last] - energy_a[first]) * (
        energy_b[last + shifts] - energy_b[first + shifts]
    )
    # By the whole energy as well: a short overlap of two quiet stretches is not alike.
    whole = float(energy_a[-1] * energy_b[-1])
    likeness = both[shifts % size] / np.sqrt(np.maximum(there, 0.3 * whole))
    best = int(likeness.argmax())
    top = float(likeness[best])
    if top < LEAST:
        return None
    away = np.abs(shifts - shifts[best]) > _APART_S * STEPS_PER_S
    next_best = float(likeness[away].max(initial=0.0))
    clear = top >= max(SURE, CLEAR * next_best)
    return SoundOffset(float(shifts[best]) / STEPS_PER_S, min(1.0, top), clear)
