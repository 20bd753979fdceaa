"""What all tests share: a data folder, an application in immediate mode, small clips."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from jinja2 import FileSystemBytecodeCache

from norvik.settings import Settings
from norvik.store import users
from norvik.store.connection import connected, migrate
from norvik.web import create_app
from norvik.web.auth import hash_password
from tests.clips import numbered_clip

PASSWORD = "tiled-and-still"
#: Hashing is slow on purpose; once is enough for all tests.
PASSWORD_HASH = hash_password(PASSWORD)


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


@pytest.fixture(scope="session")
def compiled_templates(tmp_path_factory: pytest.TempPathFactory) -> FileSystemBytecodeCache:
    """Each test has an application of its own; its templates are compiled once for all."""
    return FileSystemBytecodeCache(str(tmp_path_factory.mktemp("templates")))


@pytest.fixture
def client(
    settings: Settings, compiled_templates: FileSystemBytecodeCache
) -> Iterator[FlaskClient]:
    """A signed-in coach; jobs are done inside the request that asks for them."""
    with connected(settings.database) as connection:
        coach = users.add(connection, "coach@kvarnholm.example", "Coach", "coach", PASSWORD_HASH)
    app = create_app(settings, immediate_jobs=True)
    app.config.update(TESTING=True, WTF_CSRF_ENABLED=False, PROPAGATE_EXCEPTIONS=False)
    app.jinja_env.bytecode_cache = compiled_templates
    with app.test_client() as made:
        # As after signing in, whose password check is slow on purpose.
        with made.session_transaction() as session:
            session.update(_user_id=str(coach), _fresh=True)
        yield made


@pytest.fixture(scope="session")
def small_clip(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """90 frames at 30 frames/s with their numbers in the picture; needs a review copy."""
    return numbered_clip(
        tmp_path_factory.mktemp("clips") / "small.mp4", [n / 30 for n in range(90)]
    )
