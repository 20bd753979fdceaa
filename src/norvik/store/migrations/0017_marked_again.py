"""Events that were marked again without seeing the first mark: how well a person marks."""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    connection.cursor().execute(
        """
        CREATE TABLE IF NOT EXISTS marked_again (
            id INTEGER PRIMARY KEY,
            clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
            person TEXT NOT NULL,
            own INTEGER NOT NULL,
            lane TEXT NOT NULL,
            side TEXT NOT NULL,
            event TEXT NOT NULL,
            first_frame INTEGER NOT NULL,
            again_frame INTEGER NOT NULL,
            later_s REAL NOT NULL,
            interval_s REAL NOT NULL,
            made_at TEXT NOT NULL DEFAULT CURRENT_TIMESTAMP
        ) STRICT
        """
    )
    connection.cursor().execute(
        "CREATE INDEX IF NOT EXISTS marked_again_of_clip ON marked_again (clip_id)"
    )


steps = [step(apply)]
