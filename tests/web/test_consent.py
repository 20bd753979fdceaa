"""Consent: what is not given, has ended or is withdrawn holds at once, wherever it matters."""

from __future__ import annotations

import io
import shutil
import sqlite3
from collections.abc import Iterator
from datetime import date, timedelta
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import clips, club, consents, swimmers, trail
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.workflow.consent import WORDS
from tests.conftest import BroughtIn
from tests.consents import allow, withdraw
from tests.uploading import upload

TODAY = date.today().isoformat()


@pytest.fixture
def database(settings: Settings, client: FlaskClient) -> Iterator[sqlite3.Connection]:
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Wren Alder", minor=True))
        swimmers.add(connection, Swimmer("Ola Brekke"))
        yield connection


def note(client: FlaskClient, swimmer: int, **said: object) -> tuple[int, str]:
    form = {"kind": "filming", "given_by": "Aud Alder", "given_on": TODAY, **said}
    answer = client.post(f"/swimmers/{swimmer}/consent/", data=form,
                         content_type="multipart/form-data")  # fmt: skip
    return answer.status_code, answer.text


def test_a_minor_is_filmed_only_with_a_guardians_word(
    client: FlaskClient, database: sqlite3.Connection, small_clip: Path, tmp_path: Path
) -> None:
    refused = upload(client, small_clip, swimmer_id="1")
    assert refused.status_code == 422
    assert "Nobody has allowed filming Wren Alder yet." in refused.text
    # A name in the file's name is not enough either.
    named = tmp_path / "wren-alder-side.mp4"
    shutil.copy(small_clip, named)
    taken = upload(client, named, swimmer_id="")
    assert taken.status_code == 201, taken.text
    assert clips.by_id(database, 1).swimmer_id is None
    assert client.post("/library/describe", data={"ids": 1, "swimmer_id": 1}).status_code == 422
    assert note(client, 1)[0] == 302
    assert client.post("/library/describe", data={"ids": 1, "swimmer_id": 1}).status_code == 200
    assert clips.by_id(database, 1).swimmer_id == 1
    # Withdrawn: what is there stays theirs, nothing new is given to them.
    client.post("/swimmers/1/consent/withdraw", data={"kind": "filming", "by": "Aud Alder"})
    assert client.post("/clips/1/facts", data={"swimmer_id": 1, "pool_m": 25}).status_code < 400
    client.post("/library/describe", data={"ids": 1, "swimmer_id": 2})
    again = client.post("/library/describe", data={"ids": 1, "swimmer_id": 1})
    assert "has ended" in again.text


def test_an_adult_needs_no_record_until_the_club_asks(
    client: FlaskClient, database: sqlite3.Connection
) -> None:
    adult = swimmers.by_id(database, 2)
    assert {k for k in WORDS if adult.allows(k)} == {"filming", "keeping", "sending"}
    # What an adult refuses counts, though there was nothing on record.
    client.post("/swimmers/2/consent/withdraw", data={"kind": "sending"})
    assert not swimmers.by_id(database, 2).allows("sending")
    club.set_house(database, "consent-from-everybody", 1)
    asked = swimmers.by_id(database, 2)
    assert not any(asked.allows(k) for k in WORDS)
    assert "The club asks everybody" in client.get("/swimmers/2/consent/").text
    allow(database, 2, *WORDS)
    assert all(swimmers.by_id(database, 2).allows(k) for k in WORDS)


@pytest.mark.parametrize(
    ("said", "sentence"),
    [
        ({"kind": []}, "Choose what is allowed"),
        ({"kind": "everything"}, "Choose what is allowed"),
        ({"given_by": " "}, "the guardian, for a swimmer under 18"),
        ({"given_on": "yesterday"}, "looks like 2027-03-14"),
        ({"given_on": "2999-01-01"}, "up to today"),
        ({"until": "2020-01-01"}, "comes after the day"),
        ({"paper": (io.BytesIO(b"MZ..."), "consent.pdf")}, "A scan is a PDF"),
    ],
)
def test_what_cannot_be_noted(
    client: FlaskClient, database: sqlite3.Connection, settings: Settings,
    said: dict[str, object], sentence: str,
) -> None:  # fmt: skip
    code, text = note(client, 1, **said)
    assert code == 422
    assert sentence in text
    assert consents.of_swimmer(database, 1) == []
    assert list(settings.papers.iterdir()) == []


