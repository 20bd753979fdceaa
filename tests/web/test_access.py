"""Nobody gets past the one door: every route that names a thing asks whether the person may."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.store.users import ROLES
from norvik.web.shared.route_deeds import deed_of
from norvik.workflow import access
from tests.conftest import BroughtIn
from tests.web.walk import one_of_each

WEB = Path(__file__).parents[2] / "src" / "norvik" / "web"
#: What an address can name: its place in the address, and the kind of thing.
NAMED = {
    "clip_id": "clip",
    "plan_id": "plan",
    "recording_id": "recording",
    "review_id": "review",
    "swim_id": "swim",
    "swimmer_id": "swimmer",
    "test_id": "pool test",
    "talk_id": "talk",
    "film_id": "film",
}
#: Removed swimmers are loaded by a door of their own: nothing of them is shown.
REMOVED = {"swimmers.restore", "swimmers.delete"}


def routes(client: FlaskClient) -> list[tuple[str, str, str]]:
    """(method, address, endpoint) of every route that names one of these things."""
    address = client.application.url_map.bind("localhost").build
    words = {"kind": "png", "key": "1-1", "by": "months", "what": "still"}
    return sorted(
        (method, address(rule.endpoint, {n: words.get(n, 1) for n in rule.arguments}, method),
         rule.endpoint)
        for rule in client.application.url_map.iter_rules()
        for method in (rule.methods or set()) & {"GET", "POST"}
        if rule.arguments & NAMED.keys()
    )  # fmt: skip


@pytest.fixture
def things(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn, small_clip: Path
) -> None:
    """One of each kind, all with the id 1."""
    brought_in(settings, [Swimmer(name="Wren Alder", level="improver")], (small_clip, {}))
    with connected(settings.database) as connection:
        one_of_each(connection)


def test_one_table_decides_for_every_route(
    client: FlaskClient, things: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked: list[tuple[str, int, str]] = []
    real = access._load

    def load(by_id, connection, who, kind, key, deed):  # type: ignore[no-untyped-def]
        asked.append((kind, key, deed))
        return real(by_id, connection, who, kind, key, deed)

    monkeypatch.setattr(access, "_load", load)
    monkeypatch.setattr(access, "may", lambda who, deed, of=None: of is None)
    walked = routes(client)
    assert len(walked) > 90
    past = []
    for method, address, endpoint in walked:
        # A swimmer's own pages have a door of their own: tests/web/test_roles.py.
        if endpoint in REMOVED or endpoint.startswith("mine."):
            continue
        asked.clear()
        answer = client.open(address, method=method)
        deed = deed_of(endpoint, method)
        answer.close()
        if answer.status_code != 403 or not asked or asked[0][2] != deed:
            past.append(f"{method} {address} {answer.status_code} {asked[:1]}")
    assert not past, "\n".join(past)


def test_views_load_by_the_door_alone() -> None:
    stores = {"clips", "made_films", "plans", "pool_tests", "recordings", "reviews", "swimmers",
              "swims", "talks"}  # fmt: skip
    for path in WEB.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            past = (
                isinstance(node, ast.Attribute)
                and node.attr == "by_id"
                and isinstance(node.value, ast.Name)
                and node.value.id in stores
            )
            assert not past, f"{path.relative_to(WEB)}:{getattr(node, 'lineno', 0)}"


def test_roles_that_the_database_knows_have_a_line_in_the_table() -> None:
    assert set(access.DEEDS) == set(ROLES)
