"""What a club has chosen once for all its swimmers."""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    connection.cursor().execute(
        "CREATE TABLE IF NOT EXISTS club (name TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT"
    )


steps = [step(apply)]
