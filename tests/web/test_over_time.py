"""One number over the months and over paces, each with the frame that shows it."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import marks
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.clips import numbered_clip
from tests.conftest import BroughtIn

STEP = {"role": "speed-step", "filmed_on": "2026-11-27"}


@pytest.fixture(scope="module")
def films(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    folder = tmp_path_factory.mktemp("over-time")
    facts: list[dict[str, object]] = [
        {"filmed_on": "2026-09-20"},
        {"filmed_on": "2026-10-20"},
        {"filmed_on": "2026-10-20", "role": "drill"},
        {**STEP, "pace_s": 100.0},
        {**STEP, "pace_s": 80.0},
        {"filmed_on": "2026-10-21", "view": "front-under"},
    ]
    # No two files are alike: each is a frame longer than the one before.
    return [
        (numbered_clip(folder / f"{n}.mp4", [k / 30 for k in range(150 + n)]), said)
        for n, said in enumerate(facts)
    ]


@pytest.fixture
def season(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    films: list[tuple[Path, dict[str, object]]],
) -> None:  # fmt: skip
    brought_in(settings, [Swimmer("Tilde Vassholm")], *films)
    with connected(settings.database) as connection:
        for clip, long in ((1, 40), (2, 36), (3, 50), (4, 42), (5, 30)):
            for k in range(3):
                for event, at in (("entry", 0), ("catch", 0.25), ("press", 0.4), ("exit", 0.7)):
                    frame = 5 + round(long * (k + at))
                    if frame < 150:
                        marks.place(connection, clip, None, frame, "arm", "right", event)


def row(client: FlaskClient, by: str, **wish: str) -> list[tuple[int, int, str]]:
    """(clip, frame of its picture, its number) of every clip of the row."""
    page = client.get(f"/swimmers/1/over/{by}", query_string=wish).text
    return [
        (int(clip), int(frame), value)
        for clip, frame, value in re.findall(
            r"/clips/(\d+)/stills/(\d+)\.jpg.*?<b>([^<]*)</b>", page, flags=re.DOTALL
        )
    ]


def test_over_the_months_one_clip_a_day_and_no_drill(client: FlaskClient, season: None) -> None:
    found = row(client, "months", what="rate/")
    assert [clip for clip, _, _ in found] == [1, 2, 4]
    # 40, 36 and 42 frames of 1/30 s a cycle, two strokes each.
    assert [value for _, _, value in found] == ["90.0", "100.0", "85.7"]
    page = client.get("/swimmers/1/over/months?what=rate/").text
    assert "/clips/2/beside/?with=1" in page
    assert "±" in page


def test_over_paces_the_slowest_first(client: FlaskClient, season: None) -> None:
    found = row(client, "paces", what="rate/")
    assert [(clip, value) for clip, _, value in found] == [(4, "85.7"), (5, "120.0")]
    assert "1:40 per 100 m" in client.get("/swimmers/1/over/paces").text


def test_the_picture_can_be_an_event_of_the_cycle(client: FlaskClient, season: None) -> None:
    found = row(client, "months", what="rate/", at="catch/right")
    # The catch of the middle cycle of each clip.
    assert [(clip, frame) for clip, frame, _ in found] == [(1, 55), (2, 50), (4, 57)]
    page = client.get("/swimmers/1/over/months?what=rate/&at=catch/left").text
    assert page.count("This event is not marked in this clip.") == 3


def test_one_day_alone_says_what_to_film(client: FlaskClient, season: None) -> None:
    page = client.get("/swimmers/1/over/months?view=front-under").text
    assert "Film again from the same side" in page
    page = client.get("/swimmers/1/over/paces?view=front-under").text
    assert "two clips of one day" in page
    assert client.get("/swimmers/1/over/years").status_code == 404
    for odd in ("stroke=tango", "what=nonsense/left", "at=x/y", "view=moon"):
        assert client.get(f"/swimmers/1/over/months?{odd}").status_code == 200


def test_what_changed_leads_to_the_two_instants(client: FlaskClient, season: None) -> None:
    page = client.get("/clips/2/change/?with=1").text.replace("&amp;", "&")
    links = re.findall(r"/clips/2/beside/\?with=1&way=hand&one_frame=(\d+)&other_frame=(\d+)", page)
    assert links
    # The rate is shown by the beginning of the cycle that is nearest to it.
    assert ("5", "5") in links
    opened = client.get(f"/clips/2/beside/frames.json?with=1&way=hand&one_frame={links[0][0]}"
                        f"&other_frame={links[0][1]}").json  # fmt: skip
    at = opened["begin"] - opened["first"]
    assert opened["others"][0]["frames"][at] == int(links[0][1])
