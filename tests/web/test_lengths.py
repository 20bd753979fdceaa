"""Swims by lengths on their pages."""

from __future__ import annotations

from io import BytesIO

import pytest
from flask.testing import FlaskClient

from norvik.core.lengthlog import Length, length_log
from norvik.settings import Settings
from norvik.store import swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.web.length_chart import HEIGHT, WIDTH, chart_of

URL = "/swimmers/1/swims"
FORM = {"swum_on": "2026-11-20", "pool_m": "25", "stroke": "freestyle", "total": "1:28.0",
        "lengths": "21 18 easy 4\n22 19\n23 20\n22 19", "note": "last set"}  # fmt: skip


@pytest.fixture(autouse=True)
def swimmer(client: FlaskClient, settings: Settings) -> None:
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))


def test_a_typed_swim_is_worked_out_and_given_back(client: FlaskClient) -> None:
    assert "No swim yet" in client.get(URL).text
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
    assert "No swim yet" in answer.text


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
