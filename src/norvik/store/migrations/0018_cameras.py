"""Cameras: how their lens bends straight lines, what they are in, and which films they made."""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    cursor.execute(
        """
        CREATE TABLE IF NOT EXISTS cameras (
            id INTEGER PRIMARY KEY,
            name TEXT NOT NULL UNIQUE,
            housing TEXT NOT NULL DEFAULT 'none' CHECK (housing IN ('none', 'flat', 'dome')),
            view_deg REAL NOT NULL DEFAULT 66 CHECK (view_deg BETWEEN 10 AND 170),
            lines TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(lines)),
            k REAL NOT NULL DEFAULT 0,
            u_k REAL NOT NULL DEFAULT 0
        ) STRICT
        """
    )
    cursor.execute("PRAGMA table_info(recordings)")
    if "camera_id" not in {row[1] for row in cursor.fetchall()}:
        cursor.execute(
            "ALTER TABLE recordings ADD COLUMN camera_id INTEGER REFERENCES cameras (id) "
            "ON DELETE SET NULL"
        )


steps = [step(apply)]
