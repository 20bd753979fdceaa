"""Pairs and strips of two films in the review: kept, captioned, shown, and left out."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
from flask.testing import FlaskClient
from PIL import Image

from norvik.settings import Settings
from norvik.store import review_pairs
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.clips import numbered_clip, read_number
from tests.conftest import BroughtIn
from tests.consents import allow, withdraw
from tests.web.beside import FAST, JSON, SLOW, mark_cycles


@pytest.fixture(scope="module")
def films(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    folder = tmp_path_factory.mktemp("pairs")
    slow = numbered_clip(folder / "slow.mp4", [k / 30 for k in range(150)])
    fast = numbered_clip(folder / "fast.mp4", [k / 60 for k in range(220)])
    return [(slow, {"filmed_on": "2026-11-20"}), (fast, {"filmed_on": "2026-11-27"})]


@pytest.fixture
def pair(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    films: list[tuple[Path, dict[str, object]]],
) -> list[int]:  # fmt: skip
    squad = [Swimmer("Tilde Vassholm"), Swimmer("Eirik Lundstrand")]
    ids = brought_in(settings, squad, *films)
    mark_cycles(settings, ids[0], SLOW, 40)
    mark_cycles(settings, ids[1], FAST, 60)
    return ids


def keep(client: FlaskClient, **said: object) -> tuple[int, str]:
    """(status, address of the review or the sentence)."""
    values = {"with": 1, "frame": 13, "at": 15, **said}
    answer = client.post("/clips/2/beside/keep", data=values, headers=JSON)
    return answer.status_code, answer.json.get("review") or answer.json["sentence"]


def picture(client: FlaskClient, address: str) -> np.ndarray:  # type: ignore[type-arg]
    return np.asarray(Image.open(io.BytesIO(client.get(address).data)).convert("RGB"), np.uint8)


def test_a_pair_stands_in_the_review_the_earlier_film_first(
    client: FlaskClient, pair: list[int]
) -> None:
    status, review = keep(client, caption="  The elbow  stays up ")
    assert status == 200
    page = client.get(review).text
    assert "<b>20 November 2026</b>" in page.split('id="pairs"')[1]
    assert page.index("<b>20 November 2026</b>") < page.index("<b>27 November 2026</b>")
    assert "The elbow stays up" in page
    # Frame 13 of the later film is the catch.
    assert "Catch" in page.split('id="pairs"')[1]
    base = review.split("#")[0]
    assert read_number(picture(client, f"{base}pairs/1/0-0.jpg")) == 15
    assert read_number(picture(client, f"{base}pairs/1/0-1.jpg")) == 13
    whole = picture(client, f"{base}pairs/1.png")
    assert whole.shape[1] == 1280
    sent = client.get(f"{base}file").text
    assert sent.split('id="pairs"')[1].count("data:image/jpeg") == 2
    paper = client.get(f"{base}review.pdf").data
    assert paper.startswith(b"%PDF")


def test_a_strip_has_all_instants_with_what_each_phase_took(
    client: FlaskClient, pair: list[int]
) -> None:
    _, review = keep(client, what="strip")
    page = client.get(review).text.split('id="pairs"')[1]
    assert page.count("<img ") >= 10
    assert "Catch: 0.33 s, 10 frames after" in page
    assert "Catch: 0.13 s, 8 frames after" in page


def test_the_model_swimmer_stays_in_the_review_as_it_was_filmed(
    client: FlaskClient, pair: list[int], settings: Settings
) -> None:
    client.get("/clips/2/beside/?with=model")
    status, review = keep(client, **{"with": "model", "at": 30})
    assert status == 200
    with connected(settings.database) as connection:
        (kept,) = review_pairs.of_review(
            connection, connection.execute("SELECT max(review_id) FROM review_pairs").fetchone()[0]
        )
        assert kept.other_model is not None
        assert kept.other_model["cycles_per_min"] == 60
        # Marks that change afterwards change nothing of what the coach kept.
        connection.execute("DELETE FROM marks WHERE clip_id = 2")
    assert "Model swimmer: swims well" in client.get(review).text
    assert picture(client, f"{review.split('#')[0]}pairs/1/0-1.jpg").shape[1] == 640


@pytest.mark.parametrize(
    ("said", "words"),
    [
        ({"frame": 9999}, "not in the film"),
        ({"at": -1}, "not in the film"),
        ({"caption": "x" * 301}, "at most 300"),
        ({"what": "strip", "m": 7}, "whole cycle"),
    ],
)
def test_what_cannot_be_kept_is_refused_and_nothing_stays(
    client: FlaskClient, pair: list[int], settings: Settings, said: dict[str, object], words: str
) -> None:
    status, sentence = keep(client, **said)
    assert status == 422
    assert words in sentence
    with connected(settings.database) as connection:
        assert review_pairs.of_review(connection, 1) == []


def test_captions_change_and_pairs_go(client: FlaskClient, pair: list[int]) -> None:
    _, review = keep(client)
    base = review.split("#")[0]
    client.post(f"{base}pairs/1/caption", data={"caption": "Look at the hand"})
    assert "Look at the hand" in client.get(base).text
    long = client.post(f"{base}pairs/1/caption", data={"caption": "x" * 301}, headers=JSON)
    assert long.status_code == 422
    client.post(f"{base}pairs/1/remove")
    assert 'id="pairs"' not in client.get(base).text
    for gone in ("pairs/1.png", "pairs/1/0-0.jpg"):
        assert client.get(f"{base}{gone}", headers=JSON).status_code == 404
    assert client.post(f"{base}pairs/1/caption", data={"caption": "x"}).status_code == 404


def test_a_pair_goes_with_its_clip_and_with_the_leave(
    client: FlaskClient, pair: list[int], settings: Settings
) -> None:
    with connected(settings.database) as connection:
        connection.execute("UPDATE clips SET swimmer_id = 2 WHERE id = 1")
        allow(connection, 2, "squad")
    _, review = keep(client)
    base = review.split("#")[0]
    assert "Eirik Lundstrand" in client.get(base).text
    with connected(settings.database) as connection:
        withdraw(connection, 2)
    assert "Eirik Lundstrand" not in client.get(base).text
    assert client.get(f"{base}pairs/1/0-1.jpg", headers=JSON).status_code == 404
    with connected(settings.database) as connection:
        allow(connection, 2, "squad")
        connection.execute("UPDATE clips SET trashed_at = '2026-11-28T08:00:00Z' WHERE id = 1")
    assert 'id="pairs"' not in client.get(base).text
    with connected(settings.database) as connection:
        connection.execute("DELETE FROM clips WHERE id = 1")
        assert review_pairs.of_review(connection, 1) == []
