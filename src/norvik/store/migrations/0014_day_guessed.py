"""Days of filming that nobody told: guessed as the day on which the file came."""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("SELECT count(*) FROM pragma_table_info('clips') WHERE name = 'day_guessed'")
    if not cursor.fetchone()[0]:
        cursor.execute(
            "ALTER TABLE clips ADD COLUMN day_guessed INTEGER NOT NULL DEFAULT 0 "
            "CHECK (day_guessed IN (0, 1))"
        )


steps = [step(apply)]
