"""What a coach shows on the picture: every way has its drawing, its points and its picture."""

from __future__ import annotations

import math
import re

import pytest
from flask.testing import FlaskClient

from norvik.core.frame.drawings import KINDS
from norvik.core.strokes.names import STROKE_NAMES, StrokeName
from norvik.model.stance import VIEW_OF, events_of, joint
from norvik.web.clip.ways_to_show import MORE, PICTURED
from norvik.web.draw.shown_ways import shown_ways


def test_every_kind_of_drawing_can_be_chosen_once_by_each_of_its_names() -> None:
    ways = (*PICTURED, *MORE)
    assert {way.kind.id for way in ways} == set(KINDS)
    assert len({way.id for way in ways}) == len(ways)
    assert len({way.name for way in ways}) == len(ways)
    for way in ways:
        # A point of each name at least; the last name stays for all points that follow.
        assert 1 <= len(way.points) <= way.kind.most, way.id
        assert len(way.points) >= way.kind.least or way.kind.most > way.kind.least, way.id


def _lines(svg: str, classes: str) -> list[list[tuple[float, float]]]:
    found = re.findall(rf'<polyline class="{classes}" points="([^"]+)"', svg)
    return [
        [(float(x), float(y)) for x, y in (pair.split(",") for pair in points.split())]
        for points in found
    ]


@pytest.mark.parametrize("view", VIEW_OF)
@pytest.mark.parametrize("stroke", STROKE_NAMES)
def test_each_has_a_picture_in_every_stroke_and_view(
    client: FlaskClient, stroke: StrokeName, view: str
) -> None:
    with client.application.test_request_context():
        pictures = shown_ways(stroke, view)
    assert list(pictures) == [way.id for way in PICTURED]
    for picture in pictures.values():
        left, top, width, height = map(
            float, re.findall(r'viewBox="([-\d. ]+)"', picture)[0].split()
        )
        assert width / height == pytest.approx(1.7, abs=0.02)
        for line in _lines(picture, "main"):
            # What is shown stays on its picture; a slope may go beyond it.
            if picture is not pictures["slope"]:
                assert all(left <= x <= left + width for x, _ in line)
                assert all(top <= y <= top + height for _, y in line)


def test_the_drawings_lie_on_the_swimmer(client: FlaskClient) -> None:
    with client.application.test_request_context():
        pictures = shown_ways("freestyle", "front-under")
    shares = events_of("freestyle")
    phase = (shares["press"] + shares["exit"]) / 2
    at = [joint("freestyle", phase, "front", f"right_{j}") for j in ("shoulder", "elbow", "wrist")]
    [drawn] = _lines(pictures["angle"], "main")
    for here, there in zip(drawn, at, strict=True):
        assert here == pytest.approx(there, abs=0.06)
    [arc] = _lines(pictures["angle"], "thin")
    for x, y in arc:
        assert math.hypot(x - at[1][0], y - at[1][1]) == pytest.approx(26, abs=0.2)
    # The arc goes from one leg to the other, within the angle.
    along = [math.atan2(p[1] - at[1][1], p[0] - at[1][0]) for p in (at[0], arc[0], arc[-1], at[2])]
    assert along[0] == pytest.approx(along[1], abs=0.01)
    assert along[2] == pytest.approx(along[3], abs=0.01)
    assert abs(math.remainder(along[2] - along[1], 2 * math.pi)) < math.pi
    [slope] = _lines(pictures["slope"], "main")
    [level] = _lines(pictures["slope"], "thin")
    assert level[0] == slope[0]
    assert level[1] == (slope[1][0], slope[0][1])
    ring = re.search(r'<circle class="main" cx="([-\d.]+)" cy="([-\d.]+)"', pictures["here"])
    assert ring is not None
    hand = joint("freestyle", phase, "front", "right_fingertip")
    assert (float(ring[1]), float(ring[2])) == pytest.approx(hand, abs=0.06)


def test_from_the_side_a_distance_is_how_deep_the_hand_is(client: FlaskClient) -> None:
    with client.application.test_request_context():
        picture = shown_ways("butterfly", "side-under")["distance"]
    depth, *ends = _lines(picture, "main")
    assert depth[0][1] == 0.0
    assert depth[0][0] == depth[1][0]
    assert all(a[1] == b[1] for a, b in ends)
