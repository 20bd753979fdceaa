"""Loaded once by the process from which servers and workers of the tests start."""

from __future__ import annotations

import tempfile
from pathlib import Path

import norvik.commands.serving  # noqa: F401
import tests.warm  # noqa: F401
from norvik.settings import Settings
from norvik.store.connection import migrate
from norvik.web import create_app

with tempfile.TemporaryDirectory(prefix="norvik-warmed-") as _folder:
    _settings = Settings(Path(_folder) / "data")
    _settings.prepare()
    migrate(_settings.database)
    create_app(_settings).config["NORVIK_HELD"].close()
