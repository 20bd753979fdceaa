"""What a clip's frames are measured against: horizontal, water line, scale, plane."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from norvik.core.errors import MeasureError
from norvik.core.frame.geometry import Point, above, distance, rise
from norvik.core.frame.lens import WATER_INDEX, Lens

#: Own choice: a reference line shorter than this says too little about directions.
LEAST_LINE_PX = 40.0
#: Common practice asks for a rectangle that is seen well; own limit on how flat it may appear.
_LEAST_AREA_PX2 = 400.0


def horizon_of(a: Point, b: Point, vertical: bool = False) -> float:
    """Degrees by which the picture's true horizontal climbs to the right, from two points on it.

    vertical: the points lie on something plumb instead. Raises MeasureError for points too near
    each other, or for a line more than 45 degrees off what it is said to be.
    """
    if distance(a, b) < LEAST_LINE_PX:
        raise MeasureError(f"Set the two points at least {LEAST_LINE_PX:.0f} pixels apart.")
    degrees = rise(a, b) - (90 if vertical else 0)
    # A line has no direction: both ways of setting it say the same.
    degrees = (degrees + 90) % 180 - 90
    if abs(degrees) > 45:
        word = "vertical" if vertical else "horizontal"
        raise MeasureError(f"This line is nearer the other way than {word}. Set it again.")
    return degrees


@dataclass(frozen=True, slots=True)
class Scale:
    """Metres a pixel in one plane. It holds in that plane alone.

    u: relative standard uncertainty, from the two clicks.
    """

    metres_per_px: float
    u: float

    @classmethod
    def between(cls, a: Point, b: Point, metres: float, error_px: float) -> Scale:
        """From two points of known distance, above 0 m (MeasureError otherwise)."""
        if not (math.isfinite(metres) and metres > 0):
            raise MeasureError("Give the distance of the two points in metres, above 0.")
        pixels = distance(a, b)
        if pixels < LEAST_LINE_PX:
            raise MeasureError(f"Set the two points at least {LEAST_LINE_PX:.0f} pixels apart.")
        return cls(metres / pixels, math.sqrt(2) * error_px / pixels)


@dataclass(frozen=True)
class Plane:
    """A plane seen at a slant, from four corners of a known rectangle.

    matrix: shape (3, 3), source pixels to metres in the plane. Plane case of the direct linear
    transformation (Abdel-Aziz and Karara 1971).
    """

    matrix: NDArray[np.float64]

    @classmethod
    def through(cls, corners: Sequence[Point], width_m: float, height_m: float) -> Plane:
        """corners: top left, top right, bottom right, bottom left of the rectangle.

        Raises MeasureError for other than four, for sides that are not above 0 m, or where three
        corners lie on one line or the rectangle is crossed.
        """
        if len(corners) != 4:
            raise MeasureError("A plane needs the four corners of a rectangle.")
        if not (width_m > 0 and height_m > 0 and math.isfinite(width_m * height_m)):
            raise MeasureError("Give both sides of the rectangle in metres, above 0.")
        turns = [
            (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x)
            for a, b, c in zip(corners, [*corners[1:], corners[0]],
                               [*corners[2:], *corners[:2]], strict=True)
        ]  # fmt: skip
        if min(abs(t) for t in turns) < _LEAST_AREA_PX2 or len({t > 0 for t in turns}) > 1:
            raise MeasureError(
                "These four points are no rectangle seen from the side. Set them in turn: top "
                "left, top right, bottom right, bottom left."
            )
        targets = ((0.0, 0.0), (width_m, 0.0), (width_m, height_m), (0.0, height_m))
        # Pixels are brought near 1 first, so that no product outweighs the others.
        size = max(max(abs(p.x), abs(p.y)) for p in corners) or 1.0
        rows = []
        for (x, y), (u, v) in zip(corners, targets, strict=True):
            x, y = x / size, y / size
            rows.append([x, y, 1, 0, 0, 0, -u * x, -u * y, -u])
            rows.append([0, 0, 0, x, y, 1, -v * x, -v * y, -v])
        _, _, vectors = np.linalg.svd(np.array(rows, dtype=np.float64))
        matrix = vectors[-1].reshape(3, 3) @ np.diag([1 / size, 1 / size, 1.0])
        return cls(matrix / matrix[2, 2])

    def metres(self, p: Point) -> tuple[float, float]:
        """Where a point of the plane lies, metres from the first corner, right and down."""
        u, v, w = self.matrix @ (p.x, p.y, 1.0)
        if abs(w) < 1e-12:
            raise MeasureError("This point lies on the plane's own horizon and has no distance.")
        return float(u / w), float(v / w)

    def distance_m(self, a: Point, b: Point) -> float:
        """Metres between two points of the plane."""
        (ax, ay), (bx, by) = self.metres(a), self.metres(b)
        return math.hypot(bx - ax, by - ay)


@dataclass(frozen=True, slots=True)
class References:
    """What a clip's frames are measured against, as it was clicked; empty where nothing was set.

    level: two points on something level, or plumb (level_plumb). water: two points on the surface.
    scale: two points, scale_m apart. plane: four corners of a rectangle of plane_m metres, its
    width and height. in_air: the scale or plane was set above the surface. lens: of the camera;
    None where nothing is known of it.
    """

    level: tuple[Point, ...] = ()
    level_plumb: bool = False
    water: tuple[Point, ...] = ()
    scale: tuple[Point, ...] = ()
    scale_m: float = 0.0
    plane: tuple[Point, ...] = ()
    plane_m: tuple[float, float] = (0.0, 0.0)
    in_air: bool = False
    lens: Lens | None = None

    @property
    def clicks(self) -> tuple[Point, ...]:
        """All points that were set, for what their own error does to a measure."""
        return (*self.level, *self.water, *self.scale, *self.plane)

    def moved(self, clicks: Sequence[Point]) -> References:
        """The same references through other points, in the order of `clicks`."""
        ends = iter(clicks)
        taken = {
            name: tuple(next(ends) for _ in getattr(self, name))
            for name in ("level", "water", "scale", "plane")
        }
        return replace(self, **taken)  # type: ignore[arg-type]

    def corrected(self, lens: Lens | None) -> References:
        """The same references where a straight lens would show them, with no lens to correct."""
        if lens is None or not self.clicks:
            return self
        return replace(self.moved([lens.correct(p) for p in self.clicks]), lens=None)

    @property
    def horizon_deg(self) -> float:
        """How far the true horizontal climbs to the right; the surface says it where no line does.

        0 where neither was set: the camera is taken to be level.
        """
        if self.level:
            return horizon_of(self.level[0], self.level[1], self.level_plumb)
        if self.water:
            return horizon_of(self.water[0], self.water[1])
        return 0.0

    def below_water(self, p: Point) -> float:
        """Pixels by which p lies below the surface. Raises MeasureError where it was not set."""
        if not self.water:
            raise MeasureError("Set the water line first: two points on the surface.")
        tilt = math.radians(horizon_of(self.water[0], self.water[1]))
        a = self.water[0]
        return (p.y - a.y) * math.cos(tilt) + (p.x - a.x) * math.sin(tilt)

    def metres(self, a: Point, b: Point) -> float:
        """Metres between two points in the plane that the scale was set in.

        Raises MeasureError where neither a scale nor a plane was set.
        """
        if self.plane:
            return Plane.through(self.plane, *self.plane_m).distance_m(a, b)
        if self.scale:
            return (
                distance(a, b)
                * Scale.between(self.scale[0], self.scale[1], self.scale_m, 0.0).metres_per_px
            )
        raise MeasureError(
            "No scale is set in this clip. Set two points of known distance in the plane of the "
            "movement, or measure in forearms instead."
        )

    def height(self, a: Point, b: Point) -> float:
        """Pixels by which a lies higher than b, across the true horizontal."""
        return above(a, b, self.horizon_deg)


def warnings(references: References, view: str) -> list[str]:
    """What has to be said beside measures that use these references."""
    said = []
    if references.scale:
        said.append(
            "The scale holds in the plane it was set in. Half a metre behind the swimmer it makes "
            "lengths 25 % too long at 2 m from the camera, 17 % at 3 m and 10 % at 5 m; half a "
            "metre in front as much too short."
        )
    if references.plane:
        said.append("The rectangle gives metres on its own plane (the wall, the floor) alone.")
    if (references.scale or references.plane) and references.in_air and view.endswith("under"):
        said.append(
            "The scale was set in air, but this clip is filmed under water, where everything looks "
            f"about {WATER_INDEX:.2f} times larger: lengths come out too long. Set it under water."
        )
    return said
