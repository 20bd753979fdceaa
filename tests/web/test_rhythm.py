"""The best rhythm of a swimmer, and the page that beats it."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import best_rhythms, swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.uploading import add_clip, upload


@pytest.fixture
def clip(client: FlaskClient, settings: Settings, small_clip: Path) -> int:
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))
    return int(upload(client, small_clip).json["clip"])


def test_a_best_rhythm_is_kept_from_a_marked_clip(
    client: FlaskClient, settings: Settings, clip: int
) -> None:
    page = client.get("/swimmers/1/rhythm").text
    assert "No best stroke rate saved yet" in page
    assert 'data-begin="28.5"' in page  # 57 strokes/min (common practice)
    answer = client.post(f"/clips/{clip}/best-rhythm")
    assert answer.status_code == 422
    assert "whole cycle" in answer.text
    for frame in (0, 60):
        client.post(
            f"/clips/{clip}/marks",
            data={"frame": frame, "lane": "arm", "side": "right", "event": "entry"},
        )
    assert client.post(f"/clips/{clip}/best-rhythm").location == f"/clips/{clip}/"
    assert "Saved as best stroke rate, 60.0 strokes/min" in client.get(f"/clips/{clip}/").text
    page = client.get("/swimmers/1/rhythm").text
    assert 'data-begin="30' in page
    assert "Best stroke rate 60.0 strokes/min, from 1 clip" in page
    # Of another stroke nothing is known.
    assert "No best stroke rate saved yet" in client.get("/swimmers/1/rhythm?stroke=butterfly").text
    client.post(f"/clips/{clip}/best-rhythm", data={"not": "1"})
    assert "No best stroke rate saved yet" in client.get("/swimmers/1/rhythm").text
    client.post("/library/describe", data={"ids": clip, "swimmer_id": "none"})
    assert "Assign a swimmer first" in client.post(f"/clips/{clip}/best-rhythm").text


def test_the_band_runs_from_the_slowest_to_the_quickest(
    settings: Settings, client: FlaskClient
) -> None:
    with connected(settings.database) as connection:
        tilde = swimmers.add(connection, Swimmer("Tilde Vassholm"))
        for n, rate in enumerate((27.5, 29.0, 28.0)):
            best_rhythms.keep(connection, add_clip(connection, tilde, f"{n}.mp4"), rate)
        other = add_clip(connection, tilde, "fly.mp4", stroke="butterfly")
        best_rhythms.keep(connection, other, 50.0)
        band = best_rhythms.band(connection, tilde, "freestyle")
        assert band is not None
        assert (band.low, band.high, band.clips, band.middle) == (27.5, 29.0, 3, 28.25)
        # A clip in the trash says nothing.
        connection.execute("UPDATE clips SET trashed_at = '2026-11-21' WHERE id = 2")
        band = best_rhythms.band(connection, tilde, "freestyle")
        assert band is not None
        assert band.high == 28.0
    assert "55.0 to 56.0 strokes/min, from 2 clips" in client.get("/swimmers/1/rhythm").text
