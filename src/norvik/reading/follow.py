"""Following one swimmer from frame to frame: a square round the hips, the head up."""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Protocol

import cv2
import numpy as np
from numpy.typing import NDArray

from norvik.reading.detect import Person
from norvik.reading.legs import SIZE, LegStir
from norvik.reading.network import JOINTS, Landmarks, PoseNetwork

Image = NDArray[np.uint8]
Floats = NDArray[np.float64]

#: Edge of the square in trunk lengths.
_TRUNKS = 5.4
#: Within this the trunk may differ from what it was: more is another swimmer's or a wrong pose.
_SHORTER, _LONGER = 0.80, 1.25
#: Within this it may differ from the usual one of the whole film.
_USUAL_SHORTER, _USUAL_LONGER = 0.65, 1.5
#: Seconds over which the direction of the body is smoothed.
_SMOOTH_S = 0.25
#: After so many poor frames the swimmer is looked for again.
_POOR = 8
#: Landmarks count less sure than this are poor.
_VISIBLE = 0.35
_AT = {name: n for n, name in enumerate(JOINTS)}


class Finder(Protocol):
    """Finds a person in a whole picture."""

    def person(self, picture: Image) -> Person | None: ...


@dataclass(frozen=True, slots=True)
class Pose:
    """Joints in one frame. points: pixels of the frame, shape (joints, 2) in the order of JOINTS.
    visible: 0..1. legs_changed: how much the picture changed where the legs are since the one
    before (see `LegStir`); None where there is none.
    """

    frame: int
    points: Floats
    visible: Floats
    legs_changed: Floats | None = None


@dataclass
class _Place:
    """Where the swimmer is. turn: radians by which the body's line is turned from upright."""

    hips: Floats
    trunk: float
    turn: float


def follow_swimmer(
    frames: Iterable[tuple[int, Image]], network: PoseNetwork, finder: Finder,
    seconds_a_frame: float, tapped: Person | None = None, usual_px: float | None = None,
) -> Iterator[Pose]:  # fmt: skip
    """The pose of one swimmer in every frame in which it is found.

    frames: (number, RGB picture) in order. tapped: where the coach showed the swimmer in the first
    frame; else the surest person is taken. usual_px: length of the swimmer's trunk in this film
    (see `usual_trunk`), so that an arm is not taken for a body.
    """
    here: _Place | None = _placed(tapped) if tapped is not None else None
    if here is not None:
        usual_px = here.trunk
    poor = 0
    legs = LegStir()
    trunks: deque[float] = deque(maxlen=max(3, round(1.5 / seconds_a_frame)))
    share = min(1.0, seconds_a_frame / _SMOOTH_S)
    for number, picture in frames:
        if here is None:
            person = finder.person(picture)
            if person is None or not _as_usual(_placed(person).trunk, usual_px):
                continue
            here, poor = _placed(person), 0
            trunks.clear()
            legs.forget()
        found = _looked_at(picture, here, network)
        legs_changed = legs.look(picture, _into_square(here, SIZE))
        hips, shoulders = _middles(found.points)
        trunk = float(np.linalg.norm(shoulders - hips))
        usual = float(np.median(trunks)) if len(trunks) >= 3 else here.trunk
        within = _SHORTER <= trunk / max(usual, 1e-6) <= _LONGER and _as_usual(trunk, usual_px)
        sure = float(np.mean([found.visible[_AT[n]] for n in _TRUNK])) >= _VISIBLE
        if not (within and sure):
            poor += 1
            # It goes on where it was; the hips may still lead it.
            if sure:
                here.hips = here.hips + 0.5 * (hips - here.hips)
            if poor >= _POOR:
                here = None
            continue
        poor = 0
        trunks.append(trunk)
        wanted = _turn_of(hips, shoulders)
        step = (wanted - here.turn + np.pi) % (2 * np.pi) - np.pi
        here = _Place(hips, float(np.median(trunks)), here.turn + share * step)
        yield Pose(
            number, found.points.astype(np.float64), found.visible.astype(np.float64), legs_changed
        )


def usual_trunk(pictures: Iterable[Image], finder: Finder) -> float | None:
    """Pixels of the swimmer's trunk, from those of some pictures in which somebody is surest.

    One picture misleads: a raised arm can look like a small person. None where nobody is found.
    """
    found = [person for picture in pictures if (person := finder.person(picture)) is not None]
    found.sort(key=lambda person: person.score, reverse=True)
    surest = found[: max(1, (len(found) + 1) // 2)]
    return float(np.median([_placed(p).trunk for p in surest])) if surest else None


def _as_usual(trunk: float, usual_px: float | None) -> bool:
    return usual_px is None or _USUAL_SHORTER <= trunk / usual_px <= _USUAL_LONGER


_TRUNK = ("left_shoulder", "right_shoulder", "left_hip", "right_hip")


def _placed(person: Person) -> _Place:
    hips, shoulders = np.array(person.hips), np.array(person.shoulders)
    length = max(4.0, float(np.linalg.norm(shoulders - hips)))
    return _Place(hips, length, _turn_of(hips, shoulders))


def _turn_of(hips: Floats, shoulders: Floats) -> float:
    """Radians by which hips to shoulders is turned clockwise from straight up."""
    x, y = shoulders - hips
    return float(np.arctan2(x, -y))


def _middles(points: NDArray[np.float32]) -> tuple[Floats, Floats]:
    """Middle of the hips and of the shoulders."""
    hips = 0.5 * (points[_AT["left_hip"]] + points[_AT["right_hip"]])
    shoulders = 0.5 * (points[_AT["left_shoulder"]] + points[_AT["right_shoulder"]])
    return hips.astype(np.float64), shoulders.astype(np.float64)


def _into_square(here: _Place, size: int) -> Floats:
    """Turns and moves a picture so that the swimmer is in the middle of a square, the head up."""
    x, y = (float(v) for v in here.hips)
    into = cv2.getRotationMatrix2D((x, y), float(np.degrees(here.turn)),
                                   size / (_TRUNKS * here.trunk))  # fmt: skip
    into[:, 2] += np.array([size / 2 - x, size / 2 - y])
    return np.asarray(into, np.float64)


def _looked_at(picture: Image, here: _Place, network: PoseNetwork) -> Landmarks:
    """Landmarks of the square round a place, in pixels of the whole picture."""
    size = network.size
    into = _into_square(here, size)
    square = np.asarray(cv2.warpAffine(picture, into, (size, size)), np.uint8)
    found = network.landmarks(square)
    back = cv2.invertAffineTransform(into)
    points = found.points @ back[:, :2].T + back[:, 2]
    return Landmarks(points.astype(np.float32), found.visible, found.score)
