"""Gone means gone: marker strings planted in everything of a swimmer are found nowhere after it."""

from __future__ import annotations

import os
import sqlite3
import time
import zlib
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.jobs.sweep import KEEP_S, sweep
from norvik.settings import Settings
from norvik.store import (
    clips,
    club,
    consents,
    jobs,
    made_films,
    pains,
    remarks,
    review_links,
    reviews,
    squads,
    swimmers,
    talks,
    trail,
    undo,
    users,
)
from norvik.store.connection import connected
from norvik.store.consents import Consent
from norvik.store.swimmers import Swimmer
from norvik.workflow.review_judgement import review_of
from tests.conftest import PASSWORD, PASSWORD_HASH, BroughtIn
from tests.talks import clip_film, record, stage

MARK = "Zebulonmarker"
#: Words of the planted swimmer, each in a place of its own.
NAME = f"{MARK} Quillfeather"


@pytest.fixture
def planted(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn, small_clip: Path,
    tmp_path: Path,
) -> None:  # fmt: skip
    """Swimmer 1 with the mark in every text, file name and picture; swimmer 2 beside them."""
    own = tmp_path / f"{MARK.lower()}-side.mp4"
    own.write_bytes(small_clip.read_bytes())
    brought_in(
        settings,
        [Swimmer(NAME, aim=f"{MARK} aim", email=f"{MARK.lower()}@club.example"), Swimmer("Ola")],
        (own, {}),
    )
    with connected(settings.database) as connection:
        clip = clips.by_id(connection, 1)
        review = review_of(connection, clip)
        reviews.set_words(connection, review.id, f"{MARK} words", None, 1)
        remarks.add(connection, 1, 1, "point", f"{MARK} remark", "", 10, True, "")
        pains.note(connection, 1, "shoulder", f"{MARK} pain")
        consents.add(connection, Consent(1, "filming", f"{MARK} mother", True, "2026-11-01"), 1)
        own_talk = talks.add(connection, review.id, 1)
        record(connection, own_talk, [stage(clip_film(1, f"{MARK} on stage")), [90.0, "end"]])
        link = review_links.add(connection, review.id, "2999-01-01", None, 1)
        review_links.add_answer(
            connection, link, "a-key-of-a-phone", None, "", "", None, "", f"{MARK} answer"
        )
        film = settings.films / f"{MARK}.mp4"
        film.write_bytes(MARK.encode())
        made_films.put(
            connection, {"what": "clip", "clip_id": 1}, review.id, 1, settings.relative(film), 1, 1
        )
        jobs.add(connection, "read-clip", {"clip_id": 1, "note": MARK}, None)
        account = users.add(
            connection, f"{MARK.lower()}@home.example", NAME, "swimmer", PASSWORD_HASH
        )
        squads.set_own_swimmers(connection, account, [1])
        trail.add(connection, account, "signed-in", "", None, 1, "", "")
        with undo.undoable(connection, 1, [("swimmers", "id", 1)]) as step:
            connection.execute("UPDATE swimmers SET aim = ? WHERE id = 1", (f"{MARK} new aim",))
            step.text = f"{MARK} changed."
        # A film of the other swimmer whose talk shows this one beside.
        other = connection.execute(
            "INSERT INTO clips (recording_id, swimmer_id, stroke, view, role, filmed_on, is_part, "
            "first_frame, last_frame) VALUES (1, 2, 'freestyle', 'side-under', 'before', "
            "'2026-11-20', 1, 40, 80) RETURNING id"
        ).fetchone()[0]
        of_other = review_of(connection, clips.by_id(connection, other))
        talk = talks.add(connection, of_other.id, 1)
        both = stage(clip_film(other, "Ola"), clip_film(1, f"{MARK} beside"))
        record(connection, talk, [both, [60.0, "end"]], key="take-0002")
        beside = settings.films / "beside.mp4"
        beside.write_bytes(MARK.encode())
        made_films.put(
            connection, {"what": "talk", "talk_id": talk, "revision": 1}, of_other.id, None,
            settings.relative(beside), 1, 1,
        )  # fmt: skip
    (settings.talk_sounds / "1-2.m4a").write_bytes(MARK.encode())
    client.get("/clips/1/frames/30.jpg?w=320").close()


