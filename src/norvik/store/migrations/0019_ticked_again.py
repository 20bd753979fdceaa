"""What a second person ticked on a clip without seeing the first one's ticks."""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    # ticks: JSON of [what, side] of everything that was seen; items: of everything asked.
    connection.cursor().execute(
        """
        CREATE TABLE IF NOT EXISTS ticked_again (
            clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
            person TEXT NOT NULL,
            own INTEGER NOT NULL,
            items TEXT NOT NULL CHECK (json_valid(items)),
            ticks TEXT NOT NULL CHECK (json_valid(ticks)),
            made_at TEXT NOT NULL DEFAULT CURRENT_TIMESTAMP,
            PRIMARY KEY (clip_id, person)
        ) STRICT
        """
    )


steps = [step(apply)]
