"""What a plan's calendar has told already: so that a later one says what moved and what is off."""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    # said: JSON of the entry as it was told last; sequence grows with each change (RFC 5545).
    connection.cursor().execute(
        """
        CREATE TABLE IF NOT EXISTS calendar_entries (
            plan_id INTEGER NOT NULL REFERENCES plans (id) ON DELETE CASCADE,
            session TEXT NOT NULL,
            sequence INTEGER NOT NULL,
            cancelled INTEGER NOT NULL DEFAULT 0,
            said TEXT NOT NULL CHECK (json_valid(said)),
            changed_at TEXT NOT NULL,
            PRIMARY KEY (plan_id, session)
        ) STRICT
        """
    )


steps = [step(apply)]
