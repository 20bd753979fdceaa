"""Who gave leave to show a swimmer beside others, and on which day; without a day there is none."""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("PRAGMA table_info(swimmers)")
    there = {row[1] for row in cursor.fetchall()}
    for column in ("leave_by", "leave_on"):
        if column not in there:
            cursor.execute(f"ALTER TABLE swimmers ADD COLUMN {column} TEXT NOT NULL DEFAULT ''")


steps = [step(apply)]
