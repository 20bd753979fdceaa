"""Measures on the frame through the pages: kept, moved, deleted, counted, refused."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.core.frame.geometry import Point, inner_angle
from norvik.settings import Settings
from norvik.store import clips, drawings, marks, trash
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.workflow.clip_drawings import picture_size
from tests.clips import numbered_clip
from tests.conftest import BroughtIn

ARM = "100,100 200,100 200,180"
ARM_LEFT = {"kind": "measure", "name": "elbow-angle", "side": "left"}


@pytest.fixture(scope="module")
def film(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return numbered_clip(tmp_path_factory.mktemp("film") / "film.mp4", [n / 30 for n in range(60)])


@pytest.fixture
def clip(client: FlaskClient, settings: Settings, film: Path, brought_in: BroughtIn) -> int:
    return brought_in(settings, [Swimmer("Tilde Vassholm")], (film, {"view": "side-under"}))[0]


def test_a_measure_is_kept_moved_and_deleted(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    url = f"/clips/{clip}/drawings/"
    data = {"kind": "measure", "name": "elbow-angle", "frame": 12, "side": "right", "points": ARM}
    answer = client.post(url, data=data)
    assert answer.status_code == 200
    assert "Right elbow angle in the pull: 90°" in answer.text
    with connected(settings.database) as connection:
        (kept,) = drawings.of_clip(connection, clip)
        assert (kept.frame, kept.side) == (12, "right")
        assert kept.points == (Point(100, 100), Point(200, 100), Point(200, 180))
    answer = client.post(f"{url}{kept.id}", data={"points": "100,100 200,100 300,100"})
    assert "<b>180</b>" in answer.text
    page = client.get(f"/clips/{clip}/").text
    assert '<svg id="overlay" class="overlay" viewBox="0 0 640 ' in page
    assert '"points": [[100.0, 100.0]' in page or '"points":[[100.0,100.0]' in page
    client.post(f"{url}{kept.id}/delete")
    with connected(settings.database) as connection:
        assert drawings.of_clip(connection, clip) == []
    assert client.post(f"{url}{kept.id}/delete").status_code == 404


def test_several_cycles_have_a_mean_and_a_spread(client: FlaskClient, clip: int) -> None:
    url = f"/clips/{clip}/drawings/"
    angles = []
    for n, x in enumerate((180, 200, 230)):
        points = f"100,100 200,100 {x},180"
        angles.append(inner_angle(Point(100, 100), Point(200, 100), Point(x, 180)))
        client.post(url, data={**ARM_LEFT, "frame": 10 + n, "points": points})
    page = client.get(url).text
    assert f"<b>{sum(angles) / 3:.0f}</b>" in page
    assert "n 3" in page
    # What belongs to the whole body takes no side.
    client.post(url, data={"kind": "measure", "name": "body-line", "frame": 3, "side": "left",
                           "points": "300,100 20,130"})  # fmt: skip
    assert "frame 3:" in client.get(url).text


def test_a_measure_far_from_its_event_says_so(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    with connected(settings.database) as connection:
        marks.place(connection, clip, None, 20, "arm", "right", "press")
        marks.place(connection, clip, None, 48, "arm", "left", "press")
    url = f"/clips/{clip}/drawings/"
    data = {
        "kind": "measure",
        "name": "forearm-vertical",
        "side": "right",
        "points": "200,100 210,180",
    }
    assert "nearest press" not in client.post(url, data={**data, "frame": 22}).text
    answer = client.post(url, data={**data, "frame": 35}).text
    assert "0.50 s after the nearest press" in answer
    assert 'data-by="20"' in answer


@pytest.mark.parametrize(
    ("changed", "sentence"),
    [
        ({"name": "nothing"}, "not known"),
        ({"frame": 900}, "not in this clip"),
        ({"points": "1,1 2,2"}, "needs 3 points: shoulder, elbow, wrist"),
        ({"points": "a,b"}, "could not be read"),
        ({"points": "100,100 200,100 9000,180"}, "outside the picture"),
        ({"points": "nan,100 200,100 200,180"}, "outside the picture"),
        ({"points": "200,100 200,100 200,180"}, "lie on each other"),
        ({"side": "top"}, "left, the right"),
    ],
)
def test_what_cannot_be_measured_is_said_and_nothing_is_kept(
    client: FlaskClient, clip: int, settings: Settings, changed: dict[str, str], sentence: str
) -> None:
    data = {"kind": "measure", "name": "elbow-angle", "frame": 12, "side": "right", "points": ARM}
    answer = client.post(
        f"/clips/{clip}/drawings/", data={**data, **changed}, headers={"HX-Request": "true"}
    )
    assert answer.status_code == 422
    assert sentence in answer.text
    with connected(settings.database) as connection:
        assert drawings.of_clip(connection, clip) == []


def test_the_trash_counts_measures_and_they_go_with_the_clip(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    data = {"kind": "measure", "name": "elbow-angle", "frame": 12, "side": "right", "points": ARM}
    client.post(f"/clips/{clip}/drawings/", data=data)
    with connected(settings.database) as connection:
        assert trash.contents(connection, [clip]).measures == 1
        connection.execute("DELETE FROM clips WHERE id = ?", (clip,))
        assert connection.execute("SELECT count(*) FROM drawings").fetchone()[0] == 0


def test_points_lie_in_the_upright_picture_at_the_sources_size(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    with connected(settings.database) as connection:
        recording = clips.by_id(connection, clip).recording
        width, height = picture_size(recording)
        assert (width, height) == (recording.width, recording.height)
        # A phone held upright: stored lying, shown standing.
        connection.execute(
            "UPDATE recordings SET width = 360, height = 640, source_width = 1920, "
            "source_height = 1080"
        )
        assert picture_size(clips.by_id(connection, clip).recording) == (1080, 1920)
