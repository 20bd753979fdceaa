"""The review keeps what is typed, shows each measure with its own point, and says what to do."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import pains
from norvik.store.connection import connected
from tests.conftest import BroughtIn
from tests.web.judged import choose, films, judged, review, review_stored, tick


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    return films(tmp_path_factory.mktemp("review"), "2026-11-20")


@pytest.fixture
def clip(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    made: list[tuple[Path, dict[str, object]]],
) -> int:  # fmt: skip
    return judged(client, settings, brought_in, made)[0]


def test_words_are_kept_while_they_are_typed(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    url = f"{review(client, clip)}words"
    assert client.post(url, data={"words": "Lovely long line."}).status_code == 204
    assert "Lovely long line." in client.get(review(client, clip)).text
    refused = client.post(url, data={"words": "x" * 2001}, headers={"Accept": "application/json"})
    assert refused.status_code == 422
    assert "2000" in refused.json["sentence"]
    with connected(settings.database) as connection:
        assert review_stored(connection, clip).words == "Lovely long line."
        assert review_stored(connection, clip).done_at is None


def test_a_measure_is_drawn_at_the_point_it_shows(client: FlaskClient, clip: int) -> None:
    url = f"/clips/{clip}/drawings/"
    line = {"kind": "measure", "name": "body-line", "frame": 3, "points": "100,100 500,190"}
    client.post(url, data=line)
    picture = f"/clips/{clip}/stills/3.jpg"
    all_of_it = client.get(picture).data
    # A forward head is no matter of the body line; sinking legs are.
    assert client.get(f"{picture}?of=head-forward").data != all_of_it
    assert client.get(f"{picture}?of=legs-sink").data == all_of_it
    assert client.get(f"{picture}?of=no-such-point").data == all_of_it


def test_three_points_for_training_and_a_fourth_for_a_long_event(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    more = ("hand-entry-crosses", "kick-knees", "head-lifts-breath", "stiff-ankles", "legs-sink",
            "dropped-elbow", "scissor-kick", "late-breath", "straight-arm")  # fmt: skip
    tick(client, clip, *((fault, "clear") for fault in more))
    choose(client, clip, *more)
    with connected(settings.database) as connection:
        chosen = [f.fault for f in review_stored(connection, clip).focuses]
    assert len(chosen) == 3
    page = client.get(f"/clips/{clip}/judge/").text
    assert "4th, for the race-day card" in page
    left = next(f for f in more if f not in chosen and f'"{f}"' in page.replace("&#34;", '"'))
    url = f"/clips/{clip}/judge/focus"
    assert client.post(url, data={"fault": left}).status_code == 422
    assert client.post(url, data={"fault": left, "long_event": "1"}).status_code == 200
    with connected(settings.database) as connection:
        assert len(review_stored(connection, clip).focuses) == 4


def test_where_pain_leaves_no_drill_the_review_says_what_to_do_instead(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    with connected(settings.database) as connection:
        for part in ("shoulder", "elbow", "neck", "back", "hip", "knee", "ankle"):
            pains.note(connection, 1, part, "")
    page = client.get(review(client, clip)).text
    judge = client.get(f"/clips/{clip}/judge/").text
    if "has no drill" in page:
        pytest.fail("a point without a drill and without a word what to do instead")
    assert "pain noted" in judge


def test_good_things_have_no_degrees(client: FlaskClient, clip: int) -> None:
    page = client.get(f"/clips/{clip}/judge/").text
    assert "Quiet head: seen" in page
    assert "Quiet head: clear" not in page
