"""Links to one review: who may be sent one, what it opens, and what the swimmer answers."""

from __future__ import annotations

import email
import io
import re
import secrets
import sqlite3
import zipfile
from collections.abc import Iterator
from dataclasses import replace
from datetime import date, timedelta
from email import policy
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.commands.mail import simulated_mail
from norvik.settings import Settings
from norvik.store import made_films, pains, plans, review_links, swimmers
from norvik.store.connection import connected
from norvik.web import create_app
from tests.conftest import BroughtIn
from tests.consents import allow, withdraw
from tests.web.judged import films, judged

GONE = "doesn’t open a review"


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    return films(tmp_path_factory.mktemp("links"), "2026-11-20")


@pytest.fixture
def database(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    made: list[tuple[Path, dict[str, object]]],
) -> Iterator[sqlite3.Connection]:  # fmt: skip
    """A judged review with two points, and a film of it."""
    judged(client, settings, brought_in, made)
    with connected(settings.database) as connection:
        (settings.films / "talk.mp4").write_bytes(bytes(range(100)))
        made_films.put(
            connection, {"what": "clip", "shape": "wide"}, 1, 1, "films/talk.mp4", 3, 100
        )
        yield connection


@pytest.fixture
def phone(client: FlaskClient, settings: Settings) -> FlaskClient:
    """Somebody without an account, at an application that knows nothing of the coach's requests."""
    app = create_app(settings, immediate_jobs=True)
    app.config.update(TESTING=True, PROPAGATE_EXCEPTIONS=False)
    app.jinja_env.bytecode_cache = client.application.jinja_env.bytecode_cache
    return app.test_client()


def link(client: FlaskClient, connection: sqlite3.Connection, **form: object) -> str:
    """Where a new link leads."""
    answer = client.post("/reviews/1/links", data={"film": "1", **form})
    assert answer.status_code == 302, answer.text
    return f"/r/{review_links.of_review(connection, 1)[0].token}/"


def test_a_link_opens_one_review_without_an_account(
    client: FlaskClient, phone: FlaskClient, database: sqlite3.Connection
) -> None:
    there = link(client, database)
    assert len(there) >= 32
    page = phone.get(there)
    assert page.status_code == 200
    for words in ("Tilde Vassholm", "The one thing", "film.mp4", "Take care", "Tell your coach"):
        assert words in page.text
    # What only the coach sees stands nowhere on it.
    assert "/clips/" not in page.text
    assert "/reviews/" not in page.text
    assert page.headers["X-Robots-Tag"].startswith("noindex")
    assert page.headers["Referrer-Policy"] == "no-referrer"
    part = phone.get(f"{there}film.mp4", headers={"Range": "bytes=10-19"})
    assert (part.status_code, part.data) == (206, bytes(range(10, 20)))
    part.close()
    assert phone.get(f"{there}captions.vtt").text.startswith("WEBVTT")
    still = phone.get(f"{there}still/0.jpg")
    assert (still.mimetype, still.data[:2]) == ("image/jpeg", b"\xff\xd8")
    drill = re.search(r"drill/([\w-]+)\.still\.svg", page.text)
    assert drill is not None
    for what in ("still", "loop"):
        assert phone.get(f"{there}drill/{drill[1]}.{what}.svg").mimetype == "image/svg+xml"
    assert "caches" in phone.get(f"{there}worker.js").text
    # It is counted when it is opened, not for its pictures.
    assert review_links.of_review(database, 1)[0].opened == 1
    assert "Opened 1 time" in client.get("/reviews/1/send/").text


def test_the_page_is_small(
    client: FlaskClient, phone: FlaskClient, database: sqlite3.Connection
) -> None:
    there = link(client, database)
    page = phone.get(there)
    parts = set(re.findall(r'(?:src|href)="([^"]+)"', page.text)) - {"film.mp4"}
    assert len(parts) > 5
    size = len(page.data) + 34_000  # the typeface
    for part in parts:
        answer = phone.get(part if part.startswith("/") else f"{there}{part}")
        assert answer.status_code == 200, part
        size += len(answer.data)
        answer.close()
    assert size < 150_000


