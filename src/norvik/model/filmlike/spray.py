"""Air in water and water in air: splash, foam, bubbles from hands, feet and mouth.

Every drop and bubble is known from the instant at which it began, so that a frame shows the same
whenever it is painted.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.core.strokes.names import Side, side_of
from norvik.model.body import Pose
from norvik.model.camera import Camera
from norvik.model.schedule import Schedule

Points = NDArray[np.float64]
Image = NDArray[np.uint8]
_G = 9.81
#: Seconds that bubbles and foam stay.
_STAYS_S = 0.8
#: Of so many instants a second bubbles and foam begin.
_EVERY_S = 1 / 60


@dataclass(frozen=True, slots=True)
class Specks:
    """Drops or bubbles of an instant: metres from the swimmer (n, 3), half size in metres, and how
    much of the light they throw back, 0..1.
    """

    at: Points
    size_m: NDArray[np.float64]
    white: NDArray[np.float64]


#: Seconds for which a hand drags air along after it went in.
_DRAGGED_S = 0.34
#: Seconds for which foam at a joint stays.
_FOAM_S = 0.5
#: Joints that leave air behind: how deep they still do, specks at a time, spread in metres, white.
_TRAILS = (
    ("left_toe", 0.10, 5, 0.030, 0.50), ("right_toe", 0.10, 5, 0.030, 0.50),
    ("left_fingertip", 0.26, 3, 0.014, 0.40), ("right_fingertip", 0.26, 3, 0.014, 0.40),
    ("left_shoulder", 0.05, 2, 0.040, 0.35), ("right_shoulder", 0.05, 2, 0.040, 0.35),
    ("crown", 0.08, 3, 0.040, 0.40),
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Trail:
    """Air that a joint leaves: when, where, how it spreads, and how far the swimmer was then."""

    born_s: Points
    spots: Points
    travelled_m: Points
    spread: Points
    size_m: Points
    white: float
    times_s: Points
    swum_m: Points

    def at(self, time_s: float) -> Specks | None:
        """What of it is there at an instant."""
        first, last = np.searchsorted(self.born_s, [time_s - _FOAM_S, time_s])
        if first == last:
            return None
        now = slice(int(first), int(last))
        age = (time_s - self.born_s[now])[:, None]
        here = float(np.interp(time_s, self.times_s, self.swum_m))
        at = self.spots[now][:, None] + self.spread[now] * (1 + 3.6 * age)[..., None]
        at[..., 0] -= here - self.travelled_m[now][:, None]
        at[..., 2] = np.minimum(at[..., 2] + 0.22 * age, -0.004)
        white = np.broadcast_to(self.white * (1 - age / _FOAM_S), at.shape[:2])
        return Specks(at.reshape(-1, 3), self.size_m[now].ravel(), white.ravel())


class Spray:
    """All of a swim. joints: of frames at times_s. travelled_m: of the swimmer at them."""

    def __init__(
        self, plan: Schedule, joints: Pose, times_s: Points, travelled_m: Points, speed_m_s: float
    ) -> None:
        self._plan, self._joints = plan, joints
        self._times, self._travelled, self._speed = times_s, travelled_m, speed_m_s
        self._all_trails = [self._trail(*where) for where in _TRAILS]

    def specks(self, n: int) -> Specks:
        """What flies and floats in frame n."""
        time_s = float(self._times[n])
        parts = [*self._entries(time_s), *self._trails(time_s), *self._breath(time_s)]
        if not parts:
            empty = np.zeros(0)
            return Specks(np.zeros((0, 3)), empty, empty)
        return Specks(
            np.concatenate([s.at for s in parts]), np.concatenate([s.size_m for s in parts]),
            np.concatenate([s.white for s in parts]),
        )  # fmt: skip

    def _where(self, joint: str, time_s: float) -> Points:
        """A joint at an instant between frames, and before the first one as if it stood."""
        path = self._joints[joint]
        return np.array([np.interp(time_s, self._times, path[:, k]) for k in range(3)])

    def _left_behind(self, since_s: float, now_s: float) -> float:
        """Metres that the swimmer has come on since an instant."""
        then, now = np.interp([since_s, now_s], self._times, self._travelled)
        before = max(0.0, float(self._times[0]) - since_s) * self._speed
        return float(now - then) + before

    def _entries(self, time_s: float) -> list[Specks]:
        """Drops thrown up and air drawn down where a hand goes in."""
        found = []
        for side, cycles in self._plan.arms.items():
            for number, c in enumerate(cycles):
                start = c.at.get("entry")
                if start is None or not 0 <= time_s - start < _STAYS_S:
                    continue
                age = time_s - start
                for hand in ("left", "right") if side == "both" else (side,):
                    rng = np.random.default_rng([number, ord(hand[0]), 5])
                    spot = self._where(f"{hand}_fingertip", start)
                    spot[0] -= self._left_behind(start, time_s)
                    spot[2] = 0.0
                    found += [_drops(rng, spot, age), _cloud(rng, spot, age, 130, 0.34)]
        return found

    def _trails(self, time_s: float) -> list[Specks]:
        """Air that hands drag along after they went in, foam at feet, head and shoulders."""
        return [s for trail in self._all_trails if (s := trail.at(time_s)) is not None]

    def _trail(
        self, joint: str, most_m: float, count: int, spread_m: float, white: float
    ) -> _Trail:
        """Where a joint leaves air: under the surface by less than most_m."""
        ticks = np.arange(int((self._times[0] - _STAYS_S) / _EVERY_S),
                          int(self._times[-1] / _EVERY_S) + 1)  # fmt: skip
        born = np.asarray(ticks * _EVERY_S, np.float64)
        spots = np.stack(
            [np.interp(born, self._times, self._joints[joint][:, k]) for k in range(3)], axis=1
        )
        leaves = (-most_m < spots[:, 2]) & (spots[:, 2] < 0.06)
        if joint.endswith("fingertip"):
            sides: tuple[Side, ...] = (side_of(joint.split("_")[0]), "both")
            lanes = [self._plan.arms.get(side, []) for side in sides]
            entries = [c.at["entry"] for lane in lanes for c in lane if "entry" in c.at]
            since = born[:, None] - np.array(entries)[None]
            leaves &= ((since >= 0) & (since < _DRAGGED_S)).any(axis=1)
        born, spots = born[leaves], spots[leaves]
        travelled = np.asarray(np.interp(born, self._times, self._travelled), np.float64)
        travelled -= np.maximum(0, self._times[0] - born) * self._speed
        rng = np.random.default_rng([ord(joint[0]), len(joint), 9])
        shape = (len(born), count)
        spread, size = rng.normal(0, spread_m, (*shape, 3)), rng.uniform(0.003, 0.011, shape)
        travelled = np.asarray(travelled, np.float64)
        return _Trail(born, spots, travelled, spread, size, white, self._times, self._travelled)

    def _breath(self, time_s: float) -> list[Specks]:
        """Air breathed out: a stream of bubbles that grow, go back and rise."""
        found = []
        for b in self._plan.breaths:
            if b.bubbles_on is None or b.bubbles_off is None:
                continue
            first, last = b.bubbles_on, min(b.bubbles_off, time_s)
            for tick in range(int(max(first, time_s - 0.7) / 0.02), int(last / 0.02) + 1):
                born = tick * 0.02
                age = time_s - born
                if born < first or not 0 <= age < 0.7:
                    continue
                rng = np.random.default_rng([tick + 100_000, 77])
                spot = self._where("mouth", born)
                if spot[2] > -0.01:
                    continue
                spot[0] -= 0.75 * self._left_behind(born, time_s)
                at = spot + rng.normal(0, 0.008 + 0.05 * age, (4, 3))
                at[:, 2] += 0.28 * age
                size = rng.uniform(0.004, 0.010, 4) * (1 + 0.8 * age)
                under = at[:, 2] < -0.005
                found.append(Specks(at[under], size[under], np.full(int(under.sum()), 0.55)))
        return found


def _drops(rng: np.random.Generator, spot: Points, age: float) -> Specks:
    """A crown of drops, thrown up and forward, that falls back."""
    count = 110
    speed = rng.gamma(2.2, 0.42, count)
    turn = rng.uniform(0, 2 * np.pi, count)
    steep = rng.uniform(0.5, 1.35, count)
    way = np.stack(
        [np.cos(turn) * np.cos(steep) + 0.35, np.sin(turn) * np.cos(steep), np.sin(steep)], axis=1
    )
    born = rng.uniform(0, 0.07, count)
    since = np.maximum(0, age - born)
    at = spot + rng.normal(0, 0.02, (count, 3)) + way * (speed * since)[:, None]
    at[:, 2] = spot[2] + way[:, 2] * speed * since - 0.5 * _G * since**2
    flying = (at[:, 2] > 0.0) & (age > born)
    size = rng.uniform(0.0025, 0.009, count)
    return Specks(at[flying], size[flying], np.full(int(flying.sum()), 0.75))


def _cloud(rng: np.random.Generator, spot: Points, age: float, count: int, deep: float) -> Specks:
    """Air drawn under, that spreads, slows and rises again."""
    down = -np.abs(rng.normal(0, 0.38, count)) * deep
    at = spot + np.stack(
        [rng.normal(0.02, 0.07, count), rng.normal(0, 0.05, count), down], axis=1
    ) * np.array([1 + 1.2 * age, 1 + 1.6 * age, min(1.0, 0.25 + 3.2 * age)])
    at[:, 0] += 0.10 * min(age, 0.25)
    at[:, 2] += 0.25 * age
    at[:, 2] = np.minimum(at[:, 2], -0.003)
    size = rng.uniform(0.003, 0.012, count)
    fade = np.clip(1.15 - age / _STAYS_S, 0, 1)
    return Specks(at, size, np.full(count, 0.55 * fade))


def paint_specks(
    image: Image, specks: Specks, camera: Camera, travelled_m: float, water: NDArray[np.float32]
) -> None:
    """Lay drops and bubbles over a picture, in place. water: colour that what is far goes into."""
    if not len(specks.at):
        return
    points = camera.project(specks.at, travelled_m)
    depth = camera.seen(specks.at, travelled_m)[:, 2]
    radius = specks.size_m * camera.focal_px / np.maximum(depth, 0.3)
    inside = (
        (depth > 0.35) & (points[:, 0] > -20) & (points[:, 0] < camera.width_px + 20)
        & (points[:, 1] > -20) & (points[:, 1] < camera.height_px + 20)
    )  # fmt: skip
    if not inside.any():
        return
    points, radius = points[inside], radius[inside]
    white, depth, high = specks.white[inside], depth[inside], specks.at[inside, 2] > 0
    left, top = (max(0, int(v) - 14) for v in points.min(axis=0))
    right, bottom = (int(v) + 14 for v in points.max(axis=0))
    part = image[top:bottom, left:right]
    if part.size == 0:
        return
    cover = np.zeros(part.shape[:2], np.uint8)
    order = np.argsort(white)
    for k in order:
        x, y = (points[k] - [left, top]) * 16
        shade = int(255 * white[k] * (1.0 if high[k] else np.exp(-0.12 * depth[k])))
        cv2.circle(cover, (round(x), round(y)), max(6, round(radius[k] * 16)), shade, -1,
                   cv2.LINE_AA, 4)  # fmt: skip
    soft = cv2.GaussianBlur(cover, (0, 0), 0.9)
    small = (max(1, part.shape[1] // 4), max(1, part.shape[0] // 4))
    haze = cv2.GaussianBlur(cv2.resize(cover, small, interpolation=cv2.INTER_AREA), (0, 0), 1.8)
    haze = cv2.resize(haze, (part.shape[1], part.shape[0]))
    share = cv2.addWeighted(soft, 1 / 255, haze, 0.55 / 255, 0, dtype=cv2.CV_32F)
    share = np.minimum(np.asarray(share, np.float32), np.float32(0.92))
    light = np.empty_like(part)
    light[:] = np.array([250, 250, 244], np.float32) * 0.86 + water * 0.14
    part[:] = cv2.blendLinear(np.ascontiguousarray(part), light, 1 - share, share)
