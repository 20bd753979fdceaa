"""Where in its cycle a limb is, frame by frame: the likeliest way through a template.

A template is how a limb moves in one cycle of a stroke, in so many steps. The way goes on with the
clock, may hurry and linger a little, and treats what does not fit as seen wrongly: so an arm that
is hidden, or taken for the other one, does not lead it astray.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Series = NDArray[np.float64]
Counts = NDArray[np.int64]

#: How far the far arm may be behind the near one, in cycles.
LAGS = tuple(round(0.34 + 0.02 * n, 2) for n in range(17))
#: A joint farther off than this many spreads says nothing (squared).
_OUTLIER = 6.0
#: The far limb is hidden half of the time: it counts for less.
_FAR = 0.5
#: How much the speed through the cycle varies, as a share of the usual one.
_HURRY = 0.45
#: What a step with an unlikely speed costs, against a joint that is off by its spread: as free as
#: it may be, and closer.
_CLOCKS = (0.7, 3.0, 12.0)
#: A way whose cycle differs by more than this share has lost or won one.
_SLIPPED = 0.06


@dataclass(frozen=True, slots=True)
class Template:
    """near, far: usual places of a limb (its four numbers, see Limbs) at each step, shape
    (steps, 4); spread: how much they vary. events: event to its place in the cycle, 0 to 1.
    """

    near: Series
    far: Series
    spread: Series
    events: dict[str, float]

    @property
    def steps(self) -> int:
        return len(self.near)


@dataclass(frozen=True, slots=True)
class PhasePath:
    """phase: cycles since the first frame, growing, shape (frames,); of the near limb.

    lag: cycles by which the far limb is behind it (0 where both move together). near, far: what
    each of them was in the frame, shape (frames, 4), nan where it was not seen. crossed: whether
    the near one was called right there, shape (frames,). total: what the whole way costs a frame.
    """

    phase: Series
    lag: float
    near: Series
    far: Series
    crossed: NDArray[np.bool_]
    total: float


def phase_path(
    limbs: Series, template: Template, cycle_s: float, seconds_apart: float, alternating: bool
) -> PhasePath:
    """limbs: shape (frames, left and right, 4), nan where not seen, evenly apart.

    cycle_s: seconds of a cycle. A way that comes out with another one has gone astray: it is
    looked for again, held more closely to the clock.
    """
    path = None
    for clock in _CLOCKS:
        path = _path(limbs, template, cycle_s / seconds_apart, alternating, clock)
        turned = (path.phase[-1] - path.phase[0]) / max(1, len(path.phase) - 1)
        if abs(turned * cycle_s / seconds_apart - 1) <= _SLIPPED:
            break
    assert path is not None  # there are clocks
    return path


def _path(
    limbs: Series, template: Template, frames_a_cycle: float, alternating: bool, clock: float
) -> PhasePath:
    near = [misfit(limbs[:, side], template.near, template.spread) for side in (0, 1)]
    far = [misfit(limbs[:, side], template.far, template.spread) for side in (0, 1)]
    seen = np.asarray(np.isfinite(limbs).any(axis=(1, 2)), np.bool_)
    lags = LAGS if alternating else (0.0,)
    steps = template.steps
    emitted: list[Series] = []
    swapped: list[NDArray[np.bool_]] = []
    for lag in lags:
        # The far limb does now what the near one did a lag ago.
        behind = [_FAR * np.roll(one, round(lag * steps), axis=1) for one in far]
        straight, crossed = near[0] + behind[1], near[1] + behind[0]
        emitted.append(np.where(seen[:, None], np.minimum(straight, crossed), 0.0))
        swapped.append(np.asarray(crossed < straight, np.bool_))
    ways, totals = likeliest(np.stack(emitted), steps / frames_a_cycle, clock)
    best = int(np.argmin(totals))
    way = ways[best]
    frames, at = np.arange(len(way)), way % steps
    turned = swapped[best][frames, at]
    ones = np.where(turned[:, None], limbs[:, 1], limbs[:, 0])
    others = np.where(turned[:, None], limbs[:, 0], limbs[:, 1])
    return PhasePath(way / steps, lags[best], ones, others, turned, float(totals[best]) / len(way))


def misfit(limb: Series, usual: Series, spread: Series) -> Series:
    """How badly each row of a limb fits each step of a template, shape (rows, steps)."""
    off = (limb[:, None] - usual[None]) / spread[None]
    found = np.zeros(off.shape[:2])
    for joint in (off[..., :2], off[..., 2:]):
        square = np.sum(joint**2, axis=-1)
        found += np.where(np.isfinite(square), np.minimum(square, _OUTLIER), _OUTLIER / 2)
    return found


def likeliest(
    emitted: Series, usual: float, clock: float = _CLOCKS[0], hurry: float = _HURRY
) -> tuple[Counts, Series]:
    """The way of least cost for each layer, in steps that grow, and what it costs.

    emitted: shape (layers, frames, steps). usual: steps a frame.
    """
    layers, frames, steps = emitted.shape
    moves = np.arange(0, int(np.ceil(usual * 2.6)) + 1)
    price = clock * ((moves - usual) / (hurry * usual)) ** 2
    total = emitted[:, 0].copy()
    came = np.zeros((frames, layers, steps), np.int16)
    for n in range(1, frames):
        options = np.stack([np.roll(total, m, axis=1) + price[m] for m in moves])
        which = np.argmin(options, axis=0)
        came[n] = which
        total = np.take_along_axis(options, which[None], axis=0)[0] + emitted[:, n]
    ways = np.zeros((layers, frames), np.int64)
    for layer in range(layers):
        way = ways[layer]
        way[-1] = int(np.argmin(total[layer]))
        for n in range(frames - 1, 0, -1):
            way[n - 1] = way[n] - came[n, layer, way[n] % steps]
        way -= (way[0] // steps) * steps
    return ways, total.min(axis=1)
