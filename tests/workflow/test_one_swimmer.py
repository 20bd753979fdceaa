"""One swimmer goes to another club: the ZIP file is read back with films and all work."""

from __future__ import annotations

import re
import sqlite3
import zipfile
from contextlib import closing
from pathlib import Path

import pytest
from click.testing import CliRunner
from flask.testing import FlaskClient

from norvik.cli import main
from norvik.core.errors import NorvikError
from norvik.house.swimmer_import import read_swimmer
from norvik.settings import Settings
from norvik.store import (
    clips,
    consents,
    marks,
    pains,
    remarks,
    reviews,
    swimmers,
    talks,
    trail,
    users,
)
from norvik.store.connection import connected, migrate
from norvik.store.consents import Consent
from norvik.store.one_swimmer import ROWS
from norvik.store.swimmers import Swimmer
from norvik.web import create_app
from norvik.workflow.review_judgement import review_of
from tests.conftest import COACH, TOKEN, BroughtIn, holds, signed_in
from tests.talks import clip_film, record, stage
from tests.web.beside import SLOW, mark_cycles

OTHER = "Zebulon Markerling"


@pytest.fixture
def house(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn, small_clip: Path
) -> Settings:
    """Swimmer 1 with a clip, marks, a review, a talk, a paper; swimmer 2 shares the film of 1."""
    brought_in(settings, [Swimmer("Wren Alder", aim="a better catch"), Swimmer(OTHER)],
               (small_clip, {}))  # fmt: skip
    mark_cycles(settings, 1, SLOW, 40)
    with connected(settings.database) as connection:
        review = review_of(connection, clips.by_id(connection, 1))
        reviews.set_words(connection, review.id, "Long and calm.", None, 1)
        remarks.add(connection, 1, 1, "point", "elbow drops", "left", 20, True, "")
        pains.note(connection, 1, "shoulder", "after training")
        (settings.papers / f"{'a' * 24}.pdf").write_bytes(b"%PDF- signed")
        paper = f"papers/{'a' * 24}.pdf"
        consents.add(connection, Consent(1, "filming", "Wren", False, "2026-11-01", paper=paper), 1)
        talk = talks.add(connection, review.id, 1)
        film = stage(clip_film(1, "Wren"), clip_film(7, OTHER))
        take = record(connection, talk, [film, [20.0, "frame", 0, 12], [90.0, "end"]])
        assert take == 1
    return settings


@pytest.fixture
def elsewhere(tmp_path: Path) -> Settings:
    """Another club, whose numbers are others."""
    made = Settings(tmp_path / "elsewhere")
    made.prepare()
    migrate(made.database)
    with connected(made.database) as connection:
        signed_in(connection, users.add(connection, *COACH), TOKEN)
        for name in ("A", "B", "C"):
            swimmers.add(connection, Swimmer(name))
        for table, number in (("clips", 40), ("recordings", 70), ("reviews", 20)):
            connection.execute("DELETE FROM sqlite_sequence WHERE name = ?", (table,))
            connection.execute("INSERT INTO sqlite_sequence VALUES (?, ?)", (table, number))
    return made


def exported(client: FlaskClient, tmp_path: Path) -> Path:
    answer = client.get("/swimmers/1/everything.zip")
    assert answer.status_code == 200
    path = tmp_path / "out.zip"
    path.write_bytes(answer.data)
    answer.close()
    return path


def text_of(client: FlaskClient, address: str) -> str:
    answer = client.get(address)
    assert answer.status_code == 200, address
    text = answer.get_data(as_text=True)
    answer.close()
    return text


def test_all_of_it_is_there_again(
    client: FlaskClient, house: Settings, elsewhere: Settings, tmp_path: Path
) -> None:
    packed = exported(client, tmp_path)
    with connected(elsewhere.database) as connection:
        new = read_swimmer(connection, elsewhere, packed, None)
        assert new == 4
        assert connection.execute("PRAGMA foreign_key_check").fetchall() == []
        (clip,) = clips.newest_first(connection, new)
        assert clip.id == 41
        assert clip.recording.id == 71
        assert [m.frame for m in marks.of_clip(connection, 41)]
        assert swimmers.by_id(connection, new).pain == ("shoulder",)
        (consent,) = consents.of_swimmer(connection, new)
        assert (elsewhere.data / consent.paper).read_bytes() == b"%PDF- signed"
        (review,) = reviews.of_swimmer(connection, new)
        assert review.words == "Long and calm."
        talk = talks.of_review(connection, review.id)[0]
        # The own clip is on the stage, the other one is gone, and its name with it.
        assert talks.clips_shown(connection, talk.id) == {41, 0}
        assert trail.find(connection, swimmer_id=new)[0].deed == "brought-in"
    there = create_app(elsewhere, immediate_jobs=True).test_client()
    holds(there, TOKEN)
    for table in ("events.csv", "numbers.csv"):
        before = text_of(client, f"/clips/1/files/{table}")
        assert text_of(there, f"/clips/41/files/{table}") == before
    for before, after in (("/clips/1/frames/30.jpg?w=320", "/clips/41/frames/30.jpg?w=320"),
                          ("/recordings/1/film-90.mp4", "/recordings/71/film-90.mp4"),
                          ("/recordings/1/original", "/recordings/71/original")):  # fmt: skip
        answers = client.get(before), there.get(after)
        assert answers[0].data == answers[1].data, before
        for answer in answers:
            answer.close()
    assert "Long and calm." in text_of(there, f"/reviews/{review.id}/")


