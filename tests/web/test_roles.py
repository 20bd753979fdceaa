"""Every role on every route: what docs/roles.md says is so, and nobody reaches another squad."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import observations, pains, remarks, users
from norvik.store.connection import connected
from norvik.store.observations import Sighting
from norvik.store.swimmers import Swimmer
from norvik.store.users import ROLES
from norvik.web.shared.route_deeds import OPEN, OPEN_BLUEPRINTS, deed_of, is_open
from norvik.workflow.access import DEEDS
from norvik.workflow.people import ROLE_WORDS
from tests.conftest import BroughtIn, holds
from tests.web.offered import not_for
from tests.web.walk import WRITTEN, Walked, address_words, fill, table, walk, written_table


@pytest.fixture
def house(client: FlaskClient, settings: Settings, brought_in: BroughtIn, small_clip: Path) -> None:
    brought_in(settings, [Swimmer(name="Wren Alder"), Swimmer(name="Other Side")], (small_clip, {}))
    fill(settings)


def said(who: str) -> dict[str, bool]:
    """Route to what the docs say about it for a column."""
    rows = [line.split("|")[1:-1] for line in written_table().splitlines()[2:]]
    column = WRITTEN.index(who) + 1
    return {row[0].strip(" `"): row[column].strip() == "yes" for row in rows}


def test_a_role_is_known_everywhere(settings: Settings) -> None:
    """What it may, how it reads, and that a person can have it."""
    assert set(DEEDS) == set(ROLES)
    assert set(ROLE_WORDS) == set(ROLES)
    with connected(settings.database) as connection:
        for role in ROLES:
            users.add(connection, f"{role}@club.example", role, role, "")


@pytest.mark.parametrize("who", WRITTEN)
def test_the_written_table_holds(
    client: FlaskClient, house: None, settings: Settings, tmp_path: Path, who: str
) -> None:
    walked = walk(client.application, settings, who, tmp_path / "aside")
    assert not [w for w in walked if w.status >= 500 and w.endpoint != "health.ready"], [
        f"{w.method} {w.rule} {w.status}" for w in walked if w.status >= 500
    ]
    found = {f"{w.method} {w.rule}": w.allowed for w in walked}
    assert found == said(who)


@pytest.mark.parametrize(
    "who", ["coach of another squad", "assistant of another squad", "another swimmer"]
)
def test_nobody_reaches_another_squad(
    client: FlaskClient, house: None, settings: Settings, tmp_path: Path, who: str
) -> None:
    def past(w: Walked) -> bool:
        return w.thing and w.allowed and not is_open(w.endpoint, w.endpoint.partition(".")[0])

    walked = walk(client.application, settings, who, tmp_path / "aside")
    assert len([w for w in walked if w.thing]) > 150
    assert not [f"{w.method} {w.rule} {w.status}" for w in walked if past(w)]


@pytest.mark.parametrize("who", ["coach of another squad", "assistant of another squad"])
def test_no_page_names_a_swimmer_of_another_squad(
    client: FlaskClient, house: None, settings: Settings, who: str
) -> None:
    with connected(settings.database) as connection:
        connection.execute("UPDATE swimmers SET name = 'Zebulon Markerling' WHERE id = 1")
    holds(client, who)
    address = client.application.url_map.bind("localhost").build
    looked = 0
    for rule in client.application.url_map.iter_rules():
        if rule.arguments or "GET" not in (rule.methods or set()):
            continue
        answer = client.get(address(rule.endpoint))
        assert "Markerling" not in answer.get_data(as_text=True), rule.rule
        looked += answer.status_code == 200
    assert looked > 10
    # The head coach sees the name where it belongs.
    holds(client, "head coach")
    assert "Markerling" in client.get("/swimmers/").text


def test_a_swimmer_is_led_to_the_own_pages(client: FlaskClient, house: None) -> None:
    holds(client, "swimmer")
    assert client.get("/").headers["Location"] == "/mine/"
    page = client.get("/mine/").text
    assert "Wren Alder" in page
    assert "Other Side" not in page
    review = re.search(r"/mine/1/reviews/\d+/", page)
    assert review is not None
    opened = client.get(review[0])
    assert opened.status_code == 200
    assert "Stroke review" in opened.text
    # What is answered there reaches the coach.
    said = client.post(f"{review[0]}answers", data={"key": "0123456789", "words": "it was cold"})
    assert said.json == {"sentence": "Sent to your coach."}
    holds(client, "coach")
    assert "it was cold" in client.get("/").text
    holds(client, "another swimmer")
    assert client.get(review[0]).status_code == 403


def test_every_route_says_what_it_does(client: FlaskClient) -> None:
    app = client.application
    for rule in app.url_map.iter_rules():
        blueprint = rule.endpoint.partition(".")[0] if "." in rule.endpoint else None
        if not is_open(rule.endpoint, blueprint):
            for method in rule.methods or ():
                deed_of(rule.endpoint, method)
    there = {rule.endpoint for rule in app.url_map.iter_rules()}
    assert there >= OPEN
    assert {e.partition(".")[0] for e in there} >= OPEN_BLUEPRINTS
    assert table({who: [] for who in WRITTEN}).count("\n") == 2


#: What leads whoever may not see it to the own pages: the name of the house itself.
_LED_ON = {"GET today.show"}


@pytest.mark.parametrize("who", ["coach", "assistant", "swimmer", "guardian"])
def test_no_page_offers_what_the_role_may_not_do(
    client: FlaskClient, house: None, settings: Settings, who: str
) -> None:
    """Every link, form and request of every page leads somewhere that opens."""
    app = client.application
    with connected(settings.database) as connection:
        pains.note(connection, 1, "shoulder", "says so")
        for fault in ("dropped-elbow", "crossing"):
            observations.put(connection, 1, Sighting(fault, "right", "clear", 30))
        for kind in ("point", "doubt"):
            remarks.add(connection, 1, None, kind, "the right hand stops", "", 30, True, "")
    holds(client, "head coach")
    client.post("/clips/1/judge/focus", data={"fault": "dropped-elbow", "want": "yes"})
    assert "Another drill than" in client.get("/clips/1/judge/").text
    holds(client, who)
    address = app.url_map.bind("localhost").build
    looked, offered = 0, {}
    for rule in app.url_map.iter_rules():
        if "GET" not in (rule.methods or set()):
            continue
        own = address(rule.endpoint, address_words(rule))
        answer = client.get(own)
        if answer.status_code == 200 and answer.mimetype == "text/html":
            looked += 1
            found = not_for(app, who, answer.get_data(as_text=True), own) - _LED_ON
            offered |= {f"{rule.rule}: {one}": who for one in found}
        answer.close()
    assert offered == {}
    assert looked > 6
