"""Uploads by the tus protocol: broken off, gone on with after a restart, refused, named."""

from __future__ import annotations

import hashlib
import shutil
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.core.time.timebase import Stretch
from norvik.intake.guess import guess
from norvik.settings import Settings
from norvik.store import clips, swimmers
from norvik.store.clips import Facts
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.web.footage.uploads import Uploads
from tests.clips import numbered_clip
from tests.uploading import TUS, begin, piece, take, upload


@pytest.fixture(autouse=True)
def squad(settings: Settings, client: FlaskClient) -> None:
    with connected(settings.database) as connection:
        for name in ("Tilde Vassholm", "Eirik Lundstrand"):
            swimmers.add(connection, Swimmer(name))


def files_in(settings: Settings) -> list[str]:
    folders = (settings.originals, settings.copies, settings.incoming, settings.pictures)
    return [p.name for folder in folders for p in folder.iterdir()]


def offset(client: FlaskClient, address: str) -> int:
    return int(client.head(address, headers=TUS).headers["Upload-Offset"])


def test_an_upload_goes_on_where_it_broke_off(
    client: FlaskClient, settings: Settings, small_clip: Path
) -> None:
    data = small_clip.read_bytes()
    third = len(data) // 3
    address = begin(client, len(data)).headers["Location"]
    assert piece(client, address, 0, data[:third]).status_code == 204
    # A piece that is sent again, or from the wrong place, is refused, and nothing is lost.
    assert piece(client, address, 0, data[:third]).status_code == 409
    assert piece(client, address, 2 * third, data[2 * third :]).status_code == 409
    assert offset(client, address) == third
    unfinished = take(client, address, "a.mp4", swimmer_id=1)
    assert unfinished.status_code == 409
    assert "not complete" in unfinished.json["sentence"]
    # The server starts anew: it knows how far the file had come, and checks the whole of it.
    client.application.config["NORVIK_UPLOADS"] = Uploads(settings)
    assert offset(client, address) == third
    assert piece(client, address, third, data[third:]).status_code == 204
    answer = take(client, address, "a.mp4", swimmer_id=1)
    assert answer.status_code == 201
    with connected(settings.database) as connection:
        clip = clips.by_id(connection, answer.json["clip"])
    assert clip.recording.sha256 == hashlib.sha256(data).hexdigest()
    with client.get(f"/recordings/{clip.recording.id}/original") as original:
        assert original.data == data
        assert "a.mp4" in original.headers["Content-Disposition"]
    assert list(settings.incoming.iterdir()) == []


def test_a_cancelled_upload_leaves_nothing(client: FlaskClient, settings: Settings) -> None:
    address = begin(client, 1000).headers["Location"]
    piece(client, address, 0, bytes(400))
    assert client.delete(address, headers=TUS).status_code == 204
    assert client.head(address, headers=TUS).status_code in (404, 410)
    assert files_in(settings) == []


