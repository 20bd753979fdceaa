"""Swims by lengths on their pages."""

from __future__ import annotations

from io import BytesIO
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.core.followup.length_log import Length, length_log
from norvik.settings import Settings
from norvik.store import swimmers, swims
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.web.swimmer.length_chart import HEIGHT, WIDTH, chart_of
from tests.conftest import BroughtIn

URL = "/swimmers/1/swims"
FORM = {"swum_on": "2026-11-20", "pool_m": "25", "stroke": "freestyle", "total": "1:28.0",
        "lengths": "21 18 easy 4\n22 19\n23 20\n22 19", "note": "last set"}  # fmt: skip


@pytest.fixture(autouse=True)
def swimmer(client: FlaskClient, settings: Settings) -> None:
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))


def test_a_typed_swim_is_worked_out_and_given_back(client: FlaskClient) -> None:
    assert "No swims yet" in client.get(URL).text
    answer = client.post(URL, data=FORM)
    assert answer.location == "/swims/1"
    page = client.get("/swims/1").text
    for words in ("100 m freestyle", "1:28.00", "Steady", "agree with the watch", "easy",
                  "51.4", "63.5"):  # fmt: skip
        assert words in page, words
    assert "100 m freestyle" in client.get(URL).text
    table = client.get("/swims/1/lengths.csv").data
    again = client.post(URL, data={**FORM, "lengths": "", "file": (BytesIO(table), "lengths.csv")})
    assert client.get(f"{again.location}/lengths.csv").data == table
    client.post("/swims/1/delete")
    assert client.get("/swims/1").status_code == 404
    assert client.get("/swims/2").status_code == 200


def test_a_watch_that_disagrees_is_pointed_out(client: FlaskClient) -> None:
    client.post(URL, data={**FORM, "total": "1:50"})
    page = client.get("/swims/1").text
    assert "add up to 88.0 s, the watch says 110.0 s" in page
    assert "−22.0 s apart" in page


@pytest.mark.parametrize(
    ("more", "words"),
    [({"lengths": "21 18\nsoon"}, "Row 2"), ({"lengths": ""}, "no length"),
     ({"pool_m": "5"}, "pool"), ({"total": "late"}, "Row 1"), ({"swum_on": "x"}, "2027-03-14"),
     ({"stroke": "x"}, "stroke")],
)  # fmt: skip
def test_a_swim_that_cannot_be_stays_in_the_form(
    client: FlaskClient, more: dict[str, str], words: str
) -> None:
    answer = client.post(URL, data={**FORM, **more})
    assert answer.status_code == 422
    assert words in answer.text
    assert "last set" in answer.text
    assert "No swims yet" in answer.text


def test_the_chart_stays_within_its_drawing() -> None:
    for count in (1, 4, 60):
        log = length_log([Length(20 + n % 3, 18 + n % 5) for n in range(count)], 25)
        chart = chart_of(log)
        assert len(chart.bars) == len(chart.points) == count
        for bar in chart.bars:
            assert 0 <= bar.x <= bar.x + bar.width <= WIDTH
            assert 0 <= bar.y <= bar.y + bar.height <= HEIGHT
        assert all(0 < x < WIDTH and 0 < y < HEIGHT for x, y, _ in chart.points)
        assert len(chart.numbers) <= 21
    bars = chart_of(length_log([Length(20, 10), Length(20, 20)], 25)).bars
    assert bars[1].height == pytest.approx(2 * bars[0].height, abs=0.2)


def test_a_swim_is_put_right_and_the_change_undone(client: FlaskClient, settings: Settings) -> None:
    client.post(URL, data=FORM)
    page = client.get("/swims/1/edit").text
    assert "21,18,easy,4" in page
    refused = client.post("/swims/1/edit", data={**FORM, "lengths": "21 18 x"})
    assert refused.status_code == 422
    assert "says nothing" in refused.text
    assert "21 18 x" in refused.text
    answer = client.post("/swims/1/edit", data={**FORM, "lengths": "21 18\n22 19", "total": ""})
    assert answer.location == "/swims/1"
    with connected(settings.database) as connection:
        assert len(swims.by_id(connection, 1).lengths) == 2
        (step,) = connection.execute("SELECT max(id) FROM undo_steps").fetchone()
    assert client.post(f"/undo/{step}").status_code == 200
    with connected(settings.database) as connection:
        assert len(swims.by_id(connection, 1).lengths) == 4


def test_a_usual_count_is_told_of_adults_in_25_m_freestyle_alone(
    client: FlaskClient, settings: Settings
) -> None:
    client.post(URL, data=FORM)
    client.post(URL, data={**FORM, "stroke": "backstroke"})
    client.post(URL, data={**FORM, "pool_m": "50"})
    assert "20 to 22 strokes for 25 m" in client.get("/swims/1").text
    assert "20 to 22" not in client.get("/swims/2").text
    assert "20 to 22" not in client.get("/swims/3").text
    with connected(settings.database) as connection:
        connection.execute("UPDATE swimmers SET minor = 1")
    assert "20 to 22" not in client.get("/swims/1").text


def test_whole_lengths_on_a_film_fill_the_log(
    client: FlaskClient, settings: Settings, small_clip: Path, brought_in: BroughtIn
) -> None:
    (clip,) = brought_in(settings, [Swimmer("Tilde Vassholm")], (small_clip, {"pool_m": 25.0}))
    url = f"/clips/{clip}/lengths"
    assert "No whole length" in client.post(url).text
    for frame, lane, side, event in (
        (0, "wall", "", "push"), (10, "leg", "left", "beat"), (20, "wall", "", "breakout"),
        (25, "arm", "right", "entry"), (40, "arm", "left", "entry"), (87, "wall", "", "touch"),
    ):  # fmt: skip
        client.post(
            f"/clips/{clip}/marks",
            data={"frame": frame, "lane": lane, "side": side, "event": event},
        )
    assert "1 whole length" in client.get(URL).text
    page = client.get(client.post(url).location).text
    assert "Kicks off the wall" in page
    with connected(settings.database) as connection:
        (swim,) = swims.of_swimmer(connection, 1)
        assert swim.clip_id == clip
        (one,) = swim.lengths
    assert one.seconds == pytest.approx(87 / 30)
    assert (one.strokes, one.kicks, one.under_s) == (2, 1, pytest.approx(20 / 30))
    # Read from film again it takes the place of the first.
    client.post(url)
    with connected(settings.database) as connection:
        assert len(swims.of_swimmer(connection, 1)) == 1
        connection.execute("UPDATE clips SET pool_m = NULL")
    assert "how long the pool" in client.post(url).text
    assert "Enter pool length" in client.get(URL).text