def test_nothing_else_is_reached_and_wrong_links_all_look_alike(
    client: FlaskClient, phone: FlaskClient, database: sqlite3.Connection
) -> None:
    there = link(client, database)
    old = link(client, database, days="1")
    back = link(client, database)
    found = {f"/r/{x.token}/": x for x in review_links.of_review(database, 1)}
    yesterday = (date.today() - timedelta(days=1)).isoformat()
    database.execute(
        "UPDATE review_links SET valid_until = ? WHERE id = ?", (yesterday, found[old].id)
    )
    client.post(f"/reviews/1/links/{found[back].id}/take-back")
    answers = [phone.get(at) for at in ("/r/x/", old, back, f"/r/{'a' * 32}/", there[:-2] + "/")]
    assert {a.status_code for a in answers} == {404}
    assert len({a.text for a in answers}) == 1
    assert GONE in answers[0].text
    for at in ("film.mp4", "captions.vtt", "still/0.jpg", "worker.js", "drill/kick-6.loop.svg"):
        assert phone.get(f"{back}{at}").status_code == 404
    assert phone.post(f"{back}answers", data={"key": "abcdefgh", "words": "x"}).status_code == 404
    # The right link opens no other picture, drill or page.
    for at in ("still/99.jpg", "drill/never.still.svg", "../../clips/1/", "answers"):
        assert phone.get(f"{there}{at}").status_code in (302, 404, 405)
    for at in ("/", "/reviews/1/", "/clips/1/", "/films/1/x.mp4", "/send/", "/reviews/1/send/"):
        answer = phone.get(at)
        assert answer.status_code == 302, at
        assert "/sign-in" in answer.location


def test_ten_thousand_guesses_open_nothing(
    database: sqlite3.Connection, client: FlaskClient
) -> None:
    link(client, database)
    today = date.today().isoformat()
    assert not any(
        review_links.of_token(database, secrets.token_urlsafe(24), today) for _ in range(10_000)
    )


def test_a_minor_is_sent_nothing_without_a_guardian(
    client: FlaskClient, database: sqlite3.Connection
) -> None:
    swimmer = swimmers.by_id(database, 1)
    swimmers.update(database, replace(swimmer, minor=True, email="child@kvarnholm.example"))
    assert "no guardian allows that" in client.get("/reviews/1/send/").text
    refused = client.post("/reviews/1/links", data={})
    assert refused.status_code == 422
    assert "guardian" in refused.text
    allow(database, 1, "sending", by="Aud Vassholm")
    assert "e-mail is missing" in client.post("/reviews/1/links", data={}).text
    swimmers.update(database, replace(swimmer, minor=True, guardian_email="aud@kvarnholm.example"))
    there = link(client, database)
    mail = client.get("/reviews/1/links/1/mail.eml")
    read = email.message_from_bytes(mail.data, policy=policy.default)
    assert read["To"].addresses[0].addr_spec == "aud@kvarnholm.example"
    assert "here is the stroke review of Tilde Vassholm" in read.get_content()
    # Consent that is taken back holds for mails, too.
    assert client.application.test_client().get(there).status_code == 200
    withdraw(database, 1)
    assert client.get("/reviews/1/links/1/mail.eml").status_code == 422
    # And for links that were sent before.
    assert client.application.test_client().get(there).status_code == 404


def test_links_have_a_day_and_a_film_of_their_own_review(
    client: FlaskClient, database: sqlite3.Connection
) -> None:
    for days in ("0", "401", "-3"):
        assert client.post("/reviews/1/links", data={"days": days}).status_code == 422
    made_films.put(database, {"what": "clip", "shape": "tall"}, None, 1, "films/x.mp4", 1, 1)
    assert client.post("/reviews/1/links", data={"film": "2"}).status_code == 422
    assert client.post("/reviews/1/links", data={"film": "77"}).status_code == 404
    there = link(client, database, film="")
    assert "film.mp4" not in client.get(there).text
    assert client.get(f"{there}film.mp4").status_code == 404
    code = client.get("/reviews/1/links/1/code.svg")
    assert code.text.startswith("<svg")
    assert client.get("/reviews/1/links/9/code.svg").status_code == 404
    # It stands on the printed page and on paper, until it is taken back.
    assert "links/1/code.svg" in client.get("/reviews/1/").text
    paper = len(client.get("/reviews/1/review.pdf").data)
    client.post("/reviews/1/links/1/take-back")
    assert "code.svg" not in client.get("/reviews/1/").text
    assert len(client.get("/reviews/1/review.pdf").data) < paper - 1000


