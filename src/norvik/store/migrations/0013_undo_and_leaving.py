"""Steps that can be undone from a toast; swimmers that left."""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    # parts: JSON of [table, column, id] whose rows were changed; before, after: JSON of those rows.
    cursor.execute(
        "CREATE TABLE IF NOT EXISTS undo_steps ("
        "id INTEGER PRIMARY KEY AUTOINCREMENT, "
        "user_id INTEGER, "
        "text TEXT NOT NULL, "
        "parts TEXT NOT NULL CHECK (json_valid(parts)), "
        "before TEXT NOT NULL CHECK (json_valid(before)), "
        "after TEXT NOT NULL CHECK (json_valid(after)), "
        "made_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))) STRICT"
    )
    cursor.execute("SELECT count(*) FROM pragma_table_info('swimmers') WHERE name = 'removed_at'")
    if not cursor.fetchone()[0]:
        cursor.execute("ALTER TABLE swimmers ADD COLUMN removed_at TEXT")


steps = [step(apply)]
