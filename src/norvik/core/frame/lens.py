"""How a camera bends straight lines, and how points are put where a straight lens would show them.

One parameter tells it: a point at the distance r from the middle of the picture belongs at
r / (1 + k r2), with r in halves of the picture's longer side (division model: Fitzgibbon 2001, CVPR
1:125-132). k below 0 is a barrel, as wide lenses and action cameras have it. It is found from lines
that are known to be straight in the pool: a lane rope, a joint of the tiles, the edge of the wall.

A flat port under water bends light on top of it, more the farther out (Snell's law). Its share is
computed from the lens's angle of view; a dome port bends nothing.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point, distance

Housing = Literal["none", "flat", "dome"]
#: Refractive index of water.
WATER_INDEX = 1.333
#: Own choice: what is taken for the angle of view across the longer side where nobody has said it.
USUAL_VIEW_DEG = 66.0
#: A bend beyond these is no lens.
K_RANGE = (-0.6, 0.4)
#: Own choice: beyond this share of the way from the middle to a corner an unknown lens may bend.
RIM = 2 / 3
#: Own choice: clicked nearer together than this share of the longer side, a line tells nothing.
_LEAST_SHARE = 0.3


@dataclass(frozen=True, slots=True)
class Lens:
    """A camera's picture of width x height pixels, upright.

    k: see above; u_k: its standard uncertainty; 0 and 0 where no line was checked. view_deg: angle
    of view across the longer side, in air.
    """

    width: int
    height: int
    k: float = 0.0
    u_k: float = 0.0
    housing: Housing = "none"
    view_deg: float = USUAL_VIEW_DEG

    @property
    def middle(self) -> Point:
        return Point(self.width / 2, self.height / 2)

    @property
    def half(self) -> float:
        """Half of the longer side, pixels."""
        return max(self.width, self.height) / 2

    @property
    def focal_px(self) -> float:
        """Distance from the lens at which a pixel of the picture would be as large as it looks."""
        return self.half / math.tan(math.radians(self.view_deg / 2))

    @property
    def straight(self) -> bool:
        """Does nothing have to be corrected?"""
        return self.k == 0 and self.housing != "flat"

    def correct(self, p: Point) -> Point:
        """Where a straight lens would show a point."""
        if self.straight:
            return p
        middle = self.middle
        x, y = p.x - middle.x, p.y - middle.y
        r = math.hypot(x, y) / self.half
        if r == 0:
            return p
        to = r / max(0.05, 1 + self.k * r * r)
        if self.housing == "flat":
            tangent = to * self.half / self.focal_px
            sine = tangent / math.hypot(1, tangent) / WATER_INDEX
            # Scaled so that the middle of the picture stays as it is.
            to = WATER_INDEX * sine / math.sqrt(1 - sine * sine) * self.focal_px / self.half
        return Point(middle.x + x * to / r, middle.y + y * to / r)

    def beyond(self, p: Point) -> float:
        """How far out a point lies: 0 in the middle, 1 in a corner."""
        return distance(p, self.middle) / math.hypot(self.middle.x, self.middle.y)


#: A picture that nobody knows anything of: full high definition, the usual angle of view.
NO_CAMERA = Lens(1920, 1080)


@dataclass(frozen=True, slots=True)
class Straightness:
    """What lines that are straight in the pool say of a lens.

    bend_px: how far the worst of them is from straight, as clicked. left_px: when corrected.
    """

    lens: Lens
    bend_px: float
    left_px: float

    @property
    def bends(self) -> bool:
        """Is the bend more than the clicks can be off?"""
        return abs(self.lens.k) > 2 * self.lens.u_k


def check_lines(lines: Sequence[Sequence[Point]], lens: Lens, error_px: float) -> Straightness:
    """Find k from lines of three points or more each.

    lens: of the camera, its own k not used. error_px: standard error of a click. Raises
    MeasureError for lines that cannot tell.
    """
    if not lines or any(len(line) < 3 for line in lines):
        raise MeasureError("Click at least three points along a line that is straight in the pool.")
    for line in lines:
        if distance(line[0], line[-1]) < _LEAST_SHARE * 2 * lens.half:
            raise MeasureError(
                "This line is too short to tell a bend. Click points from one side of the picture "
                "to the other."
            )
        ends = line[0], line[-1]
        if min(distance(p, e) for p in line[1:-1] for e in ends) < 0.02 * lens.half:
            raise MeasureError("Spread the points along the line: two of them are on one place.")
    k = _best(lines, lens)
    found = replace(lens, k=k)
    step = 1e-4
    slope = (_off(lines, replace(lens, k=k + step)) - _off(lines, replace(lens, k=k - step))) / (
        2 * step
    )
    steep = float(slope @ slope)
    if steep < 1e-6:
        raise MeasureError(
            "This line goes through the middle of the picture, where no lens bends it. Click one "
            "that runs along the rim."
        )
    off = _off(lines, found)
    dof = sum(len(line) - 2 for line in lines) - 1
    # Points that fit worse than clicks do are a line that was not straight, or another lens.
    spread = max(error_px, math.sqrt(float(off @ off) / dof)) if dof > 0 else error_px
    found = replace(found, u_k=spread / math.sqrt(steep))
    bent = np.abs(_off(lines, replace(lens, k=0.0, housing="none"))).max()
    return Straightness(found, float(bent), float(np.abs(off).max()))


def _best(lines: Sequence[Sequence[Point]], lens: Lens) -> float:
    """The k that leaves the lines as straight as can be: golden section, then Newton's steps."""

    def cost(k: float) -> float:
        off = _off(lines, replace(lens, k=k))
        return float(off @ off)

    grid = np.linspace(*K_RANGE, 51)
    costs = [cost(float(k)) for k in grid]
    at = int(np.argmin(costs))
    low, high = float(grid[max(0, at - 1)]), float(grid[min(len(grid) - 1, at + 1)])
    ratio = (math.sqrt(5) - 1) / 2
    for _ in range(60):
        a, b = high - ratio * (high - low), low + ratio * (high - low)
        if cost(a) < cost(b):
            high = b
        else:
            low = a
    return (low + high) / 2


def _off(lines: Sequence[Sequence[Point]], lens: Lens) -> NDArray[np.float64]:
    """Of every point the distance from its line's best straight line, in pixels of the picture."""
    found = []
    for line in lines:
        points = np.array([lens.correct(p) for p in line])
        centred = points - points.mean(0)
        _, _, vectors = np.linalg.svd(centred)
        # The decomposition leaves open which way the line points; off to its left is positive, so
        # that what two lenses leave can be subtracted.
        ends = points[-1] - points[0]
        along = vectors[0] if vectors[0] @ ends >= 0 else -vectors[0]
        # A lens that is bent back makes everything larger, and with it what is left.
        larger = np.linalg.norm(ends) / distance(line[0], line[-1])
        found.append(centred @ np.array([-along[1], along[0]]) / larger)
    return np.concatenate(found)
