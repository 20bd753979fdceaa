"""A clip of one swimmer, ready, with a coach; no page anywhere."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest

from norvik.settings import Settings
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.conftest import BroughtIn

COACH_ID = 1


@pytest.fixture
def database(
    settings: Settings, brought_in: BroughtIn, small_clip: Path
) -> Iterator[sqlite3.Connection]:
    brought_in(
        settings,
        [Swimmer("Tilde Vassholm", kit=("buoy", "board", "fins", "snorkel", "paddles"))],
        (small_clip, {"pool_m": 25.0}),
    )
    with connected(settings.database) as connection:
        yield connection