def test_people_can_read_it_and_nobody_else_is_in_it(
    client: FlaskClient, house: Settings, tmp_path: Path
) -> None:
    with zipfile.ZipFile(exported(client, tmp_path)) as packed:
        names = packed.namelist()
        page = next(n for n in names if re.fullmatch(r"reviews/.*\.html", n))
        assert "Long and calm." in packed.read(page).decode()
        assert any(n.startswith("norvik/originals/") for n in names)
        for name in names:
            assert OTHER.encode() not in packed.read(name), name
        (tmp_path / "x.sqlite3").write_bytes(packed.read("norvik/swimmer.sqlite3"))
    with closing(sqlite3.connect(tmp_path / "x.sqlite3")) as connection:
        for table in ("users", "sessions", "trail", "squads", "club", "undo_steps"):
            assert connection.execute(f"SELECT count(*) FROM {table}").fetchone()[0] == 0, table
    # Every table that belongs to a swimmer or a clip goes along, or is known to stay.
    with connected(house.database) as connection:
        query = "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE '%yoyo%'"
        tables = [row[0] for row in connection.execute(query)]
    stays = {"users", "sessions", "account_links", "squads", "squad_swimmers", "squad_staff",
             "account_swimmers", "upload_owners", "trail", "backups", "club", "settings", "jobs",
             "undo_steps", "own_drills", "own_cues", "files_to_remove", "taken_uploads", "places",
             "rests_on", "mark_changes", "cut_changes", "drawing_changes", "review_links",
             "link_answers", "made_films", "drill_clips", "sqlite_sequence"}  # fmt: skip
    assert set(tables) - set(ROWS) - stays <= {"yoyo_lock"}


def test_a_film_with_others_stays_and_the_marks_go(
    client: FlaskClient, house: Settings, elsewhere: Settings, tmp_path: Path
) -> None:
    with connected(house.database) as connection:
        connection.execute(
            "INSERT INTO clips (recording_id, swimmer_id, stroke, view, role, filmed_on, is_part, "
            "first_frame, last_frame) VALUES (1, 2, 'freestyle', 'side-under', 'before', "
            "'2026-11-20', 1, 40, 80)"
        )
    packed = exported(client, tmp_path)
    with zipfile.ZipFile(packed) as archive:
        assert not [n for n in archive.namelist() if n.endswith((".mp4", ".mov"))]
    with connected(elsewhere.database) as connection:
        new = read_swimmer(connection, elsewhere, packed, None)
        (clip,) = clips.newest_first(connection, new)
        assert clip.state == "failed"
        assert "stayed in the club" in str(clip.recording.failure)
        assert marks.of_clip(connection, clip.id)


def test_what_cannot_be_read_leaves_nothing(
    client: FlaskClient, house: Settings, elsewhere: Settings, tmp_path: Path
) -> None:
    packed = exported(client, tmp_path)

    def refused(path: Path, sentence: str) -> None:
        with connected(elsewhere.database) as connection:
            with pytest.raises(NorvikError, match=sentence):
                read_swimmer(connection, elsewhere, path, None)
            assert len(swimmers.all_by_name(connection)) == 3
        assert not list(elsewhere.originals.iterdir())
        assert not list(elsewhere.copies.iterdir())
        assert not list(elsewhere.incoming.iterdir())

    def again(change: dict[str, bytes | None]) -> Path:
        """The same file with some of its members changed or left out."""
        made = tmp_path / "changed.zip"
        with zipfile.ZipFile(packed) as old, zipfile.ZipFile(made, "w") as new:
            for name in old.namelist():
                data = change.get(name, old.read(name))
                if data is not None:
                    new.writestr(name, data)
        return made

    (tmp_path / "no.zip").write_bytes(b"no zip file")
    refused(tmp_path / "no.zip", "damaged or not whole")
    (tmp_path / "half.zip").write_bytes(packed.read_bytes()[:4000])
    refused(tmp_path / "half.zip", "damaged or not whole")
    database = "norvik/swimmer.sqlite3"
    refused(again({database: None}), "There is no swimmer")
    refused(again({database: b"x" * 9000}), "is damaged")
    refused(again({"norvik/copies/1.mp4": None}), "is missing in this file")
    # Nothing in the file says where to write.
    with zipfile.ZipFile(packed) as archive:
        (tmp_path / "y.sqlite3").write_bytes(archive.read(database))
    with closing(sqlite3.connect(tmp_path / "y.sqlite3")) as connection:
        connection.execute("UPDATE recordings SET original_path = '../../evil.mp4'")
        connection.commit()
    refused(again({database: (tmp_path / "y.sqlite3").read_bytes()}), "cannot be right")
    # Read twice it would be there twice.
    with connected(elsewhere.database) as connection:
        read_swimmer(connection, elsewhere, packed, None)
        with pytest.raises(NorvikError, match="in this library already"):
            read_swimmer(connection, elsewhere, packed, None)
        assert len(swimmers.all_by_name(connection)) == 4


def test_from_the_command_line(
    client: FlaskClient, house: Settings, elsewhere: Settings, tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    out = str(tmp_path / "wren.zip")
    run = CliRunner()
    monkeypatch.setenv("NORVIK_DATA", str(house.data))
    assert "Wren Alder" in run.invoke(main, ["swimmer", "export", "wren alder", out]).output
    assert run.invoke(main, ["swimmer", "export", "nobody", out]).exit_code == 1
    monkeypatch.setenv("NORVIK_DATA", str(elsewhere.data))
    done = run.invoke(main, ["swimmer", "import", out])
    assert done.exit_code == 0, done.output
    assert "Wren Alder is here" in done.output
    assert "in this library already" in run.invoke(main, ["swimmer", "import", out]).stderr
