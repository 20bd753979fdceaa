"""What all tests share: a data folder, an application in immediate mode, small clips."""

from __future__ import annotations

import os
import re
import shutil
import sqlite3
import time
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import hypothesis
import pytest
from flask.testing import FlaskClient

import tests.scratch
import tests.warm  # noqa: F401
from norvik.intake.receive import receive
from norvik.jobs.runner import run_through
from norvik.settings import Settings
from norvik.store import sessions, swimmers, users
from norvik.store.clips import Facts
from norvik.store.connection import connected, migrate
from norvik.store.swimmers import Swimmer
from norvik.web import create_app
from norvik.workflow.passwords import hash_password
from tests.clips import numbered_clip
from tests.engines import queue_at, redis_server  # noqa: F401

# The same examples each time: what passes here passes everywhere, and what fails can be run again.
hypothesis.settings.register_profile("the-same", derandomize=True, deadline=None)
# A rule that was broken on purpose shows in few examples, or in an example written down.
hypothesis.settings.register_profile("few", derandomize=True, deadline=None, max_examples=8)
hypothesis.settings.load_profile(os.environ.get("NORVIK_EXAMPLES", "the-same"))

PASSWORD = "tiled-and-still"
#: Hashing is slow on purpose; once is enough for all tests.
PASSWORD_HASH = hash_password(PASSWORD)
#: What the browser of the head coach holds in tests.
TOKEN = "token-of-the-head-coach"
COACH = ("coach@kvarnholm.example", "Coach", "head-coach", PASSWORD_HASH)


#: What a worker takes at most, its browser and its engines with it (measured: 1.4 GB).
_WORKER_BYTES = 2 * 10**9


def pytest_xdist_auto_num_workers(config: pytest.Config) -> int:
    """One for each processor: with more, tests that wait for a browser wait too long.

    Fewer where memory is short.
    """
    processors = len(os.sched_getaffinity(0))
    memory = os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")
    return max(1, min(processors, memory // _WORKER_BYTES))


@pytest.fixture(scope="session")
def empty_database(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database of the newest schema with nothing in it, to be copied."""
    path = tmp_path_factory.mktemp("empty") / "norvik.sqlite3"
    migrate(path)
    with connected(path) as connection:
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    return path


@pytest.fixture
def settings(tmp_path: Path, empty_database: Path) -> Settings:
    made = Settings(tmp_path / "data")
    made.prepare()
    shutil.copy(empty_database, made.database)
    return made


class PageClient(FlaskClient):
    """A client whose `text` of a page has one space where markup has a line break.

    A browser shows them alike; where a template breaks its lines is no matter of a test.
    """

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        plain = self.response_wrapper

        class Page(plain):  # type: ignore[misc, valid-type]
            @property
            def text(self) -> str:
                text: str = super().text
                return re.sub(r"\s+", " ", text) if self.mimetype == "text/html" else text

        self.response_wrapper = Page

    def open(self, *args: Any, **kwargs: Any) -> Any:
        """Read to its end and closed, as a browser has it: a file that is sent is held open."""
        return super().open(*args, **{"buffered": True, **kwargs})


@pytest.fixture
def client(settings: Settings) -> FlaskClient:
    """A signed-in coach; jobs are done inside the request that asks for them."""
    with connected(settings.database) as connection:
        signed_in(connection, users.add(connection, *COACH), TOKEN)
    app = create_app(settings, immediate_jobs=True)
    app.config.update(TESTING=True, WTF_CSRF_ENABLED=False, PROPAGATE_EXCEPTIONS=False)
    app.test_client_class = PageClient
    # As after signing in, whose password check is slow on purpose. Not held open by a `with`: then
    # clients beside it would share what belongs to one request.
    made = app.test_client()
    holds(made, TOKEN)
    return made


def signed_in(connection: sqlite3.Connection, user_id: int, token: str) -> None:
    """A session of somebody whose browser holds this token."""
    now = time.time()
    connection.execute(
        "INSERT INTO sessions (user_id, digest, began_at, seen_at) VALUES (?, ?, ?, ?)",
        (user_id, sessions.digest(token), now, now),
    )


def holds(client: FlaskClient, token: str) -> None:
    """Make a client the browser that holds a token."""
    with client.session_transaction() as session:
        session.clear()
        session.update(_user_id=token, _fresh=True)


def signed_in_as(client: FlaskClient, settings: Settings, user_id: int) -> None:
    """Make a client the browser of somebody else who has signed in."""
    with connected(settings.database) as connection:
        signed_in(connection, user_id, f"token-of-{user_id}")
    holds(client, f"token-of-{user_id}")


class BroughtIn:
    """Data folders with clips that are ready: each made once, then copied for every test."""

    def __init__(self, folder: Path, empty_database: Path) -> None:
        self._folder = folder
        self._empty = empty_database
        self._made: dict[str, Path] = {}

    def __call__(
        self, settings: Settings, squad: Sequence[Swimmer], *films: tuple[Path, dict[str, Any]]
    ) -> list[int]:
        """Make the data folder hold the coach, a squad, and a clip of each film; gives their ids.

        films: path and facts; the clip is the first swimmer's unless the facts say otherwise.
        """
        key = repr((squad, films))
        if key not in self._made:
            self._made[key] = self._make(squad, films)
        shutil.copytree(self._made[key], settings.data, dirs_exist_ok=True)
        return list(range(1, len(films) + 1))

    def _make(self, squad: Sequence[Swimmer], films: Sequence[tuple[Path, dict[str, Any]]]) -> Path:
        made = Settings(self._folder / str(len(self._made)))
        made.prepare()
        shutil.copy(self._empty, made.database)
        with connected(made.database) as connection:
            signed_in(connection, users.add(connection, *COACH), TOKEN)
            for swimmer in squad:
                swimmers.add(connection, swimmer)
            for path, facts in films:
                said = Facts(**{"swimmer_id": 1, "filmed_on": "2026-11-20", **facts})
                with path.open("rb") as stream:
                    _, job = receive(made, connection, stream, path.name, said, stretch=1)
                run_through(made, job)
            connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        return made.data


@pytest.fixture(scope="session")
def brought_in(tmp_path_factory: pytest.TempPathFactory, empty_database: Path) -> BroughtIn:
    return BroughtIn(tmp_path_factory.mktemp("brought-in"), empty_database)


@pytest.fixture(scope="session")
def small_clip(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """90 frames at 30 frames/s with their numbers in the picture; needs a review copy."""
    return numbered_clip(
        tmp_path_factory.mktemp("clips") / "small.mp4", [n / 30 for n in range(90)]
    )
