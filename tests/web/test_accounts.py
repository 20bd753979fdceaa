"""Accounts: invited, signed in with a second factor, ended from anywhere, forgotten and removed."""

from __future__ import annotations

import re
import time
from pathlib import Path

import pyotp
import pytest
from flask.testing import FlaskClient

from norvik.commands.mail import simulated_mail
from norvik.core.errors import AccountError
from norvik.settings import Settings
from norvik.store import account_links, sessions, squads, swimmers, trail, users
from norvik.store.connection import connected
from norvik.store.sessions import IDLE_S, IDLE_STAYS_S, LONGEST_S, Session
from norvik.store.swimmers import Swimmer
from norvik.workflow.passwords import check_code, require_good, strength
from tests.conftest import PASSWORD, PASSWORD_HASH, signed_in_as

EMAIL = "coach@kvarnholm.example"
NEW = "three words in a row"


def sign_in(client: FlaskClient, email: str, password: str, **more: str) -> int:
    return client.post("/sign-in", data={"email": email, "password": password, **more}).status_code


def test_invited_by_link_and_signed_in(client: FlaskClient, settings: Settings) -> None:
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Wren Alder"))
    shown = client.post("/people/invite", data={
        "email": "new@club.example", "name": "Nils Nyberg", "role": "swimmer", "swimmer": "1",
    }).text  # fmt: skip
    link = re.search(r"/account/[\w-]{20,}", shown)
    assert "Pass this link on" in shown
    assert link is not None
    phone = client.application.test_client()
    # Nobody signs in as somebody who has not chosen a password yet.
    assert sign_in(phone, "new@club.example", "") == 422
    assert sign_in(phone, "new@club.example", "anything at all") == 422
    page = phone.get(link[0])
    assert "For Nils Nyberg" in page.text
    assert page.headers["Referrer-Policy"] == "no-referrer"
    assert "two passwords differ" in phone.post(link[0], data={"new": NEW, "again": "x"}).text
    assert phone.post(link[0], data={"new": NEW, "again": NEW}).headers["Location"] == "/"
    assert "Wren Alder" in phone.get("/mine/").text
    # It serves once.
    assert client.application.test_client().get(link[0]).status_code == 404
    assert sign_in(client.application.test_client(), "new@club.example", NEW) == 302


@pytest.mark.parametrize(
    ("said", "sentence"),
    [
        ({"email": "x", "name": "X"}, "looks like name@club.example"),
        ({"email": "a@b.example", "name": ""}, "1 to 80 letters"),
        ({"email": EMAIL, "name": "X"}, "There is an account"),
        ({"email": "a@b.example", "name": "X", "role": "king"}, "what this person does"),
        ({"email": "a@b.example", "name": "X", "role": "guardian"}, "Choose the swimmer"),
    ],
)
def test_what_cannot_be_invited(
    client: FlaskClient, settings: Settings, said: dict[str, str], sentence: str
) -> None:
    answer = client.post("/people/invite", data={"role": "coach", **said})
    assert answer.status_code == 422
    assert sentence in answer.text
    with connected(settings.database) as connection:
        assert users.count(connection) == 1


