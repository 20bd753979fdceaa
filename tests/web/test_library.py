"""Library, trash and storage: finding, describing many at once, throwing away, making room."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import clips, library, loops, marks, recordings, review_clips, reviews, swimmers
from norvik.store.connection import connected
from norvik.store.library import STATES, ClipFilter
from norvik.store.swimmers import Swimmer
from tests.uploading import add_clip, upload

HTMX = {"HX-Request": "true"}


@pytest.fixture
def squad(settings: Settings, client: FlaskClient) -> list[int]:
    """Six clips: 1 waiting, 2 reviewed, 3 to sort, 4 failed, 5 being prepared, 6 with marks."""
    with connected(settings.database) as connection:
        tilde = swimmers.add(connection, Swimmer("Tilde Vassholm"))
        eirik = swimmers.add(connection, Swimmer("Eirik Lundstrand"))
        ids = [
            add_clip(connection, tilde, "a.mp4", stroke="butterfly", filmed_on="2026-11-20"),
            add_clip(connection, tilde, "b_100%.mp4", role="race", filmed_on="2026-11-20"),
            add_clip(connection, None, "c.mp4", view="overhead", filmed_on="2026-10-02"),
            add_clip(connection, eirik, "d.mp4", filmed_on="2026-10-02"),
            add_clip(connection, eirik, "e.mp4", kit=("fins",), filmed_on="2026-09-01"),
            add_clip(connection, eirik, "f.mp4", effort="sprint", filmed_on="2026-09-01"),
        ]
        connection.execute("UPDATE recordings SET state = 'ready', frames = 90")
        recordings.set_failed(connection, 4, "The disk is full.")
        recordings.set_waiting(connection, 5)
        review_clips.take_out(connection, 1, 1)
        reviews.set_done(connection, 1, True)
        marks.place(connection, 6, None, 5, "arm", "right", "entry")
    return ids


def found(settings: Settings, **wish: object) -> list[int]:
    with connected(settings.database) as connection:
        answer = library.find(connection, ClipFilter(**wish))  # type: ignore[arg-type]
        assert answer.count == len(answer.clips)
        return [clip.id for clip in answer.clips]


@pytest.mark.parametrize(
    ("wish", "ids"),
    [
        ({}, [2, 1, 4, 3, 6, 5]),
        ({"swimmer_id": 1}, [2, 1]),
        ({"session": "2026-10-02"}, [4, 3]),
        ({"session": "2026-1"}, [2, 1, 4, 3]),
        ({"stroke": "butterfly"}, [1]),
        ({"view": "overhead"}, [3]),
        ({"role": "race", "swimmer_id": 1}, [2]),
        ({"words": "eirik"}, [4, 6, 5]),
        ({"words": "EIRIK fins"}, [5]),
        ({"words": "b_100%"}, [2]),  # what SQL takes for a joker is a letter here
        ({"words": "%"}, [2]),
        ({"words": "none such"}, []),
        ({"state": "to-sort"}, [3]),
        ({"state": "waiting"}, [1, 3, 6]),
        ({"state": "marked"}, [6]),
        ({"state": "reviewed"}, [2]),
        ({"state": "preparing"}, [5]),
        ({"state": "failed"}, [4]),
    ],
)
def test_finding(
    settings: Settings, squad: list[int], wish: dict[str, object], ids: list[int]
) -> None:
    assert sorted(found(settings, **wish)) == sorted(ids)
    if not wish:  # newest session first
        assert found(settings) == ids


def test_counts_agree_with_what_is_found(settings: Settings, squad: list[int]) -> None:
    with connected(settings.database) as connection:
        counts = library.counts(connection)
        assert library.per_swimmer(connection) == {1: (2, 1), 2: (3, 1)}
    assert counts[""] == len(squad)
    assert {state: counts[state] for state in STATES} == {
        state: len(found(settings, state=state)) for state in STATES
    }


def test_the_page_filters_and_turns(
    client: FlaskClient, settings: Settings, squad: list[int]
) -> None:
    page = client.get("/library/?swimmer=1").text
    assert "Tilde Vassholm" in page
    assert "d.mp4" not in page
    part = client.get("/library/?words=none+such", headers=HTMX).text
    assert "<html" not in part
    with connected(settings.database) as connection:
        for n in range(60):
            add_clip(connection, 1, f"n{n}.mp4")
    assert len(re.findall(r'id="clip-\d+"', client.get("/library/").text)) == 50
    assert len(re.findall(r'id="clip-\d+"', client.get("/library/?page=1").text)) == 16
    # Words that mean nothing ask for nothing.
    assert client.get("/library/?state=wet&stroke=x&session=';--&page=-3").status_code == 200


def test_many_clips_are_described_at_once(
    client: FlaskClient, settings: Settings, squad: list[int]
) -> None:
    form = {"ids": [1, 3], "swimmer_id": "2", "pool_m": "25", "kit_said": "1", "kit": "buoy",
            "effort": "", "stretch": "8"}  # fmt: skip
    answer = client.post("/library/describe", data=form)
    assert answer.status_code == 200
    with connected(settings.database) as connection:
        one, three, six = (clips.by_id(connection, n) for n in (1, 3, 6))
    assert {c.swimmer_id for c in (one, three)} == {2}
    assert {c.facts.pool_m for c in (one, three)} == {25.0}
    assert one.facts.kit == ("buoy",)
    assert one.recording.stretches[0].factor == 8.0
    # What the form left empty, and other clips, stay as they were.
    assert (one.stroke, three.view, six.facts.effort) == ("butterfly", "overhead", "sprint")
    client.post("/library/describe", data={"ids": [1], "swimmer_id": "none"})
    with connected(settings.database) as connection:
        assert clips.by_id(connection, 1).swimmer_id is None


@pytest.mark.parametrize(
    "form",
    [{"ids": [1]}, {"role": "race"}, {"ids": [1, 99], "role": "race"},
     {"ids": [1], "role": "winner"}, {"ids": [1], "pool_m": "5"},
     {"ids": list(range(1, 600)), "role": "race"}],
)  # fmt: skip
def test_descriptions_that_cannot_stand_change_nothing(
    client: FlaskClient, settings: Settings, squad: list[int], form: dict[str, object]
) -> None:
    assert client.post("/library/describe", data=form).status_code in (404, 422)
    assert found(settings, role="race") == [2]


def test_what_goes_to_the_trash_is_counted_and_comes_back(
    client: FlaskClient, settings: Settings, squad: list[int]
) -> None:
    with connected(settings.database) as connection:
        loops.keep(connection, 6, "catch", 3, 9)
    words = client.post("/library/contents", data={"ids": [2, 6]}).text
    for said in (
        "2 clips go",
        "with 1 mark and 1 loop.",
        "2 recordings (",
    ):
        assert said in words.replace("\n", " "), said
    client.post("/library/throw-away", data={"ids": [2, 6]})
    assert 6 not in found(settings)
    assert "2 clips" in client.get("/trash/").text
    # Only what lies in the trash can be deleted.
    client.post("/trash/delete", data={"ids": [1]})
    assert 1 in found(settings)
    client.post("/trash/bring-back", data={"ids": [6]})
    assert found(settings, state="marked") == [6]
    client.post("/trash/delete", data={"all": "1"})
    assert "trash is empty" in client.get("/trash/").text
    with connected(settings.database) as connection:
        rows = connection.execute("SELECT count(*) FROM recordings WHERE id = 2").fetchone()
    assert rows[0] == 0


def test_originals_are_released_where_a_copy_suffices(
    client: FlaskClient, settings: Settings, small_clip: Path
) -> None:
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))
    clip = upload(client, small_clip).json["clip"]
    page = client.get("/storage/").text
    assert "small.mp4" in page
    with client.get("/recordings/1/original") as original:
        assert original.data == small_clip.read_bytes()
    client.post("/storage/release", data={"ids": 1})
    assert list(settings.originals.iterdir()) == []
    gone = client.get("/recordings/1/original")
    assert gone.status_code == 404
    assert "deleted" in gone.text
    # The clip is reviewed as before, and the same file is still recognised.
    assert client.get(f"/clips/{clip}/").status_code == 200
    with client.get(f"/clips/{clip}/frames/60.jpg") as still:
        assert still.status_code == 200
    assert upload(client, small_clip).status_code == 409
    # Without a copy of its own the original is the film: it stays.
    assert client.post("/storage/release", data={"ids": 1}).status_code == 422
    assert client.post("/storage/release").status_code == 422