def test_a_scan_is_kept_and_shown(
    client: FlaskClient, database: sqlite3.Connection, settings: Settings
) -> None:
    pdf = b"%PDF-1.7 signed"
    assert note(client, 1, paper=(io.BytesIO(pdf), "../../x.pdf"))[0] == 302
    (kept,) = settings.papers.iterdir()
    assert kept.read_bytes() == pdf
    shown = client.get("/swimmers/1/consent/1/paper")
    assert shown.data == pdf
    assert "attachment" in shown.headers["Content-Disposition"]
    assert shown.headers["Cache-Control"] == "private, no-store"
    shown.close()
    assert client.get("/swimmers/2/consent/1/paper").status_code == 404
    # A refused form leaves no file behind.
    note(client, 1, given_by="", paper=(io.BytesIO(pdf), "x.pdf"))
    assert len(list(settings.papers.iterdir())) == 1


def test_a_consent_ends_on_its_day(client: FlaskClient, database: sqlite3.Connection) -> None:
    yesterday = (date.today() - timedelta(days=1)).isoformat()
    soon = (date.today() + timedelta(days=20)).isoformat()
    allow(database, 1, "filming", until=yesterday)
    allow(database, 2, "squad", until=soon)
    assert not swimmers.by_id(database, 1).allows("filming")
    assert swimmers.by_id(database, 2).allows("squad")
    today = client.get("/").text
    assert "consent to being filmed has ended" in today
    assert "consent to being shown beside other swimmers ends" in today
    assert "expired" in client.get("/swimmers/1/consent/").text
    # Given anew, Today says no more of it.
    allow(database, 1, "filming")
    assert "has ended" not in client.get("/").text
    withdraw(database, 2)
    assert "other swimmers ends" not in client.get("/").text


def test_what_was_allowed_and_withdrawn_stands_in_the_trail(
    client: FlaskClient, database: sqlite3.Connection
) -> None:
    note(client, 1)
    client.post("/swimmers/1/consent/withdraw", data={"kind": "filming"})
    found = trail.find(database, swimmer_id=1, deeds=["consent-given", "consent-withdrawn"])
    assert [(s.deed, s.words) for s in found] == [
        ("consent-withdrawn", "filming"), ("consent-given", "filming"),
    ]  # fmt: skip


def test_films_past_what_the_club_keeps_are_proposed_and_released(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn, small_clip: Path
) -> None:
    brought_in(settings, [Swimmer("Wren Alder"), Swimmer("Ola Brekke")],
               (small_clip, {"filmed_on": "2025-11-20"}))  # fmt: skip
    assert "Nothing: every film" in client.get("/keeping/").text
    rules = {"originals-months": "6", "clips-months": "0", "trail-days": "365",
             "backup-hours": "24", "consent-outlives": "1"}  # fmt: skip
    assert client.post("/keeping/rules", data={**rules, "trail-days": "5"}).status_code == 422
    assert client.post("/keeping/rules", data=rules).status_code == 302
    with connected(settings.database) as connection:
        connection.execute("UPDATE recordings SET created_at = '2026-01-01T00:00:00Z'")
        original = settings.data / str(clips.by_id(connection, 1).recording.original_path)
    assert "Originals: the review copy stays" in client.get("/keeping/").text
    # What is not proposed is not released, whoever asks.
    client.post("/keeping/release", data={"clip": "1"})
    assert client.get("/clips/1/").status_code == 200
    client.post("/keeping/release", data={"recording": "1"})
    assert not original.is_file()
    assert client.get("/clips/1/").status_code == 200
    # Without consent to keep it the clip goes as well, and its review stays.
    client.post("/swimmers/1/consent/withdraw", data={"kind": "keeping"})
    assert "no consent to keep it" in client.get("/keeping/").text
    client.post("/keeping/release", data={"clip": "1"})
    assert client.get("/clips/1/").status_code == 404
    assert not list(settings.copies.glob("1.*"))
    with connected(settings.database) as connection:
        released = trail.find(connection, deeds=["released"])
        assert [(s.kind, s.thing_id, s.person) for s in released] == [
            ("clip", 1, "Coach"), ("original", 1, "Coach"),
        ]  # fmt: skip
