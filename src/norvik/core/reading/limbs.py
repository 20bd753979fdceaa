"""Arms, legs and head of a followed swimmer against the own trunk, in trunk lengths.

A film from the side shows a lying body: what counts is how far along it and how far above it a
joint is. So a camera that is tilted, turned round or farther away changes nothing.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from norvik.core.strokes.names import Side

Series = NDArray[np.float64]

SIDES: tuple[Side, ...] = ("left", "right")
#: Joints of an arm and of a leg, the outer one first.
ARM, LEG = ("wrist", "elbow"), ("ankle", "knee")
#: An arm or a leg is no longer than this, in trunk lengths: farther is a mistake.
_ARM_MOST, _LEG_MOST = 1.7, 2.4
#: Frames (of 30 a second) over which the level of the hips is taken.
_LEVEL = 91


@dataclass(frozen=True, slots=True)
class Limbs:
    """Places in trunk lengths; nan where a joint was not found.

    arms: from the middle of the shoulders, legs: from the middle of the hips; shape (frames,
    left and right, 4): outer joint along and above the trunk, inner joint along and above it.
    feet, toes: height of both ankles and of both toes, shape (frames, 2), and head: of the nose,
    shape (frames,), in the picture over where the hips usually are. heading: 1 where the swimmer
    goes to the right of the picture, -1 to the left. trunk_px: usual length of the trunk.
    """

    arms: Series
    legs: Series
    feet: Series
    toes: Series
    head: Series
    heading: int
    trunk_px: float


def limbs_of(joints: Mapping[str, Series]) -> Limbs:
    """joints: name to pixels (x to the right, y down), shape (frames, 2).

    Raises KeyError where a joint is missing from the names.
    """
    shoulders = 0.5 * (joints["left_shoulder"] + joints["right_shoulder"])
    hips = 0.5 * (joints["left_hip"] + joints["right_hip"])
    trunk = shoulders - hips
    length = np.maximum(np.hypot(trunk[:, 0], trunk[:, 1]), 1e-6)
    along = trunk / length[:, None]
    heading = 1 if np.nanmedian(along[:, 0]) >= 0 else -1
    above = heading * np.stack([along[:, 1], -along[:, 0]], axis=1)
    usual = float(np.nanmedian(length))

    def place(joint: str, origin: Series, most: float) -> Series:
        moved = (joints[joint] - origin) / usual
        found = np.stack([np.sum(moved * along, 1), np.sum(moved * above, 1)], axis=1)
        found[np.hypot(found[:, 0], found[:, 1]) > most] = np.nan
        return found

    def both(parts: tuple[str, ...], origin: Series, most: float) -> Series:
        return np.stack(
            [
                np.concatenate([place(f"{side}_{p}", origin, most) for p in parts], axis=1)
                for side in SIDES
            ],
            axis=1,
        )

    level = _usually(hips[:, 1])

    def height(joint: str) -> Series:
        return (level - joints[joint][:, 1]) / usual

    def heights(joint: str) -> Series:
        return np.stack([height(f"{side}_{joint}") for side in SIDES], axis=1)

    return Limbs(
        both(ARM, shoulders, _ARM_MOST), both(LEG, hips, _LEG_MOST),
        heights("ankle"), heights("toe"), height("nose"), heading, usual,
    )  # fmt: skip


def _usually(values: Series) -> Series:
    """The mean over a few cycles around each frame: a body that undulates is its own no measure."""
    known = np.isfinite(values)
    kernel = np.ones(min(_LEVEL, len(values)))
    total = np.convolve(np.where(known, values, 0.0), kernel, "same")
    count = np.convolve(known.astype(float), kernel, "same")
    return np.where(count > 0, total / np.maximum(count, 1), np.nan)