def test_mails_are_files_that_any_program_reads_and_are_sent_by_a_mail_server(
    client: FlaskClient, database: sqlite3.Connection, settings: Settings,
    monkeypatch: pytest.MonkeyPatch,
) -> None:  # fmt: skip
    swimmers.update(database, replace(swimmers.by_id(database, 1), email="tilde@kvarnholm.example"))
    client.post(
        "/reviews/1/", data={"done": "yes", "words": "Good.", "film_again_on": "2027-01-10"}
    )
    client.post("/send/links")
    page = client.get("/send/").text
    token = review_links.of_review(database, 1)[0].token
    assert f"/r/{token}/" in page
    assert "no e-mail" not in page
    with zipfile.ZipFile(io.BytesIO(client.get("/send/mails.zip").data)) as packed:
        assert packed.namelist() == ["Tilde Vassholm 2026-11-20.eml"]
        read = email.message_from_bytes(packed.read(packed.namelist()[0]), policy=policy.default)
    assert read["From"].addresses[0].display_name == "Coach"
    assert f"http://localhost/r/{token}/" in read.get_content()
    assert client.post("/reviews/1/links/1/mail").status_code == 422
    with simulated_mail(settings) as server:
        monkeypatch.setenv("NORVIK_SMTP", server)
        monkeypatch.setenv("NORVIK_ADDRESS", "https://reviews.kvarnholm.example/")
        assert "1 mail sent" in client.post("/send/mails", follow_redirects=True).text
        # Once is enough.
        assert "0 mails sent" in client.post("/send/mails", follow_redirects=True).text
        monkeypatch.setenv("NORVIK_SMTP", "smtp://127.0.0.1:1")
        refused = client.post("/reviews/1/links/1/mail")
        assert "did not take the mail" in refused.text
        monkeypatch.setenv("NORVIK_SMTP", "mailhost")
        assert "must look like" in client.post("/reviews/1/links/1/mail").text
    (kept,) = settings.mails.glob("*.eml")
    sent = email.message_from_bytes(kept.read_bytes(), policy=policy.default)
    assert sent["To"].addresses[0].addr_spec == "tilde@kvarnholm.example"
    assert f"https://reviews.kvarnholm.example/r/{token}/" in sent.get_content()


def test_an_answer_lands_in_the_plan_and_pain_blocks_what_loads_it(
    client: FlaskClient, phone: FlaskClient, database: sqlite3.Connection
) -> None:
    there = link(client, database)
    made = client.post(
        "/reviews/1/plan",
        data={"starts_on": date.today().isoformat(), "weekday": ["0", "1", "2", "3", "4", "5", "6"],
              "pool": "25", "unit": "m", "size": "2000", "by": "metres"},
    )  # fmt: skip
    assert made.status_code == 302, made.text
    plan_id = plans.of_swimmer(database, 1)[0].id
    page = phone.get(there).text
    assert "This week" in page
    session = re.search(r'name="session" value="([^"]+)"', page)
    assert session is not None
    before = client.get(f"/plans/{plan_id}/").text
    told = {"key": "answer-0001", "session": session[1], "outcome": "done", "felt": "7",
            "pain": "shoulder", "words": "Sore since\nTuesday <b>"}  # fmt: skip
    answer = phone.post(f"{there}answers", data=told)
    assert "Drills that load it are left out" in answer.json["sentence"]  # type: ignore[index]
    # A phone sends again what it is not sure of.
    phone.post(f"{there}answers", data=told)
    noted = plans.trained(database, plan_id)[session[1]]
    assert (noted.outcome, noted.felt, noted.note) == ("done", 7, "Sore since Tuesday <b>")
    assert [p.part for p in pains.of_swimmer(database, 1)] == ["shoulder"]
    assert swimmers.by_id(database, 1).pain == ("shoulder",)
    assert client.get(f"/plans/{plan_id}/").text != before
    today = client.get("/").text
    assert "From your swimmers" in today
    assert "shoulder hurts" in today
    assert "Sore since Tuesday &lt;b&gt;" in today
    client.post("/answers/1/seen")
    assert "From your swimmers" not in client.get("/").text
    assert "Noted: done" in phone.get(there).text


