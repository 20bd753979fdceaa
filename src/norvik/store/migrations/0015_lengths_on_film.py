"""Kicks off the wall and breaths of a length; the clip that a swim was read from."""

from typing import Any

from yoyo import step

_COLUMNS = (
    ("swim_lengths", "kicks", "INTEGER CHECK (kicks >= 0)"),
    ("swim_lengths", "breaths", "INTEGER CHECK (breaths >= 0)"),
    ("swims", "clip_id", "INTEGER REFERENCES clips (id) ON DELETE SET NULL"),
)


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    for table, name, kind in _COLUMNS:
        cursor.execute(f"SELECT count(*) FROM pragma_table_info('{table}') WHERE name = '{name}'")
        if not cursor.fetchone()[0]:
            cursor.execute(f"ALTER TABLE {table} ADD COLUMN {name} {kind}")


steps = [step(apply)]
