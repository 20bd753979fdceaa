"""Databases as earlier schemas had them."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import yoyo

from norvik.store.connection import MIGRATIONS, connect, migrate


def schema_before(migration: str, path: Path) -> sqlite3.Connection:
    """An empty database as it was before the migration whose number this is."""
    migrate(path)
    path.unlink()
    backend = yoyo.get_backend(f"sqlite:///{path}")
    every = yoyo.read_migrations(str(MIGRATIONS))
    backend.apply_migrations(backend.to_apply(every.filter(lambda m: m.id < migration)))
    backend.connection.close()
    return connect(path)
