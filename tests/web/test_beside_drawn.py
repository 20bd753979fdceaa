"""Drawings in step: laid on the other film by the trunk; measures and hand paths of both."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.core.frame.geometry import Point
from norvik.settings import Settings
from norvik.store import drawings, marks, tracks
from norvik.store.connection import connected
from norvik.store.drawings import StoredDrawing
from norvik.store.swimmers import Swimmer
from norvik.store.tracks import TrackPoint
from tests.clips import numbered_clip
from tests.conftest import BroughtIn
from tests.web.beside import FAST, JSON, SLOW, mark_cycles

#: The swimmer of the second film is half as large, and swims to the left.
RIGHT = [[300.0, 100.0], [200.0, 100.0]]
LEFT = [[400.0, 200.0], [450.0, 200.0]]


@pytest.fixture(scope="module")
def films(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    folder = tmp_path_factory.mktemp("beside-drawn")
    slow = numbered_clip(folder / "slow.mp4", [k / 30 for k in range(150)])
    fast = numbered_clip(folder / "fast.mp4", [k / 60 for k in range(220)])
    return [(slow, {"filmed_on": "2026-11-20"}), (fast, {"filmed_on": "2026-11-27"})]


@pytest.fixture
def pair(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    films: list[tuple[Path, dict[str, object]]],
) -> list[int]:  # fmt: skip
    ids = brought_in(settings, [Swimmer("Tilde Vassholm")], *films)
    mark_cycles(settings, ids[0], SLOW, 40)
    mark_cycles(settings, ids[1], FAST, 60)
    return ids


def set_trunk(client: FlaskClient, which: str, frame: int, points: object) -> dict[str, object]:
    answer = client.post("/clips/1/beside/trunk", headers=JSON, data={
        "with": 2, "which": which, "frame": frame, "points": json.dumps(points),
    })  # fmt: skip
    said: dict[str, object] = answer.json
    return {"status": answer.status_code, **said}


def draw(settings: Settings, clip: int, **what: object) -> None:
    with connected(settings.database) as connection:
        drawings.add(connection, clip, 1, StoredDrawing(0, **what))  # type: ignore[arg-type]


def drawn(client: FlaskClient, **wish: object) -> dict[str, object]:
    found: dict[str, object] = client.get(
        "/clips/1/beside/drawn.json", query_string={"with": 2, **wish}
    ).json
    return found


def test_a_drawing_is_laid_on_the_other_at_the_same_phase_as_large_as_the_swimmer(
    client: FlaskClient, pair: list[int], settings: Settings
) -> None:
    draw(settings, 1, kind="line", name="", side="", frame=15, first=15, last=21,
         points=(Point(300, 100), Point(300, 160)))  # fmt: skip
    found = drawn(client)
    # Without the trunks nobody knows where it belongs.
    assert [len(f["laid"]) for f in found["films"]] == [0, 0]  # type: ignore[attr-defined]
    assert found["mirror"] is None
    set_trunk(client, "one", 15, RIGHT)
    found = set_trunk(client, "other", 13, LEFT)
    assert found["status"] == 200
    assert found["mirror"] is True
    one, other = found["films"]  # type: ignore[misc]
    assert len(one["own"]) == 1
    assert other["own"] == one["laid"] == []
    (laid,) = other["laid"]
    # From catch to pull, in the second film 8 to 20 frames after the entry on frame 5.
    assert (laid["first"], laid["last"]) == (13, 25)
    # 60 below the shoulder is 30 there: half as large, and still below.
    points = re.search(r'class="ink" points="([^"]+)"', laid["svg"])
    assert points is not None
    assert points[1] == "400.0,200.0 400.0,230.0"


def test_what_is_drawn_on_the_second_film_is_laid_on_the_first(
    client: FlaskClient, pair: list[int], settings: Settings
) -> None:
    set_trunk(client, "one", 15, RIGHT)
    set_trunk(client, "other", 13, LEFT)
    draw(settings, 2, kind="line", name="", side="", frame=13, first=13, last=13,
         points=(Point(400, 200), Point(400, 230)))  # fmt: skip
    one = drawn(client)["films"][0]  # type: ignore[index]
    (laid,) = one["laid"]
    assert (laid["first"], laid["last"]) == (15, 15)
    assert 'points="300.0,100.0 300.0,160.0"' in laid["svg"]


@pytest.mark.parametrize(
    ("points", "words"),
    [
        ([[1, 2]], "Click the shoulder first"),
        ("x", "Click the shoulder first"),
        ([[1, 1], [900, 1]], "lie in the picture"),
        ([[5, 5], [6, 6]], "lie on each other"),
    ],
)
def test_a_trunk_that_cannot_be_is_refused(
    client: FlaskClient, pair: list[int], points: object, words: str
) -> None:
    refused = set_trunk(client, "one", 15, points)
    assert refused["status"] == 422
    assert words in str(refused["sentence"])
    assert set_trunk(client, "one", 9999, RIGHT)["status"] == 422
    assert drawn(client)["films"][0]["trunks"]["at"] == {}  # type: ignore[index]


def test_a_trunk_set_again_takes_the_place_of_the_first_and_is_in_no_picture(
    client: FlaskClient, pair: list[int], settings: Settings
) -> None:
    set_trunk(client, "one", 15, RIGHT)
    found = set_trunk(client, "one", 15, [[310.0, 100.0], [200.0, 100.0]])
    assert found["films"][0]["trunks"]["at"] == {"15": [310.0, 100.0, 200.0, 100.0]}  # type: ignore[index]
    assert found["films"][0]["own"] == []  # type: ignore[index]
    with connected(settings.database) as connection:
        assert [d.kind for d in drawings.of_clip(connection, 1)] == ["trunk"]
    plain = client.get("/clips/1/stills/15.svg").text
    assert "<polyline" not in plain
    # On the bench it is a drawing like others, which can be deleted there.
    assert "Trunk: shoulder, hip" in client.get("/clips/1/").text


def test_measured_and_followed_trunks_serve_as_well(
    client: FlaskClient, pair: list[int], settings: Settings
) -> None:
    draw(settings, 1, kind="measure", name="back-arch", side="", frame=30, first=30, last=30,
         points=(Point(300, 100), Point(200, 105), Point(120, 110)))  # fmt: skip
    follow(settings, 2, "shoulder", {20: (400, 200), 21: (402, 201)})
    follow(settings, 2, "hip", {20: (500, 200), 22: (503, 202)})
    one, other = drawn(client)["films"]  # type: ignore[misc]
    assert one["trunks"]["at"] == {"30": [300.0, 100.0, 200.0, 105.0]}
    # A frame on which only one of the two is known tells nothing.
    assert other["trunks"]["at"] == {"20": [400.0, 200.0, 500.0, 200.0]}
    assert (one["trunks"]["swims_to"], other["trunks"]["swims_to"]) == ("right", "left")


def follow(settings: Settings, clip: int, point: str, at: dict[int, tuple[float, float]]) -> None:
    with connected(settings.database) as connection:
        track = tracks.open_track(connection, clip, None, point, "right")
        tracks.put_followed(
            connection, track, [TrackPoint(f, x, y, "followed", 1.0) for f, (x, y) in at.items()]
        )


def angle(settings: Settings, clip: int, frame: int, tip: Point, side: str = "right") -> None:
    draw(settings, clip, kind="measure", name="forearm-vertical", side=side, frame=frame,
         first=frame, last=frame, points=(Point(300, 100), tip))  # fmt: skip


def test_measures_of_the_same_instant_stand_beside_each_other(
    client: FlaskClient, pair: list[int], settings: Settings
) -> None:
    # At the press: frame 21 of the one, 25 of the other. 45 and 0 degrees from the vertical.
    angle(settings, 1, 21, Point(400, 200))
    angle(settings, 2, 26, Point(300, 200))
    # One that nobody measured on the other film at that instant is left out.
    angle(settings, 1, 61, Point(350, 200))
    (found,) = drawn(client)["measures"]  # type: ignore[misc]
    assert found["name"] == "Forearm from the vertical, right"
    assert found["values"] == ["45°", "0°"]
    assert found["difference"].startswith("−45° ± ")
    assert found["real"] is True
    assert found["frames"] == [21, 26]
    # A quarter of a degree is less than a click moves the line.
    with connected(settings.database) as connection:
        connection.execute("DELETE FROM drawings WHERE clip_id = 2")
    angle(settings, 2, 25, Point(400, 200.5))
    (found,) = drawn(client)["measures"]  # type: ignore[misc]
    assert found["real"] is False


def test_left_is_measured_against_right_where_the_films_go_by_other_arms(
    client: FlaskClient, pair: list[int], settings: Settings
) -> None:
    with connected(settings.database) as connection:
        for begin in (5, 65, 125):
            for event, at in FAST.items():
                marks.place(connection, 2, None, begin + at, "arm", "left", event)
    angle(settings, 1, 21, Point(400, 200))
    angle(settings, 2, 25, Point(300, 200), "left")
    assert drawn(client)["measures"] == []
    (found,) = drawn(client, side="right", other_side="left")["measures"]  # type: ignore[misc]
    assert found["name"] == "Forearm from the vertical, right / left"


def test_hand_paths_of_both_in_one_picture(
    client: FlaskClient, pair: list[int], settings: Settings
) -> None:
    address = "/clips/1/beside/paths.svg?with=2"
    refused = client.get(address, headers=JSON)
    assert refused.status_code == 422
    assert "Follow the right fingertips or wrist through the first film" in refused.json["sentence"]
    for clip, long in ((1, 40), (2, 60)):
        follow(settings, clip, "wrist", {5 + k: (300 + 2 * k, 150) for k in range(long + 1)})
    assert "Set shoulder and hip" in client.get(address, headers=JSON).json["sentence"]
    set_trunk(client, "one", 15, RIGHT)
    set_trunk(client, "other", 13, LEFT)
    svg = client.get(address).text
    assert svg.count("<polyline") == 2
    # Entry, catch, pull and exit of each.
    assert svg.count("<circle") == 8
    assert "20 November 2026" in svg
    assert client.get("/clips/1/beside/paths.png?with=2").data.startswith(b"\x89PNG")
    # Any other point that both have can be drawn as well; what one does not have, can't.
    for clip, long in ((1, 40), (2, 60)):
        follow(settings, clip, "ankle", {5 + k: (100 + k, 140) for k in range(long + 1)})
    assert "right ankle" in client.get(f"{address}&point=ankle").text
    assert "right wrist" in client.get(f"{address}&point=knee").text
    assert 'data-point="ankle"' in client.get("/clips/1/beside/?with=2").text
    # The model's points are known from the model itself.
    assert client.get("/clips/1/beside/paths.svg?with=model").text.count("<polyline") == 2


def test_the_outline_of_the_figure_is_measured_in_trunks(
    client: FlaskClient, pair: list[int]
) -> None:
    found = client.get("/clips/1/beside/outline.json?with=2").json
    assert len(found["stances"]) == 48
    assert [len(f) for f in found["frames"]] == [150, 220]
    # The arm that enters reaches ahead of the shoulder, the feet lie behind the hip.
    ends = [x for x1, _, x2, _, _ in found["stances"][0] for x in (x1, x2)]
    assert max(ends) > 1.5
    assert min(ends) < -1.0
