"""What an administrator sees: health, figures, numbers of requests, and headers behind https."""

from __future__ import annotations

import json
import logging
import re
import sqlite3
from pathlib import Path

import pytest
from click.testing import CliRunner
from flask.testing import FlaskClient
from prometheus_client.parser import text_string_to_metric_families

from norvik.cli import main
from norvik.house.doctor import can_work, examine
from norvik.logs import set_up_logging
from norvik.settings import Settings
from norvik.store import trail
from norvik.store.connection import connected
from norvik.web import create_app
from tests.conftest import PASSWORD


def test_alive_and_ready(client: FlaskClient, settings: Settings) -> None:
    stranger = client.application.test_client()
    assert stranger.get("/healthz").json == {"alive": True}
    assert stranger.get("/readyz").json == {"ready": True, "failing": []}
    settings.database.rename(settings.data / "elsewhere")
    for left in settings.data.glob("norvik.sqlite3-*"):
        left.unlink()
    answer = stranger.get("/readyz")
    assert answer.status_code == 503
    assert answer.json["failing"][0] == "database"
    # The process itself is well.
    assert stranger.get("/healthz").status_code == 200


def test_figures_need_the_key_and_are_prometheus_text(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert client.get("/metrics").status_code == 403
    monkeypatch.setenv("NORVIK_METRICS_KEY", "a key of the administrator")
    assert client.get("/metrics", headers={"Authorization": "Bearer no"}).status_code == 403
    client.get("/swimmers/")
    answer = client.get("/metrics", headers={"Authorization": "Bearer a key of the administrator"})
    assert answer.status_code == 200
    # Read by the reader of the format's own library.
    read = {f.name: f for f in text_string_to_metric_families(answer.text)}
    requests = {(s.labels["route"], s.labels["code"]): s.value
                for s in read["norvik_requests"].samples if s.name.endswith("_total")}  # fmt: skip
    assert requests[("swimmers.index", "200")] == 1
    assert {s.labels["state"] for s in read["norvik_jobs"].samples} >= {"queued", "running"}
    assert read["norvik_disk_free_bytes"].samples[0].value > 0


def test_each_request_has_a_number_and_a_line(
    client: FlaskClient, caplog: pytest.LogCaptureFixture
) -> None:
    with caplog.at_level(logging.INFO, "norvik.requests"):
        answer = client.get("/swimmers/")
        given = client.get("/swimmers/", headers={"X-Request-ID": "from-the-proxy-1"})
        odd = client.get("/swimmers/", headers={"X-Request-ID": "a\tb <script>"})
        client.application.test_client().get("/r/a-very-secret-token/")
    assert re.fullmatch(r"[0-9a-f]{16}", answer.headers["X-Request-ID"])
    assert given.headers["X-Request-ID"] == "from-the-proxy-1"
    assert re.fullmatch(r"[0-9a-f]{16}", odd.headers["X-Request-ID"])
    lines = [r for r in caplog.records if r.name == "norvik.requests"]
    assert (lines[0].route, lines[0].status, lines[0].account) == ("swimmers.index", 200, 1)  # type: ignore[attr-defined]
    # Tokens of links are in no log.
    assert not [r for r in lines if "secret" in r.getMessage() or "secret" in str(vars(r))]


def test_lines_as_json(monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]) -> None:
    monkeypatch.setenv("NORVIK_LOG", "json")
    monkeypatch.setenv("NORVIK_LOG_LEVEL", "info")
    root = logging.getLogger()
    before, level = root.handlers[:], root.level
    root.handlers[:] = []
    try:
        set_up_logging()
        logging.getLogger("norvik.x").info("a line", extra={"clip": 7})
    finally:
        root.handlers[:] = before
        root.setLevel(level)
    line = json.loads(capsys.readouterr().err)
    assert (line["level"], line["from"], line["message"], line["clip"]) == (
        "INFO", "norvik.x", "a line", 7,
    )  # fmt: skip


