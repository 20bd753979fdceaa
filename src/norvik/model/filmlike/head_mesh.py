"""The head: skull under its cap, brow, nose, lips and chin."""

from __future__ import annotations

import numpy as np

from norvik.model.filmlike.tube import Mesh, Points, unit

_AROUND, _RINGS = 40, 26
#: Half sizes of the skull in metres at a height of 1.78 m: along the axis, ahead, to the sides.
_LONG, _DEEP, _WIDE = 0.122, 0.098, 0.080


def head_mesh(j: dict[str, Points], size: float) -> list[Mesh]:
    """The head of a frame's joints."""
    axis = unit(j["crown"] - j["neck"])
    look = unit(j["face"] - axis * float(j["face"] @ axis))
    side = np.cross(axis, look)
    centre = j["crown"] - axis * _LONG * size
    # From the crown down, and round from behind the head over its left side.
    down = np.linspace(0.001, np.pi - 0.05, _RINGS)
    turn = 2 * np.pi * np.arange(_AROUND) / _AROUND + np.pi
    height, ring = np.cos(down)[:, None], np.sin(down)[:, None]
    ahead, aside = ring * np.cos(turn), ring * np.sin(turn)
    face = np.clip(ahead, 0, 1) ** 2
    grown = 1 + face * _features(height, aside)
    # The jaw is narrower than the skull, the back of the head rounder.
    narrow = 1 - 0.20 * np.clip(-height, 0, 1)
    deep = _DEEP * np.where(ahead > 0, 1.0, 1.06 - 0.25 * np.clip(-height, 0, 1))
    points = (
        centre
        + (size * _LONG * height * (1 + 0.02 * face))[..., None] * axis
        + (size * deep * ahead * grown)[..., None] * look
        + (size * _WIDE * aside * narrow)[..., None] * side
    )
    u = np.broadcast_to(np.arange(_AROUND + 1) / _AROUND, (_RINGS, _AROUND + 1))
    v = np.broadcast_to(np.linspace(0, 1, _RINGS)[:, None], (_RINGS, _AROUND + 1))
    return [Mesh(points, np.stack([u, v], axis=-1), "head")]


def _features(height: Points, aside: Points) -> Points:
    """How far the face stands out ahead of an egg, as a share. height: -1 chin to 1 crown."""

    def bump(at: float, tall: float, off: float, wide: float) -> Points:
        return np.exp(-(((height - at) / tall) ** 2) - ((np.abs(aside) - off) / wide) ** 2)

    return np.asarray(
        0.24 * bump(-0.20, 0.16, 0.0, 0.13)  # nose
        + 0.07 * bump(0.14, 0.10, 0.22, 0.30)  # brow
        - 0.10 * bump(0.02, 0.10, 0.40, 0.14)  # eyes
        + 0.06 * bump(-0.42, 0.07, 0.0, 0.22)  # lips
        + 0.10 * bump(-0.72, 0.16, 0.0, 0.28)  # chin
        + 0.05 * bump(0.06, 0.07, 0.36, 0.20),  # goggles
        np.float64,
    )
