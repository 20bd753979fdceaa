"""Files to take away: names, styles of tables, and that each carries what it means."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import club, marks, swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.uploading import upload

ARM = {"kind": "measure", "name": "high-elbow", "side": "left", "points": "50,10 200,80 300,120"}


@pytest.fixture
def clip(client: FlaskClient, settings: Settings, small_clip: Path) -> int:
    """Three seconds at 30 frames/s of a swimmer whose name no Latin alphabet has, with marks."""
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("水野 Łucja"))
    made = int(upload(client, small_clip, pool_m=25).json["clip"])
    with connected(settings.database) as connection:
        for begin in (0, 30, 60):
            for event, share in (("entry", 0), ("catch", 8), ("press", 12), ("exit", 22)):
                marks.place(connection, made, None, begin + share, "arm", "right", event)
    client.post(f"/clips/{made}/drawings/", data={**ARM, "frame": 12})
    return made


FILES = ("events.csv", "numbers.csv", "measures.csv", "chapters.vtt", "numbers.json", "about.json")


@pytest.mark.parametrize("name", FILES)
def test_every_name_can_be_downloaded(client: FlaskClient, clip: int, name: str) -> None:
    answer = client.get(f"/clips/{clip}/files/{name}")
    assert answer.status_code == 200
    said = answer.headers["Content-Disposition"]
    # RFC 5987: the whole name in UTF-8.
    assert "filename*=UTF-8''%E6%B0%B4%E9%87%8E%20%C5%81ucja" in said
    said.encode("latin-1")
    assert answer.headers["Content-Type"].count("charset") <= 1


def rows_of(text: str, separator: str = ",") -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(text.lstrip("\ufeff"), newline=""), delimiter=separator))


def test_numbers_have_both_plus_minus(client: FlaskClient, clip: int) -> None:
    rows = {r["quantity"]: r for r in rows_of(client.get(f"/clips/{clip}/files/numbers.csv").text)}
    rate = rows["rate"]
    assert float(rate["value"]) == pytest.approx(120)
    assert float(rate["clip_95"]) == pytest.approx(2 * float(rate["u_clip"]))
    assert float(rate["swimmer_95"]) == pytest.approx(
        float(rate["k95"]) * float(rate["u_swimmer"]), rel=1e-6
    )
    found = json.loads(client.get(f"/clips/{clip}/files/numbers.json").data)
    assert found["u_clip"]["rate.strokes_per_min"] == pytest.approx(float(rate["u_clip"]))


def test_measures_leave_with_their_points(client: FlaskClient, clip: int) -> None:
    (row,) = rows_of(client.get(f"/clips/{clip}/files/measures.csv").text)
    assert (row["measure"], row["side"], row["frame"]) == ("high-elbow", "left", "12")
    assert float(row["time_s"]) == pytest.approx(0.4)
    assert float(row["u"]) > 0
    assert row["points_px"] == "50.00;10.00 200.00;80.00 300.00;120.00"


def test_what_it_means_stands_beside_it(client: FlaskClient, clip: int) -> None:
    about = json.loads(client.get(f"/clips/{clip}/files/about.json").data)
    assert (about["stroke"], about["pool, metres"]) == ("freestyle", "25")
    assert float(about["frames a second, in real time"]) == pytest.approx(30, rel=1e-3)
    assert about["program"].startswith("Norvik ")
    assert "95 of 100" in about["coverage"]
    data = client.get(f"/clips/{clip}/files/everything.zip").data
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        names = set(archive.namelist())
        assert {"about.txt", "events.csv", "numbers.json", "measures.csv", "tracks.csv"} <= names
        assert "stroke: freestyle" in archive.read("about.txt").decode()


def test_tables_as_the_club_opens_them(client: FlaskClient, clip: int, settings: Settings) -> None:
    address = f"/clips/{clip}/files/numbers.csv"
    asked = client.get(f"{address}?as=comma")
    assert asked.data.startswith(b"\xef\xbb\xbf")
    assert rows_of(asked.text, ";")[0]["value"] == "120"
    client.post("/club/tables", data={"style": "xlsx"})
    book = client.get(address)
    assert book.data.startswith(b"PK")
    assert book.headers["Content-Disposition"].endswith("numbers.xlsx")
    # What is asked for in the address goes before it; what is not known is the standard.
    assert client.get(f"{address}?as=csv").text.startswith("quantity,name")
    client.post("/club/tables", data={"style": "parchment"})
    with connected(settings.database) as connection:
        assert club.tables(connection) == "xlsx"


def test_a_swimmers_season_training_and_pain(client: FlaskClient, clip: int) -> None:
    client.post("/swimmers/1/pain", data={"part": "shoulder", "what": "note", "note": "left"})
    (season,) = rows_of(client.get("/swimmers/1/season.csv").text)
    assert (season["clip"], season["rate_unit"]) == (str(clip), "strokes/min")
    assert float(season["rate"]) == pytest.approx(120)
    assert rows_of(client.get("/swimmers/1/training.csv").text) == []
    pain = rows_of(client.get("/swimmers/1/pain.csv").text)
    assert all(p["part"] == "shoulder" for p in pain)
    with client.get("/swimmers/1/everything.zip") as answer:
        data = answer.data
        assert answer.content_length == len(data)
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        names = set(archive.namelist())
    assert {"season.csv", "training.csv", "pain.csv"} <= names
    assert any(n.endswith("numbers.csv") for n in names)
    assert client.get("/swimmers/1/secrets.csv").status_code == 404


def test_marking_error_is_a_setting_of_the_club(client: FlaskClient, clip: int) -> None:
    page = client.get("/club/").text
    assert "Hand entry and exit" in page
    before = rows_of(client.get(f"/clips/{clip}/files/numbers.csv").text)[0]
    fields = [f"{family}-{name}" for family in ("water", "hold", "kick", "breath", "bubbles",
              "wall", "course") for name in ("spread_ms", "spread_frames", "habit_ms",
                                             "habit_frames")]  # fmt: skip
    sent = dict.fromkeys(fields, "0") | {"water-spread_ms": "80,5"}
    assert client.post("/club/marking", data=sent).status_code == 302
    after = rows_of(client.get(f"/clips/{clip}/files/numbers.csv").text)[0]
    assert float(after["u_clip"]) > 2 * float(before["u_clip"])
    assert client.post("/club/marking", data={**sent, "wall-habit_ms": "-1"}).status_code == 422
    client.post("/club/marking", data={"shipped": "1"})
    back = rows_of(client.get(f"/clips/{clip}/files/numbers.csv").text)[0]
    assert back["u_clip"] == before["u_clip"]