def test_behind_https(settings: Settings, client: FlaskClient) -> None:
    app = create_app(settings, public_url="https://reviews.club.example", hosts=["localhost"])
    app.config.update(WTF_CSRF_ENABLED=False)
    outside = app.test_client()
    base = "https://reviews.club.example"
    said = {"email": "coach@kvarnholm.example", "password": PASSWORD}
    answer = outside.post("/sign-in", data=said, base_url=base)
    assert answer.status_code == 302
    cookie = answer.headers["Set-Cookie"]
    assert cookie.startswith("__Host-norvik=")
    for part in ("Secure", "HttpOnly", "SameSite=Lax", "Path=/"):
        assert part in cookie
    assert "Domain" not in cookie
    assert answer.headers["Strict-Transport-Security"] == "max-age=31536000"
    # Another name in the address is answered with no page and no redirect.
    evil = outside.get("/clips/2", headers={"Host": "evil.example"})
    assert evil.status_code == 400
    assert "evil.example" not in evil.text
    assert outside.get("/sign-in").status_code == 200  # this computer's own name
    # Without https there is nothing that would lock a browser out.
    assert "Strict-Transport-Security" not in client.get("/sign-in").headers


def test_what_tells_of_people_is_not_left_in_caches(client: FlaskClient) -> None:
    for address in ("/swimmers/", "/club/reading.csv", "/trail/trail.csv", "/token"):
        answer = client.get(address)
        assert answer.headers["Cache-Control"] == "no-store", address
        answer.close()
    style = client.get("/static/css/norvik.css")
    assert "no-store" not in style.headers.get("Cache-Control", "")
    style.close()


def test_the_doctor_says_what_is_not_well(
    settings: Settings, monkeypatch: pytest.MonkeyPatch, client: FlaskClient
) -> None:
    monkeypatch.setenv("NORVIK_DATA", str(settings.data))
    settings.secret_key()
    by_name = {c.name: c for c in examine(settings)}
    assert by_name["Database"].state == "well"
    assert by_name["Codec"].state == "well"
    assert by_name["Jobs"].state == "look"
    assert "no worker is running" in by_name["Jobs"].says
    assert "No backup was ever made" in by_name["Backup"].says
    (settings.data / "worker-seen").touch()
    (settings.data / "secret-key").chmod(0o644)
    found = CliRunner().invoke(main, ["doctor"])
    assert found.exit_code == 0, found.output
    assert "a worker is running" in found.output
    assert "Others on this computer can read" in found.output
    as_json = json.loads(CliRunner().invoke(main, ["doctor", "--json"]).output)
    assert {c["name"] for c in as_json} >= {"Versions", "Disk", "Clock"}
    with connected(settings.database) as connection:
        connection.execute("INSERT INTO trail (at, deed) VALUES ('2999-01-01T00:00:00Z', 'saw')")
    behind = CliRunner().invoke(main, ["doctor"])
    assert behind.exit_code == 1
    assert "behind what was written" in behind.output


def test_a_damaged_database_is_found(settings: Settings, tmp_path: Path) -> None:
    data = bytearray(settings.database.read_bytes())
    data[4096 * 3 : 4096 * 5] = b"\xff" * 8192
    settings.database.write_bytes(data)
    assert {c.name: c.state for c in examine(settings)}["Database"] == "broken"
    assert can_work(Settings(tmp_path / "nowhere"))


def test_the_trail_cannot_be_changed(client: FlaskClient, settings: Settings) -> None:
    client.post("/swimmers/new", data={"name": "Ida", "level": "improver", "usual_breath": ""})
    client.get("/swimmers/1")
    client.get("/swimmers/1")
    with connected(settings.database) as connection:
        seen = trail.find(connection, swimmer_id=1, deeds=["saw"])
        # Once an hour for one thing.
        assert [(s.kind, s.thing_id, s.person) for s in seen] == [("swimmer", 1, "Coach")]
        for deed in ("UPDATE trail SET person = 'x'", "DELETE FROM trail"):
            with pytest.raises(sqlite3.IntegrityError, match="the trail is"):
                connection.execute(deed)
        connection.execute("INSERT INTO trail (at, deed) VALUES ('2020-01-01T00:00:00Z', 'saw')")
        assert trail.forget_old(connection, 1095) == 1
        assert trail.find(connection, swimmer_id=1, deeds=["saw"])
    page = client.get("/trail/?swimmer=1").text
    assert "saw swimmer 1" in page
    assert "Ida" in page
    table = client.get("/trail/trail.csv").text
    assert table.splitlines()[0] == "at,person,did,kind,number,swimmer,words,address"
    wrong = client.application.test_client().post(
        "/sign-in", data={"email": "coach@kvarnholm.example", "password": "no"}
    )
    assert wrong.status_code == 422
    assert "was refused at sign-in account 1" in client.get("/trail/").text