def found_in(settings: Settings) -> Iterator[str]:
    """Every file, and every compressed cell of the database, that holds the mark."""
    for path in settings.data.rglob("*"):
        if path.is_file() and MARK.lower().encode() in path.read_bytes().lower():
            yield settings.relative(path)
        if MARK.lower() in path.name.lower():
            yield f"name of {settings.relative(path)}"
    with closing(sqlite3.connect(settings.database)) as connection:
        for (packed,) in connection.execute("SELECT deeds FROM talk_bits"):
            if MARK.encode() in zlib.decompress(packed):
                yield "deeds of a talk"


def test_nothing_of_a_swimmer_is_left(
    client: FlaskClient, planted: None, settings: Settings
) -> None:
    with connected(settings.database) as connection:
        club.set_house(connection, "consent-outlives", 0)
    assert len(set(found_in(settings))) >= 5
    page = client.get("/swimmers/1/erase")
    assert "One film on which other swimmers are" in page.text
    assert client.post("/swimmers/1/erase", data={"name": "Somebody"}).status_code == 422
    unproved = client.post("/swimmers/1/erase", data={"name": NAME, "password": "not mine at all"})
    assert unproved.status_code == 422
    assert "Nothing was erased" in unproved.text
    said = {"name": NAME.lower(), "password": PASSWORD}
    done = client.post("/swimmers/1/erase", data=said)
    assert done.status_code == 200
    assert "is erased" in done.text
    assert "1 account" in done.text
    assert "1 consent record" in done.text
    assert list(found_in(settings)) == []
    with connected(settings.database) as connection:
        assert connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        assert connection.execute("PRAGMA foreign_key_check").fetchall() == []
        assert (
            connection.execute("SELECT count(*) FROM jobs WHERE kind = 'read-clip'").fetchone()[0]
            == 0
        )
        # The other swimmer keeps the clip and the talk, without the film that showed both.
        assert clips.by_id(connection, 2).swimmer_id == 2
        assert made_films.paths(connection) == set()
        steps = trail.find(connection, deeds=["erased"])
        assert [(s.kind, s.thing_id, s.person) for s in steps] == [("swimmer", 1, "Coach")]
    assert client.get("/swimmers/1").status_code == 404
    assert client.get("/clips/2/").status_code == 200


def test_the_consent_record_stays_where_the_club_keeps_it(
    client: FlaskClient, planted: None, settings: Settings
) -> None:
    assert "The consent record" in client.get("/swimmers/1/erase").text
    client.post("/swimmers/1/erase", data={"name": NAME, "password": PASSWORD})
    assert set(found_in(settings)) <= {"norvik.sqlite3"}
    with connected(settings.database) as connection:
        (row,) = connection.execute("SELECT * FROM consents").fetchall()
        assert (row["swimmer_id"], row["swimmer_name"]) == (None, NAME)
        # Nothing else holds the name.
        connection.execute("DELETE FROM consents")
        connection.execute("VACUUM")
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    assert list(found_in(settings)) == []


def test_who_left_a_month_ago_is_erased_by_the_worker(
    client: FlaskClient, planted: None, settings: Settings
) -> None:
    client.post("/swimmers/1/remove")
    sweep(settings)
    with connected(settings.database) as connection:
        assert swimmers.by_id(connection, 1, removed=True).name == NAME
        connection.execute("UPDATE swimmers SET removed_at = '2026-01-01T00:00:00Z' WHERE id = 1")
    sweep(settings)
    assert set(found_in(settings)) <= {"norvik.sqlite3"}  # the consent record


def test_a_copy_that_a_late_worker_puts_down_goes_with_the_next_sweep(
    client: FlaskClient, planted: None, settings: Settings
) -> None:
    """A worker elsewhere had not heard that the recording was erased while it worked."""
    late, kept = settings.copies / "99.mp4", settings.copies / "1.mp4"
    late.write_bytes(NAME.encode())
    sweep(settings)
    assert late.exists(), "it may be of a recording that is just coming in"
    for path in (late, kept):
        os.utime(path, (time.time() - 2 * KEEP_S,) * 2)
    sweep(settings)
    assert (late.exists(), kept.exists()) == (False, True)