def test_a_piece_that_comes_after_the_cancelling_leaves_nothing(
    client: FlaskClient, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    address = begin(client, 1000).headers["Location"]
    upload_id = address.rsplit("/", 1)[-1]
    storage = Uploads(settings).tus.storage.__class__
    write = storage.write_chunk

    def cancelled_meanwhile(self: object, name: str, offset: int, data: bytes) -> None:
        storage.delete_upload(self, name)  # type: ignore[arg-type]
        write(self, name, offset, data)  # type: ignore[arg-type]

    monkeypatch.setattr(storage, "write_chunk", cancelled_meanwhile)
    assert piece(client, address, 0, bytes(400)).status_code >= 400
    assert files_in(settings) == []
    # What a crash left behind goes when the server starts; what is still coming in stays.
    (settings.incoming / upload_id).write_bytes(b"left behind")
    kept = begin(client, 1000).headers["Location"].rsplit("/", 1)[-1]
    monkeypatch.undo()
    piece(client, f"/uploads/{kept}", 0, bytes(400))
    Uploads(settings)
    assert files_in(settings) == [kept]


def test_a_file_that_is_there_already_is_named(
    client: FlaskClient, settings: Settings, small_clip: Path
) -> None:
    first = upload(client, small_clip)
    again = upload(client, small_clip, name="other name.mov")
    assert again.status_code == 409
    assert again.json["there"] == first.json["page"]
    assert "Tilde Vassholm, 2026-11-20" in again.json["sentence"]
    client.post("/library/throw-away", data={"ids": first.json["clip"]})
    assert "in the trash" in upload(client, small_clip).json["sentence"]
    assert list(settings.incoming.iterdir()) == []


def test_a_full_disk_is_said_before_the_first_byte_and_in_the_middle(
    client: FlaskClient, settings: Settings, small_clip: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    free = shutil.disk_usage(settings.data).free
    answer = begin(client, free)
    assert answer.status_code == 422
    assert "not enough room" in answer.json["sentence"]
    assert files_in(settings) == []
    data = small_clip.read_bytes()
    address = begin(client, len(data)).headers["Location"]
    piece(client, address, 0, data[:500])
    with monkeypatch.context() as full:

        def refuse(*args: object) -> None:
            raise OSError(28, "No space left on device")

        full.setattr(Uploads(settings).tus.storage.__class__, "write_chunk", refuse)
        answer = piece(client, address, 500, data[500:])
    assert answer.status_code == 422
    assert "then resume it" in answer.json["sentence"]
    # With room again it goes on from there: what had come is not lost.
    assert offset(client, address) == 500
    piece(client, address, 500, data[500:])
    assert take(client, address, "a.mp4", swimmer_id=1).status_code == 201


def test_bad_files_get_a_sentence_and_leave_nothing(
    client: FlaskClient, settings: Settings, tmp_path: Path, small_clip: Path
) -> None:
    whole = small_clip.read_bytes()
    for name, data, words in (
        ("list.mp4", b"ffconcat version 1.0\nfile a.mp4\n", "not a video"),
        ("empty.mov", b"", "empty"),
        ("cut.mp4", whole[: len(whole) // 2], "cut off"),
        ("page.mkv", b"<html>" * 900, "not a video"),
    ):
        path = tmp_path / name
        path.write_bytes(data)
        answer = upload(client, path)
        assert answer.status_code == 422, name
        assert words in answer.json["sentence"], name
    assert files_in(settings) == []
    with connected(settings.database) as connection:
        assert clips.newest_first(connection) == []


@pytest.mark.parametrize(
    "name",
    ["../../../etc/passwd", "..\\..\\film.mp4", "f" * 300 + ".mp4", "🏊‍♀️ 💦.mp4", ".mp4",
     "a\0b.mp4", "CON.mov", "x.mp4/../../y"],
)  # fmt: skip
def test_no_name_leads_anywhere(
    client: FlaskClient, settings: Settings, small_clip: Path, name: str
) -> None:
    before = {p for p in settings.data.parent.rglob("*") if settings.data not in p.parents}
    data = small_clip.read_bytes()
    address = begin(client, len(data), name).headers["Location"]
    piece(client, address, 0, data)
    answer = take(client, address, name, swimmer_id=1)
    assert answer.status_code == 201
    with connected(settings.database) as connection:
        recording = clips.by_id(connection, answer.json["clip"]).recording
    assert recording.original_name in client.get("/library/").text
    assert 0 < len(recording.original_name) <= 120
    assert [p.name for p in settings.originals.iterdir()] == [
        Path(str(recording.original_path)).name
    ]
    assert recording.sha256 in str(recording.original_path)
    assert {p for p in settings.data.parent.rglob("*") if settings.data not in p.parents} == before


def test_addresses_of_uploads_lead_nowhere_else(client: FlaskClient, settings: Settings) -> None:
    for name in ("../../secret", "none", "%2e%2e%2fnorvik.sqlite3"):
        assert client.head(f"/uploads/{name}", headers=TUS).status_code in (400, 404)
        answer = client.post("/clips", data={"upload": name, "name": "a.mp4"})
        assert answer.status_code == 409


def test_what_a_clip_is_follows_the_name_and_the_clip_before(
    client: FlaskClient, settings: Settings, tmp_path: Path
) -> None:
    paths = [
        numbered_clip(tmp_path / name, [n / 30 for n in range(count)])
        for count, name in enumerate(
            ("vassholm fly front underwater fins.mp4", "IMG_0001.mp4", "back after 2.mp4"), 4
        )
    ]
    ids = [
        upload(client, path, swimmer_id="", view="side-above", pool_m=25, stretch=8).json["clip"]
        for path in paths
    ]
    with connected(settings.database) as connection:
        fly, plain, back = (clips.by_id(connection, i) for i in ids)
    assert (fly.swimmer_id, fly.stroke, fly.view) == (1, "butterfly", "front-under")
    assert fly.facts.kit == ("fins",)
    assert (plain.swimmer_id, plain.stroke, plain.view) == (None, "freestyle", "side-above")
    assert (back.stroke, back.role) == ("backstroke", "after")
    assert {c.facts.pool_m for c in (fly, plain, back)} == {25.0}
    assert fly.recording.stretches == (Stretch(0, 8.0),)
    # Of the last clip only the pool is carried over: whose the next ones are is said anew.
    page = client.get("/clips/new").text
    assert '<option value="backstroke" selected>' not in page
    assert '<option value="after" selected>' not in page
    assert 'name="pool_m" value="25"' in page


@pytest.mark.parametrize(
    ("name", "told"),
    [
        ("IMG_1234.MOV", {}),
        ("breast side above.mp4", {"stroke": "breaststroke", "view": "side-above"}),
        ("feedback.mp4", {}),  # "back" inside a word says nothing
        ("Eirik 200 free race.mp4", {"stroke": "freestyle", "role": "race", "swimmer_id": 2}),
        ("2026-10-31 fly.mp4", {"stroke": "butterfly", "filmed_on": "2026-10-31"}),
        ("2026-02-31 fly.mp4", {"stroke": "butterfly"}),  # no such day
        ("overhead drill snorkel.mp4", {"view": "overhead", "role": "drill", "kit": ("snorkel",)}),
    ],
)
def test_guesses_from_names(settings: Settings, name: str, told: dict[str, object]) -> None:
    with connected(settings.database) as connection:
        known = swimmers.all_by_name(connection)
    base = Facts(None, stroke="butterfly", view="behind", role="before")
    found = guess(name, base, known)
    for field in ("stroke", "view", "role", "swimmer_id", "kit", "filmed_on"):
        assert getattr(found, field) == told.get(field, getattr(base, field)), field


def test_a_folder_left_behind_by_a_killed_demo_does_not_stop_the_start(settings: Settings) -> None:
    """The server could not start again after the demo was killed while it filmed."""
    left = settings.incoming / "tmpfilming"
    left.mkdir()
    (left / "half.mp4").write_bytes(b"half a film")
    Uploads(settings)
    assert list(settings.incoming.iterdir()) == []
