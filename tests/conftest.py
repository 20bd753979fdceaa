"""What all tests share: a data folder, an application in immediate mode, small clips."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import users
from norvik.store.connection import connected, migrate
from norvik.web import create_app
from norvik.web.auth import hash_password
from tests.clips import numbered_clip

PASSWORD = "tiled-and-still"
#: Hashing is slow on purpose; once is enough for all tests.
PASSWORD_HASH = hash_password(PASSWORD)


@pytest.fixture
def settings(tmp_path: Path) -> Settings:
    made = Settings(tmp_path / "data")
    made.prepare()
    migrate(made.database)
    return made


@pytest.fixture
def client(settings: Settings) -> Iterator[FlaskClient]:
    """A signed-in coach; jobs are done inside the request that asks for them."""
    with connected(settings.database) as connection:
        users.add(connection, "coach@kvarnholm.example", "Coach", "coach", PASSWORD_HASH)
    app = create_app(settings, immediate_jobs=True)
    app.config.update(TESTING=True, WTF_CSRF_ENABLED=False, PROPAGATE_EXCEPTIONS=False)
    with app.test_client() as made:
        answer = made.post(
            "/sign-in", data={"email": "coach@kvarnholm.example", "password": PASSWORD}
        )
        assert answer.status_code == 302
        yield made


@pytest.fixture(scope="session")
def small_clip(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """90 frames at 30 frames/s with their numbers in the picture; needs a review copy."""
    return numbered_clip(
        tmp_path_factory.mktemp("clips") / "small.mp4", [n / 30 for n in range(90)]
    )
