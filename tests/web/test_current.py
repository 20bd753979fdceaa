"""The map of causes, overruling with its reason, other drills, the clock to aim by."""

from __future__ import annotations

import re
import sqlite3
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.core.frame.geometry import Point
from norvik.settings import Settings
from norvik.store import drawings, reviews
from norvik.store.connection import connected
from norvik.store.drawings import StoredDrawing
from tests.conftest import BroughtIn
from tests.web.judged import choose, films, judged, review, review_stored, tick


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    return films(tmp_path_factory.mktemp("current"), "2026-11-20")


@pytest.fixture
def clip(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    made: list[tuple[Path, dict[str, object]]],
) -> int:  # fmt: skip
    return judged(client, settings, brought_in, made)[0]


def test_found_faults_are_lit_with_their_streams(client: FlaskClient, clip: int) -> None:
    page = client.get(f"/clips/{clip}/causes/").text
    assert page.count("place place-fault") == 2
    assert page.count("stream-lit") == 1
    assert "Hips low, legs sink" in page
    # Near the findings only, until the whole map is asked for.
    assert "Stiff ankles" not in page
    whole = client.get(f"/clips/{clip}/causes/?whole=1").text
    assert "Stiff ankles" in whole
    assert 'class="knot"' in whole
    one = client.get(f"/clips/{clip}/causes/?fault=head-forward&order=line").text
    assert "Head comes first." in one
    assert "It leads to another fault found here: arched back." in one
    assert client.get(f"/clips/{clip}/causes/?fault=nothing&order=none").status_code == 200


def test_a_caution_is_said_once_and_only_schools_of_the_stroke_are_named(
    client: FlaskClient, clip: int
) -> None:
    tick(client, clip, ("thumb-first", "clear"), ("hand-above-elbow", "clear"))
    choose(client, clip, "back-arch", "thumb-first", "hand-above-elbow")
    page = client.get(f"/clips/{clip}/judge/").text
    assert page.count("This loads the shoulder.") == 1
    assert "patient reach" in page
    assert "every second stroke" not in page.lower().split("judged as")[1]


def test_the_level_is_named_and_followed(
    client: FlaskClient, settings: Settings, clip: int
) -> None:
    assert "Judged as an improver, by " in client.get(f"/clips/{clip}/judge/").text
    with connected(settings.database) as connection:
        connection.execute("UPDATE swimmers SET level = 'advanced'")
    assert "Judged as an advanced swimmer, by " in client.get(f"/clips/{clip}/judge/").text
    assert "judged as an advanced swimmer, by " in client.get(review(client, clip)).text


def test_nothing_found_shows_the_whole_map(client: FlaskClient, clip: int) -> None:
    tick(client, clip, ("head-forward", ""), ("back-arch", ""))
    page = client.get(f"/clips/{clip}/causes/").text
    assert "No fault found yet" in page
    assert "Stiff ankles" in page


def test_an_overruled_proposal_keeps_its_reason(
    client: FlaskClient, settings: Settings, clip: int
) -> None:
    # "Head up (looking forward)" was proposed, "arched back" chosen first.
    with connected(settings.database) as connection:
        assert _reasons(connection, clip) == {"back-arch": "coach's eye"}
    answer = client.post(f"/clips/{clip}/judge/because",
                         data={"fault": "back-arch", "because": "the race is near"})  # fmt: skip
    assert "the race is near" in answer.text
    on_map = client.post(f"/clips/{clip}/judge/because",
                         data={"fault": "back-arch", "because": "", "on": "current"})  # fmt: skip
    assert on_map.status_code == 302
    assert "coach&#39;s eye" in client.get(on_map.location).text
    refused = client.post(f"/clips/{clip}/judge/because", data={"fault": "crossing"})
    assert refused.status_code == 422
    choose(client, clip, "back-arch")  # takes it away, and its reason with it
    with connected(settings.database) as connection:
        assert _reasons(connection, clip) == {}
    # Chosen again when it is what is proposed: nothing is overruled.
    choose(client, clip, "back-arch")
    with connected(settings.database) as connection:
        assert _reasons(connection, clip) == {}


def test_another_drill_in_place_of_one(client: FlaskClient, clip: int) -> None:
    def kept(text: str) -> list[str]:
        return re.findall(r"Another drill than ([^\"]+)", text)

    before = kept(client.get(f"/clips/{clip}/judge/").text)
    assert "Side kick on the line" in before
    answer = client.post(f"/clips/{clip}/judge/another",
                         data={"fault": "head-forward", "drill": "side-kick-line"})  # fmt: skip
    after = kept(answer.text)
    assert len(after) == len(before)
    assert after != before
    refused = client.post(f"/clips/{clip}/judge/another",
                          data={"fault": "head-forward", "drill": "fist"})  # fmt: skip
    assert refused.status_code == 422


def test_a_crossing_hand_gets_a_clock_to_aim_by(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn, tmp_path: Path
) -> None:
    (film,) = films(tmp_path, "2026-11-21")
    (clip,) = brought_in(settings, [], (film[0], {**film[1], "view": "front-under",
                                                  "swimmer_id": None}))  # fmt: skip
    client.post("/swimmers/new", data={"name": "Eirik Lundstrand", "level": "improver"})
    with connected(settings.database) as connection:
        connection.execute("UPDATE clips SET swimmer_id = 1 WHERE id = ?", (clip,))
        # Shoulders 200 px apart; the right hand lands on the midline: twelve o'clock.
        points = (Point(200.0, 100.0), Point(400.0, 100.0), Point(300.0, 60.0))
        for frame in (5, 45):
            drawings.add(connection, clip, None, StoredDrawing(
                0, "measure", "entry-line", "right", frame, frame, frame, points))  # fmt: skip
    choose(client, clip, "crossing")
    page = client.get(f"/clips/{clip}/judge/").text
    assert "Right hand now: 12 o'clock" in page.replace("&#39;", "'")
    assert "aim for 2 o'clock" in page.replace("&#39;", "'")
    assert "aim for 2 o'clock" in client.get(review(client, clip)).text.replace("&#39;", "'")


def _reasons(connection: sqlite3.Connection, clip: int) -> dict[str, str]:
    return reviews.reasons(connection, review_stored(connection, clip).id, "freestyle")