def test_a_mail_carries_the_link_where_a_server_is_set(
    client: FlaskClient, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    with simulated_mail(settings) as server:
        monkeypatch.setenv("NORVIK_SMTP", server)
        monkeypatch.setenv("NORVIK_ADDRESS", "https://reviews.club.example")
        said = {"email": "new@club.example", "name": "Nils", "role": "assistant"}
        assert "Mail sent" in client.post("/people/invite", data=said).text
        stranger = client.application.test_client()
        for email in (EMAIL, "unknown@club.example"):
            page = stranger.post("/forgotten", data={"email": email}).text
            # The same words for an account and for none.
            assert "a mail is on its way" in page
    mails = sorted(p.read_text() for p in settings.mails.glob("*.eml"))
    assert len(mails) == 2
    assert all("https://reviews.club.example/account/" in mail for mail in mails)
    assert sum("To: Coach" in mail for mail in mails) == 1


def test_a_forgotten_password_is_chosen_anew(client: FlaskClient, settings: Settings) -> None:
    with connected(settings.database) as connection:
        token = account_links.make(connection, 1, "reset", time.time())
        old = account_links.make(connection, 1, "reset", time.time() - 3601)
        late = account_links.make(connection, 1, "reset", time.time())
    stranger = client.application.test_client()
    # A newer link closes the older ones, and an hour closes every one.
    assert stranger.get(f"/account/{token}").status_code == 404
    assert stranger.get(f"/account/{old}").status_code == 404
    assert stranger.post(f"/account/{late}", data={"new": NEW, "again": NEW}).status_code == 302
    # Whoever was signed in with the old password is not any more.
    assert client.get("/swimmers/").status_code == 302
    assert sign_in(client, EMAIL, PASSWORD) == 422
    assert sign_in(client, EMAIL, NEW) == 302


def test_passwords_that_others_would_guess(client: FlaskClient) -> None:
    for bad in (
        "short", "passwordpassword", "aaaaaaaaaaaaaa", "x" * 129, "password1234!", "qwertyuiop123",
        "1234567890123", "kragholt2026",
    ):  # fmt: skip
        with pytest.raises(AccountError):
            require_good(bad, "sunniva@club.example", "Sunniva Kragholt")
    require_good("early-morning", "coach@kvarnholm.example", "Sunniva Kragholt")
    answer = client.post(
        "/password", data={"now": PASSWORD, "new": "1234567890123", "again": "1234567890123"}
    )
    assert answer.status_code == 422


def test_while_a_password_is_typed_the_page_says_how_hard_it_is_to_guess(
    client: FlaskClient, settings: Settings
) -> None:
    def said(password: str) -> str:
        return client.post("/password/strength", data={"new": password}).text

    assert "Too short: 12 more characters" in said("")
    assert "Too short: 1 more character." in said("rope-lane-x")
    assert "Easy to guess" in said("passwordpassword")
    assert "Too long" in said("lane rope " * 20)
    assert "Very hard to guess" in said("heron lantern gravel piano")
    # What the page calls good is taken, and nothing else is.
    for password in ("coachclub1234", "1234567890123", "early-morning", "heron lantern gravel"):
        found = strength(password, EMAIL, "Coach")
        assert ("bg-caution" not in said(password)) == found.good
        if found.good:
            require_good(password, EMAIL, "Coach")
        else:
            with pytest.raises(AccountError):
                require_good(password, EMAIL, "Coach")
    # By a link, too, as long as it is open; and for nobody else.
    with connected(settings.database) as connection:
        token = account_links.make(connection, 1, "reset", time.time())
    stranger = client.application.test_client()
    by_link = stranger.post(f"/account/{token}/strength", data={"new": "passwordpassword"})
    assert "Easy to guess" in by_link.text
    assert by_link.headers["Referrer-Policy"] == "no-referrer"
    assert stranger.post("/account/unknown/strength", data={"new": "x"}).status_code == 404
    assert stranger.post("/password/strength", data={"new": "x"}).status_code in (302, 401)


def test_a_changed_way_in_is_told_by_mail(
    client: FlaskClient, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    with simulated_mail(settings) as server:
        monkeypatch.setenv("NORVIK_SMTP", server)
        said = {"now": PASSWORD, "new": NEW, "again": NEW}
        assert client.post("/password", data=said).status_code == 200
    (mail,) = settings.mails.glob("*.eml")
    assert "your password for Norvik was changed" in mail.read_text()
    # Without a server, or with one that fails, the change holds all the same.
    monkeypatch.setenv("NORVIK_SMTP", "smtp://127.0.0.1:9")
    back = {"now": NEW, "new": "four other words now", "again": "four other words now"}
    assert client.post("/password", data=back).status_code == 200


def test_a_second_factor(client: FlaskClient, settings: Settings) -> None:
    page = client.get("/account/second-factor/").text
    secret = re.search(r"<b class=\"break-all text-ink\">(\w+)</b>", page)
    assert secret is not None
    code = pyotp.TOTP(secret[1])
    wrong = {"code": "000000", "password": PASSWORD}
    assert client.post("/account/second-factor/", data=wrong).status_code == 422
    right = {"code": code.now(), "password": "not it"}
    assert client.post("/account/second-factor/", data=right).status_code == 422
    right["password"] = PASSWORD
    assert client.post("/account/second-factor/", data=right).status_code == 302
    client.post("/sign-out")
    answer = client.post("/sign-in?next=/drills/", data={"email": EMAIL, "password": PASSWORD})
    assert answer.headers["Location"] == "/sign-in/code"
    # The password alone opens nothing.
    assert client.get("/swimmers/").status_code == 302
    # A code that was used, the one that turned it on, does not serve again.
    assert client.post("/sign-in/code", data={"code": code.now()}).status_code == 422
    with connected(settings.database) as connection:
        connection.execute("UPDATE users SET second_factor_used = 0")
    answer = client.post("/sign-in/code", data={"code": code.now()})
    assert answer.headers["Location"] == "/drills/"
    assert client.get("/swimmers/").status_code == 200
    off = client.post("/account/second-factor/off", data={"password": PASSWORD})
    assert off.status_code == 302
    client.post("/sign-out")
    assert sign_in(client, EMAIL, PASSWORD) == 302


@pytest.mark.parametrize(("rule", "coach_asked"), [(1, False), (2, True)])
def test_a_club_may_ask_for_a_second_factor(
    rule: int, coach_asked: bool, client: FlaskClient, settings: Settings
) -> None:
    people = {role: client.application.test_client() for role in ("coach", "swimmer")}
    with connected(settings.database) as connection:
        for role in people:
            users.add(connection, f"{role}@club.example", role, role, PASSWORD_HASH)
    for role, browser in people.items():
        assert sign_in(browser, f"{role}@club.example", PASSWORD) == 302
    assert client.post("/people/second-factor", data={"second-factor": "3"}).status_code == 422
    assert client.get("/swimmers/").status_code == 200
    done = client.post("/people/second-factor", data={"second-factor": str(rule)})
    assert done.status_code == 302

    # Nothing but setting it up and signing out is left.
    for path in ("/", "/swimmers/", "/account/", "/people/"):
        answer = client.get(path)
        assert answer.headers["Location"] == "/account/second-factor/", path
    for refused in (
        client.post("/people/second-factor", data={"second-factor": "0"}),
        client.get("/swimmers/", headers={"HX-Request": "true"}),
    ):
        assert refused.status_code == 403
        assert "Your club asks for a second factor" in refused.text
    assert (people["coach"].get("/").status_code == 302) is coach_asked
    assert people["swimmer"].get("/account/").status_code == 200

    page = client.get("/account/second-factor/").text
    assert "Your club asks for a second factor. Turn it on to continue." in page
    secret = re.search(r"<b class=\"break-all text-ink\">(\w+)</b>", page)
    assert secret is not None
    said = {"code": pyotp.TOTP(secret[1]).now(), "password": PASSWORD}
    assert client.post("/account/second-factor/", data=said).status_code == 302
    assert client.get("/swimmers/").status_code == 200
    account = client.get("/account/").text
    assert "as your club asks" in account
    assert "/account/second-factor/off" not in account
    kept = client.post("/account/second-factor/off", data={"password": PASSWORD})
    assert kept.status_code == 422
    assert "It stays on." in kept.text


def test_who_has_a_second_factor_hears_of_a_code_used_twice(
    client: FlaskClient, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    secret = pyotp.random_base32()
    with connected(settings.database) as connection:
        user = users.by_email(connection, EMAIL)
        assert user is not None
        users.set_second_factor(connection, user.id, secret)
    with simulated_mail(settings) as server:
        monkeypatch.setenv("NORVIK_SMTP", server)
        # One code for both tries: the second may fall into the next half minute.
        seen = pyotp.TOTP(secret).now()
        for code, status in ((seen, 302), (seen, 422), ("000000", 422)):
            thief = client.application.test_client()
            sign_in(thief, EMAIL, PASSWORD)
            assert thief.post("/sign-in/code", data={"code": code}).status_code == status
    (mail,) = (p.read_text() for p in settings.mails.glob("*.eml"))
    assert "typed a second time" in mail


def test_codes_are_those_of_rfc_6238(settings: Settings) -> None:
    """Appendix B of RFC 6238: SHA-1, the last six of its eight digits."""
    secret = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ"  # "12345678901234567890" in base 32
    vectors = {59: "287082", 1111111109: "081804", 1234567890: "005924", 2000000000: "279037"}
    with connected(settings.database) as connection:
        user_id = users.add(connection, "a@b.example", "A", "coach", "x")
        for now, digits in vectors.items():
            user = users.by_id(connection, user_id)
            assert check_code(connection, user, secret, digits, now) == "right"
            assert check_code(connection, user, secret, digits, now) == "used"
            assert check_code(connection, user, secret, "000000", now) == "wrong"


def test_where_one_is_signed_in_and_ending_it(client: FlaskClient, settings: Settings) -> None:
    phone = client.application.test_client()
    agent = {"User-Agent": "Mozilla/5.0 (iPhone) Version/17 Safari/604"}
    answer = phone.post("/sign-in", data={"email": EMAIL, "password": PASSWORD}, headers=agent)
    assert answer.status_code == 302
    page = client.get("/account/").text
    assert "this browser" in page
    assert "Safari, phone" in page
    client.post("/account/sessions/end")
    assert phone.get("/swimmers/").status_code == 302
    assert client.get("/swimmers/").status_code == 200
    # A copied cookie is worth nothing after signing out.
    with client.session_transaction() as kept:
        copied = kept["_user_id"]
    answer = client.post("/sign-out")
    assert answer.headers["Clear-Site-Data"] == '"cache"'
    with client.session_transaction() as browser:
        browser.update(_user_id=copied, _fresh=True)
    assert client.get("/swimmers/").status_code == 302


def test_sessions_end_by_themselves(settings: Settings) -> None:
    def at(seen: float, began: float, stays: bool) -> Session:
        return Session(1, 1, "", "", stays, -began, -seen)

    assert not at(IDLE_S - 1, IDLE_S - 1, False).ended(0)
    assert at(IDLE_S + 1, IDLE_S + 1, False).ended(0)
    assert at(1, LONGEST_S + 1, False).ended(0)
    assert not at(IDLE_STAYS_S - 1, IDLE_STAYS_S, True).ended(0)
    with connected(settings.database) as connection:
        users.add(connection, "a@b.example", "A", "coach", "x")
        old = sessions.begin(connection, 1, 1000.0)
        assert sessions.of_token(connection, old, 1000 + IDLE_S + 1) is None
        assert sessions.forget_ended(connection, 1000 + IDLE_S + 1) == 1
        kept = sessions.begin(connection, 1, 1000.0)
        # Being there keeps it alive, up to its last day.
        assert sessions.of_token(connection, kept, 1000 + IDLE_S - 1) is not None
        assert sessions.of_token(connection, kept, 1000 + 1.5 * IDLE_S) is not None
        assert sessions.of_token(connection, kept, 1000 + LONGEST_S + 1) is None


def test_a_changed_role_holds_at_once(client: FlaskClient, settings: Settings) -> None:
    with connected(settings.database) as connection:
        other = users.add(connection, "o@club.example", "Other", "head-coach", PASSWORD_HASH)
    browser = client.application.test_client()
    signed_in_as(browser, settings, other)
    assert browser.get("/people/").status_code == 200
    assert client.post(f"/people/{other}", data={"role": "assistant"}).status_code == 302
    assert browser.get("/people/").status_code == 403
    assert client.post(f"/people/{other}/disable").status_code == 302
    assert browser.get("/swimmers/").status_code == 302
    assert sign_in(client.application.test_client(), "o@club.example", PASSWORD) == 422
    client.post(f"/people/{other}/enable")
    assert sign_in(client.application.test_client(), "o@club.example", PASSWORD) == 302
    assert client.post(f"/people/{other}/remove").status_code == 302
    with connected(settings.database) as connection:
        assert users.by_email(connection, "o@club.example") is None
        deeds = {(s.deed, s.thing_id) for s in trail.find(connection)}
    assert {("account-changed", other), ("account-removed", other)} <= deeds


def test_somebody_stays_head_coach(client: FlaskClient) -> None:
    for address, said in (("/people/1", {"role": "coach"}), ("/people/1/disable", {}),
                          ("/people/1/remove", {})):  # fmt: skip
        refused = client.post(address, data=said)
        assert refused.status_code == 422
        assert "Somebody has to be head coach" in refused.text


def test_squads_go_into_another_season(client: FlaskClient, settings: Settings) -> None:
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Wren Alder"))
        other = users.add(connection, "o@club.example", "Other", "coach", PASSWORD_HASH)
    squad = {"name": "Relay", "season": "2026/27", "starts_on": "2026-09-01",
             "ends_on": "2999-08-31", "swimmer": "1", "staff": str(other)}  # fmt: skip
    assert client.post("/squads/new", data=squad).status_code == 302
    assert "There is a squad" in client.post("/squads/new", data=squad).text
    wrong = {**squad, "name": "Back", "ends_on": "2020-01-01"}
    assert "ends after it starts" in client.post("/squads/new", data=wrong).text
    browser = client.application.test_client()
    signed_in_as(browser, settings, other)
    assert "Wren Alder" in browser.get("/swimmers/").text
    season = {"season": "2027/28", "starts_on": "2999-09-01", "ends_on": "3000-08-31"}
    assert client.post("/squads/season", data=season).status_code == 302
    with connected(settings.database) as connection:
        both = squads.every(connection)
        assert [(q.season, len(q.swimmers), len(q.staff)) for q in both] == [
            ("2027/28", 1, 1), ("2026/27", 1, 1),
        ]  # fmt: skip
        connection.execute("DELETE FROM squads WHERE season = '2027/28'")
        connection.execute("UPDATE squads SET ends_on = '2026-09-02'")
    # After its last day it opens nothing.
    assert "Wren Alder" not in browser.get("/swimmers/").text
    assert browser.get("/swimmers/1").status_code == 403
    assert "over since" in client.get("/squads/").text


def test_a_coach_sees_whom_they_add(client: FlaskClient, settings: Settings) -> None:
    with connected(settings.database) as connection:
        other = users.add(connection, "o@club.example", "Other", "coach", PASSWORD_HASH)
    client.post("/squads/new", data={"name": "Relay", "staff": str(other)})
    signed_in_as(client, settings, other)
    answer = client.post(
        "/swimmers/new", data={"name": "Ida Brekke", "level": "improver", "usual_breath": ""}
    )
    assert client.get(answer.headers["Location"]).status_code == 200
    assert client.post("/swimmers/quick", data={"name": "Ola Brekke"}).json["id"] == 2
    assert "Ola Brekke" in client.get("/swimmers/").text


def test_an_upload_belongs_to_who_began_it(
    client: FlaskClient, settings: Settings, small_clip: Path
) -> None:
    head = {"Tus-Resumable": "1.0.0", "Upload-Length": str(small_clip.stat().st_size)}
    begun = client.post("/uploads", headers=head).headers["Location"]
    path = begun[begun.index("/uploads/") :]
    with connected(settings.database) as connection:
        other = users.add(connection, "o@club.example", "Other", "coach", PASSWORD_HASH)
    browser = client.application.test_client()
    signed_in_as(browser, settings, other)
    piece = {"Tus-Resumable": "1.0.0", "Upload-Offset": "0",
             "Content-Type": "application/offset+octet-stream"}  # fmt: skip
    data = small_clip.read_bytes()
    assert browser.head(path, headers={"Tus-Resumable": "1.0.0"}).status_code == 404
    assert browser.patch(path, data=data, headers=piece).status_code == 404
    assert browser.delete(path, headers={"Tus-Resumable": "1.0.0"}).status_code == 404
    assert client.patch(path, data=data, headers=piece).status_code == 204
    taken = {"upload": path.rpartition("/")[2], "name": "x.mp4"}
    assert browser.post("/clips", data=taken).status_code == 404
    assert client.post("/clips", data=taken).status_code == 201
