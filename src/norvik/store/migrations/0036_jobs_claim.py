"""Which worker has a running job: what another one says of it late is not heard."""

from __future__ import annotations

from sqlite3 import Connection

from yoyo import step


def _claim(connection: Connection) -> None:
    cursor = connection.cursor()
    cursor.execute("SELECT count(*) FROM pragma_table_info('jobs') WHERE name = 'claim'")
    if not cursor.fetchone()[0]:
        cursor.execute("ALTER TABLE jobs ADD COLUMN claim TEXT NOT NULL DEFAULT ''")


steps = [step(_claim)]
