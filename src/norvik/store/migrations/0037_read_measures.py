"""Measures on the frame that a film proposes, beside the events that were read of it."""

from __future__ import annotations

from sqlite3 import Connection

from yoyo import step


def _measures(connection: Connection) -> None:
    cursor = connection.cursor()
    cursor.execute("SELECT count(*) FROM pragma_table_info('readings') WHERE name = 'measures'")
    if not cursor.fetchone()[0]:
        cursor.execute("ALTER TABLE readings ADD COLUMN measures TEXT NOT NULL DEFAULT '[]'")


steps = [step(_measures)]
