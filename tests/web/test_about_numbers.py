"""Every number of the bench opens its definition, its unit and what is normal for the swimmer."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.core.strokes import STROKES
from norvik.core.time.quantities import QUANTITIES, TOPICS
from norvik.settings import Settings
from norvik.store import clips, marks, swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.conftest import BroughtIn


@pytest.fixture
def clip(client: FlaskClient, settings: Settings, small_clip: Path, brought_in: BroughtIn) -> int:
    return brought_in(settings, [Swimmer("Tilde Vassholm", level="beginner")], (small_clip, {}))[0]


@pytest.mark.parametrize("stroke", STROKES)
def test_all_numbers_of_a_stroke_are_explained(
    client: FlaskClient, settings: Settings, clip: int, stroke: str
) -> None:
    with connected(settings.database) as connection:
        clips.change_facts(connection, [clip], stroke=stroke)
    for topic in TOPICS:
        page = client.get(f"/clips/{clip}/about-numbers/?topic={topic}").text
        for quantity in QUANTITIES.values():
            here = quantity.topic == topic and stroke in quantity.strokes
            assert not here or quantity.definition.split('"')[0].split("'")[0] in page, quantity.id
            assert not here or quantity.definition, quantity.id


def test_what_is_good_goes_by_level_and_says_whose_choice_it_is(
    client: FlaskClient, settings: Settings, clip: int
) -> None:
    url = f"/clips/{clip}/about-numbers/?topic=coordination"
    page = client.get(url).text
    assert "Good: up to 3.0 % (fault limit: common practice; good limit: our own choice)" in page
    # No mark, no value; two whole cycles, and it stands beside its definition.
    assert "<b>" not in page
    with connected(settings.database) as connection:
        for frame in (0, 30, 60):
            marks.place(connection, clip, None, frame, "arm", "right", "entry")
            marks.place(connection, clip, None, frame + 15, "arm", "left", "entry")
        swimmer = swimmers.by_id(connection, 1)
    assert "<b>0.0</b>" in client.get(url).text
    assert swimmer.level == "beginner"


def test_an_unknown_topic_shows_the_rate(client: FlaskClient, clip: int) -> None:
    page = client.get(f"/clips/{clip}/about-numbers/?topic=tides").text
    assert "Rate: what the numbers mean" in page
    assert "60 ÷ mean cycle time × 2: two arm strokes per cycle." in page
    assert client.get("/clips/99/about-numbers/").status_code == 404
