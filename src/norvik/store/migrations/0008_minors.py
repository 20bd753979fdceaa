"""A swimmer may be a minor: other cautions, and fewer people who may see a clip."""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("SELECT count(*) FROM pragma_table_info('swimmers') WHERE name = 'minor'")
    if not cursor.fetchone()[0]:
        cursor.execute("ALTER TABLE swimmers ADD COLUMN minor INTEGER NOT NULL DEFAULT 0")


steps = [step(apply)]
