"""The club's coaching approach, and what Today says there is to do."""

from __future__ import annotations

from pathlib import Path

from flask.testing import FlaskClient

from norvik.catalogue.loader import schools
from norvik.settings import Settings
from norvik.store import swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.conftest import BroughtIn


def test_new_swimmers_start_from_the_clubs_approach(
    client: FlaskClient, settings: Settings
) -> None:
    question = schools()[0]
    usual = question.chosen({}).id
    other = next(s.id for s in question.schools if s.id != usual)
    with connected(settings.database) as connection:
        before = swimmers.add(connection, Swimmer("Tilde Vassholm"))
    client.post("/club/", data={f"school-{question.id}": other, "school-nothing": "x"})
    assert f'value="{other}" checked' in client.get("/club/").text
    assert f'value="{other}" checked' in client.get("/swimmers/new").text
    made = client.post("/swimmers/quick", data={"name": "Ida Brekke"}).json["id"]
    with connected(settings.database) as connection:
        assert swimmers.by_id(connection, made).schools == {question.id: other}
        # Who was there before keeps what was judged by.
        assert swimmers.by_id(connection, before).schools == {}


def test_today_counts_the_work_by_kind_and_lists_it_by_swimmer(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn, small_clip: Path
) -> None:
    squad = [Swimmer("Tilde Vassholm"), Swimmer("Ida Brekke")]
    brought_in(settings, squad, (small_clip, {"swimmer_id": 2}))
    page = client.get("/").text
    assert "Mark 1 clip" in page
    assert "about 5 min" in page
    assert "Ida Brekke" in page
    assert "Judge" not in page.split("Waiting for review")[0].split('aria-label="To do"')[1]
    client.post("/clips/1/marks", data={"frame": 3, "lane": "arm", "side": "left", "event": "next"})
    page = client.get("/").text
    assert "Judge 1 clip" in page
    assert "Mark 1 clip" not in page
