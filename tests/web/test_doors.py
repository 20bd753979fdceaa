"""What knocks at the doors: forged targets, numbers too large, a full disk, old pages."""

from __future__ import annotations

import errno
import sqlite3
from collections.abc import Iterator

import pytest
from flask import Flask
from flask.testing import FlaskClient
from jinja2 import FileSystemBytecodeCache
from jinja2.bccache import Bucket

from norvik.settings import Settings
from norvik.store import users
from norvik.store.connection import connected
from norvik.web.compiled_pages import CompiledPages
from norvik.web.squad import today
from tests.conftest import PASSWORD
from tests.uploading import add_clip

EMAIL = "coach@kvarnholm.example"


@pytest.mark.parametrize(
    "target",
    ["//evil.example", "/\\evil.example", "/\t/evil.example", "https://evil.example/x",
     "/\n/e.example", "javascript:alert(1)", "\\\\evil.example", "/%09/x\x00"],
)  # fmt: skip
def test_signing_in_leads_to_no_other_place(client: FlaskClient, target: str) -> None:
    client.post("/sign-out")
    answer = client.post(
        "/sign-in", query_string={"next": target}, data={"email": EMAIL, "password": PASSWORD}
    )
    assert answer.status_code == 302
    assert answer.location == "/"


@pytest.mark.parametrize(
    "path",
    [
        "/clips/99999999999999999999/",
        "/swimmers/99999999999999999999",
        "/plans/99999999999999999999/",
    ],
)
def test_a_number_beyond_the_database_names_nothing(client: FlaskClient, path: str) -> None:
    assert client.get(path).status_code == 404


@pytest.mark.parametrize(
    ("name", "code", "words"),
    [("SQLITE_FULL", 507, "disk is full"), ("SQLITE_IOERR_WRITE", 507, "disk is full"),
     ("SQLITE_READONLY", 507, "cannot be written"), ("SQLITE_BUSY", 503, "busy"),
     ("SQLITE_CORRUPT", 500, "went wrong")],
)  # fmt: skip
def test_what_the_database_says_becomes_a_sentence(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch, name: str, code: int, words: str
) -> None:
    def fail(*_: object) -> None:
        error = sqlite3.OperationalError("x")
        error.sqlite_errorname = name
        raise error

    monkeypatch.setattr(today, "due", fail)
    answer = client.get("/")
    assert answer.status_code == code
    assert words in answer.text
    htmx = client.get("/", headers={"HX-Request": "true"})
    assert htmx.headers["HX-Retarget"] == "#notice"
    told = client.get("/", headers={"Accept": "application/json"})
    assert words in told.json["sentence"]


@pytest.mark.parametrize(
    ("number", "code", "words"),
    [(errno.ENOSPC, 507, "disk is full"), (errno.EDQUOT, 507, "disk is full"),
     (errno.EIO, 500, "went wrong")],
)  # fmt: skip
def test_a_file_that_finds_no_room_becomes_a_sentence(
    client: FlaskClient, settings: Settings, monkeypatch: pytest.MonkeyPatch, number: int,
    code: int, words: str,
) -> None:  # fmt: skip
    """And the room that was kept for this is given up, so that tidying up works."""

    def fail(*_: object) -> None:
        raise OSError(number, "x")

    assert (settings.data / "reserve").is_file()
    monkeypatch.setattr(today, "due", fail)
    answer = client.get("/")
    assert answer.status_code == code
    assert words in answer.text
    assert (settings.data / "reserve").is_file() == (code == 500)


def test_a_page_is_shown_where_it_cannot_be_kept_compiled(
    client: FlaskClient, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The first look at a page on a full disk."""
    asked: list[str] = []

    def full(self: FileSystemBytecodeCache, bucket: Bucket) -> None:
        asked.append(bucket.key)
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(FileSystemBytecodeCache, "dump_bytecode", full)
    environment = client.application.jinja_env
    environment.bytecode_cache = CompiledPages(str(settings.compiled_pages))
    environment.cache.clear()
    assert client.get("/swimmers/").status_code == 200
    assert asked


@pytest.fixture
def guarded(client: FlaskClient) -> Iterator[Flask]:
    client.application.config["WTF_CSRF_ENABLED"] = True
    yield client.application
    client.application.config["WTF_CSRF_ENABLED"] = False


def test_an_old_page_gets_a_new_token_and_goes_on(
    client: FlaskClient, guarded: Flask, settings: Settings
) -> None:
    with connected(settings.database) as connection:
        clip = add_clip(connection, None)
    form = {"ids": str(clip)}
    refused = client.post("/library/throw-away", data=form, headers={"X-CSRFToken": "of last week"})
    assert (refused.status_code, refused.headers["X-Norvik-Token"]) == (400, "old")
    fresh = client.get("/token")
    assert fresh.headers["Cache-Control"] == "no-store"
    token = fresh.json["token"]
    assert (
        client.post("/library/throw-away", data=form, headers={"X-CSRFToken": token}).status_code
        == 204
    )


def test_a_password_is_changed_by_who_knows_it(client: FlaskClient, settings: Settings) -> None:
    assert "at least 12 characters" in client.get("/password").text
    new = "kick-and-glide"

    def change(now: str, wanted: str, again: str) -> tuple[int, str]:
        answer = client.post("/password", data={"now": now, "new": wanted, "again": again})
        return answer.status_code, answer.text

    assert change(PASSWORD, "short", "short")[0] == 422
    assert "differ" in change(PASSWORD, new, "kick-and-glid")[1]
    assert "not your current password" in change("wrong-password", new, new)[1]
    with connected(settings.database) as connection:
        before = users.by_email(connection, EMAIL).password_hash  # type: ignore[union-attr]
    assert "is changed" in change(PASSWORD, new, new)[1]
    with connected(settings.database) as connection:
        assert users.by_email(connection, EMAIL).password_hash != before  # type: ignore[union-attr]
    client.post("/sign-out")
    assert client.post("/sign-in", data={"email": EMAIL, "password": PASSWORD}).status_code == 422
    assert client.post("/sign-in", data={"email": EMAIL, "password": new}).status_code == 302


def test_a_new_swimmer_by_name_alone(client: FlaskClient) -> None:
    first = client.post("/swimmers/quick", data={"name": "  Ida   Brekke "}).json
    assert first["name"] == "Ida Brekke"
    # Typed again it is the same one.
    assert client.post("/swimmers/quick", data={"name": "ida brekke"}).json["id"] == first["id"]
    for name in ("", " ", "x" * 81):
        assert client.post("/swimmers/quick", data={"name": name}).status_code == 422
    page = client.get("/clips/new").text
    assert "New clips" in page
    assert "Ida Brekke" in page