@pytest.mark.parametrize(
    "told",
    [{}, {"words": "  "}, {"pain": "soul"}, {"key": "x", "words": "hello"}, {"outcome": "maybe"}],
)
def test_an_answer_says_something(
    client: FlaskClient, phone: FlaskClient, database: sqlite3.Connection, told: dict[str, str]
) -> None:
    there = link(client, database)
    assert phone.post(f"{there}answers", data={"key": "answer-0001", **told}).status_code == 422
    assert review_links.unseen(database) == []


def test_a_session_that_is_none_and_too_many_answers_are_refused(
    client: FlaskClient, phone: FlaskClient, database: sqlite3.Connection
) -> None:
    there = link(client, database)
    wrong = phone.post(
        f"{there}answers", data={"key": "answer-xxxx", "session": "9-9", "outcome": "done"}
    )
    assert wrong.status_code == 200  # without a plan it is only told
    for n in range(39):
        phone.post(f"{there}answers", data={"key": f"answer-{n:04}", "words": "hello"})
    many = phone.post(f"{there}answers", data={"key": "answer-9999", "words": "hello"})
    assert many.status_code == 422
    assert "Talk to your coach" in many.text


def test_a_swimmer_who_leaves_takes_the_links_along(
    client: FlaskClient, phone: FlaskClient, database: sqlite3.Connection
) -> None:
    there = link(client, database)
    client.post("/swimmers/1/remove")
    assert phone.get(there).status_code == 404
    client.post("/swimmers/1/restore")
    assert phone.get(there).status_code == 200
    client.post("/swimmers/1/remove")
    client.post("/swimmers/1/delete")
    assert review_links.of_review(database, 1) == []
    assert made_films.paths(database) == set()


def test_a_clip_of_the_coach_goes_with_a_drill(
    client: FlaskClient, phone: FlaskClient, database: sqlite3.Connection
) -> None:
    there = link(client, database)
    drill = re.search(r"drill/([\w-]+)\.still\.svg", phone.get(there).text)
    assert drill is not None
    address = f"/drills/{drill[1]}"
    # Nobody allowed to show this swimmer to others.
    refused = client.post(f"{address}/clip", data={"clip": "1"})
    assert "has not allowed that it is used as an example" in refused.text
    assert phone.get(f"{there}drill/{drill[1]}.mp4").status_code == 404
    allow(database, 1, "example")
    assert "Tilde Vassholm, freestyle" in client.get(address).text
    assert client.post(f"{address}/clip", data={"clip": "1"}).status_code == 302
    assert "film.mp4" in client.get(address).text
    film = client.get(f"{address}/film.mp4")
    assert film.mimetype == "video/mp4"
    film.close()
    assert f"drill/{drill[1]}.mp4" in phone.get(there).text
    sent = phone.get(f"{there}drill/{drill[1]}.mp4", headers={"Range": "bytes=4-7"})
    assert sent.data == b"ftyp"
    sent.close()
    # Leave that is taken back holds at once.
    withdraw(database, 1)
    assert phone.get(f"{there}drill/{drill[1]}.mp4").status_code == 404
    allow(database, 1, "example")
    client.post(f"{address}/clip", data={"clip": ""})
    assert phone.get(f"{there}drill/{drill[1]}.mp4").status_code == 404
    assert client.get(f"{address}/film.mp4").status_code == 404
