"""Water: its waves, the light that they gather below, and what the way through it takes away."""

from __future__ import annotations

from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float32]
#: Edge of the caustics' picture in pixels and in metres; it repeats.
_PX, _M = 512, 2.2
#: What a metre of water takes of blue, green and red, as exponents (own choice: a clean pool as a
#: camera that balances its colours sees it).
_TAKES = np.array([0.020, 0.035, 0.150], np.float32)
#: Colour of a hall's ceiling in the water, and of the open sky, B, G, R.
_CEILING = np.array([246.0, 240.0, 230.0], np.float32)
_SKY = np.array([252.0, 216.0, 172.0], np.float32)
#: How strongly water bends light.
REFRACTS = 1.333
#: Toward the sun, or the brightest lamps of a hall.
SUN = np.array([-0.30, -0.42, 0.86], np.float32) / np.float32(np.sqrt(0.30**2 + 0.42**2 + 0.86**2))
#: Colour of much water, B, G, R.
DEEP = np.array([168.0, 138.0, 48.0], np.float32)


@lru_cache(maxsize=2)
def caustics(seed: int = 3) -> Floats:
    """Light gathered by waves, mean about 0.3, up to 1, shape (512, 512); repeats at its edges.

    Bright lines where two neighbouring bulges of the surface throw their light: the borders of
    the cells round scattered points.
    """
    rng = np.random.default_rng(seed)
    spots = rng.random((70, 2)) * _PX
    y, x = np.mgrid[0:_PX, 0:_PX].astype(np.float32)
    nearest = np.full((_PX, _PX), 1e9, np.float32)
    second = nearest.copy()
    for sx, sy in spots:
        dx, dy = np.abs(x - sx), np.abs(y - sy)
        away = np.hypot(np.minimum(dx, _PX - dx), np.minimum(dy, _PX - dy))
        second = np.minimum(second, np.maximum(nearest, away))
        nearest = np.minimum(nearest, away)
    lines = np.exp(-(second - nearest) / 7.0)
    reach = 6
    wide = cv2.copyMakeBorder(lines, reach, reach, reach, reach, cv2.BORDER_WRAP)
    return np.asarray(cv2.GaussianBlur(wide, (0, 0), 1.2)[reach:-reach, reach:-reach], np.float32)


def gathered(x_m: Floats, y_m: Floats, time_s: float) -> Floats:
    """Caustics at places of the pool at an instant, shape of x_m: two sheets that drift apart."""
    picture = caustics()
    scale = _PX / _M
    sheets: list[Floats] = []
    shape = x_m.shape
    # cv2 remaps pictures, not long lists.
    wide = 512 if x_m.ndim == 1 else shape[1]
    rows = -(-x_m.size // wide)
    flat_x, flat_y = (np.resize(v, (rows, wide)) for v in (x_m, y_m))
    for drift_x, drift_y, size in ((0.16, 0.05, 1.0), (-0.11, 0.13, 1.31)):
        u = np.mod((flat_x * size + drift_x * time_s) * scale, _PX).astype(np.float32)
        v = np.mod((flat_y * size + drift_y * time_s) * scale, _PX).astype(np.float32)
        sheet = cv2.remap(picture, u, v, cv2.INTER_LINEAR, borderMode=cv2.BORDER_WRAP)
        sheets.append(np.asarray(sheet, np.float32))
    found = np.minimum(*sheets) * 1.6 + 0.15 * sheets[1]
    return np.clip(found, 0, 1).astype(np.float32).ravel()[: x_m.size].reshape(shape)


def sky(sun: float) -> Floats:
    """Colour of what is over the water, B, G, R. sun: 0 in a hall to 1 in the open air."""
    return np.asarray(_CEILING * (1 - sun) + _SKY * sun, np.float32)


def through(colour: Floats, way_m: Floats, haze: float) -> Floats:
    """Colours (..., 3) after a way through water, metres. haze: 0 clear to 1 murky."""
    left = np.exp(-way_m[..., None] * (_TAKES + 0.22 * haze))
    veil = np.exp(-way_m * (0.075 + 0.30 * haze))[..., None]
    return np.asarray(colour * left * veil + DEEP * (1 - veil), np.float32)


def slopes(x_m: Floats, y_m: Floats, time_s: float) -> tuple[Floats, Floats]:
    """How steep the waves are, along the lane and across it."""
    step = np.float32(0.03)
    here = swell(x_m, y_m, time_s)
    return (
        (swell(x_m + step, y_m, time_s) - here) / step,
        (swell(x_m, y_m + step, time_s) - here) / step,
    )


def sky_on(slope_across: Floats) -> Floats:
    """Share of the sky in what is seen of the surface from above, 0..0.75."""
    glint = 0.04 + 0.5 * np.clip(slope_across, 0, 1) + 2.2 * np.clip(slope_across - 0.16, 0, 1)
    return np.asarray(np.clip(glint, 0, 0.75), np.float32)


def swell(x_m: Floats, y_m: Floats, time_s: float) -> Floats:
    """Height of the pool's surface over its level, metres: small crossing waves."""
    return np.asarray(
        0.010 * np.sin(5.1 * x_m + 1.3 * y_m - 6.9 * time_s)
        + 0.007 * np.sin(9.7 * x_m - 4.2 * y_m + 9.3 * time_s)
        + 0.004 * np.sin(19.0 * x_m + 7.5 * y_m + 13.0 * time_s),
        np.float32,
    )
