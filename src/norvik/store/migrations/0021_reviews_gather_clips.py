"""A review belongs to a swimmer and gathers clips; each review of one clip becomes one of its own.

Clips of the same day on which nothing was written or chosen join an open review of that day, or
make a new one; beside a finished review they stay apart: what was finished changes no more.
"""

from typing import Any

from yoyo import step

#: Everything that was chosen or written on a clip.
_WRITTEN = (
    "SELECT clip_id FROM reviews UNION SELECT clip_id FROM focuses "
    "UNION SELECT clip_id FROM overrules UNION SELECT clip_id FROM focus_answers"
)

_TABLES = """
CREATE TABLE IF NOT EXISTS reviews_gathering (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    swimmer_id INTEGER REFERENCES swimmers (id) ON DELETE CASCADE,
    filmed_on TEXT NOT NULL,
    words TEXT NOT NULL DEFAULT '',
    words_by INTEGER REFERENCES users (id) ON DELETE SET NULL,
    film_again_on TEXT,
    done_at TEXT,
    created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
) STRICT;
CREATE TABLE IF NOT EXISTS review_clips (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    review_id INTEGER NOT NULL REFERENCES reviews (id) ON DELETE CASCADE,
    clip_id INTEGER REFERENCES clips (id) ON DELETE SET NULL,
    taken_out INTEGER NOT NULL DEFAULT 0 CHECK (taken_out IN (0, 1)),
    was TEXT NOT NULL DEFAULT '',
    stroke TEXT NOT NULL DEFAULT '',
    UNIQUE (review_id, clip_id)
) STRICT;
CREATE INDEX IF NOT EXISTS review_clips_by_clip ON review_clips (clip_id);
CREATE TABLE IF NOT EXISTS focuses_of_reviews (
    review_id INTEGER NOT NULL REFERENCES reviews (id) ON DELETE CASCADE,
    stroke TEXT NOT NULL,
    fault TEXT NOT NULL,
    place INTEGER NOT NULL,
    still_clip INTEGER REFERENCES clips (id) ON DELETE SET NULL,
    still_frame INTEGER,
    drills TEXT CHECK (drills IS NULL OR json_valid(drills)),
    PRIMARY KEY (review_id, stroke, fault)
) STRICT;
CREATE TABLE IF NOT EXISTS overrules_of_reviews (
    review_id INTEGER NOT NULL REFERENCES reviews (id) ON DELETE CASCADE,
    stroke TEXT NOT NULL,
    fault TEXT NOT NULL,
    because TEXT NOT NULL,
    PRIMARY KEY (review_id, stroke, fault)
) STRICT;
CREATE TABLE IF NOT EXISTS answers_of_reviews (
    review_id INTEGER NOT NULL REFERENCES reviews (id) ON DELETE CASCADE,
    stroke TEXT NOT NULL,
    fault TEXT NOT NULL,
    answer TEXT NOT NULL CHECK (answer IN ('still', 'better', 'gone', 'unseen')),
    PRIMARY KEY (review_id, stroke, fault)
) STRICT
"""
#: New name of a table to the one that it takes the place of.
_INSTEAD = {
    "reviews_gathering": "reviews", "focuses_of_reviews": "focuses",
    "overrules_of_reviews": "overrules", "answers_of_reviews": "focus_answers",
}  # fmt: skip


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("SELECT count(*) FROM pragma_table_info('reviews') WHERE name = 'clip_id'")
    if not cursor.fetchone()[0]:
        return
    # Renaming must not redirect what refers to a table that is about to go.
    cursor.execute("PRAGMA legacy_alter_table = ON")
    for statement in _TABLES.split(";"):
        cursor.execute(statement)
    _carry_over(cursor)
    cursor.execute("SELECT count(*) FROM pragma_table_info('plans') WHERE name = 'review_id'")
    if not cursor.fetchone()[0]:
        cursor.execute("ALTER TABLE plans ADD COLUMN review_id INTEGER")
    cursor.execute(
        "UPDATE plans SET review_id = (SELECT m.review_id FROM review_clips m "
        "WHERE m.clip_id = plans.clip_id ORDER BY m.id LIMIT 1)"
    )
    for new, old in _INSTEAD.items():
        cursor.execute(f"DROP TABLE {old}")
        cursor.execute(f"ALTER TABLE {new} RENAME TO {old}")
    cursor.execute("CREATE INDEX IF NOT EXISTS reviews_by_swimmer ON reviews (swimmer_id, id)")
    # Steps from before would put back rows of tables that are no more.
    cursor.execute("DELETE FROM undo_steps")
    cursor.execute("PRAGMA legacy_alter_table = OFF")


def _carry_over(cursor: Any) -> None:
    """Reviews of single clips first, then the clips that had none."""
    cursor.execute(
        "INSERT INTO reviews_gathering (id, swimmer_id, filmed_on, words, film_again_on, done_at) "
        "SELECT c.id, c.swimmer_id, c.filmed_on, coalesce(r.words, ''), r.film_again_on, r.done_at "
        f"FROM clips c LEFT JOIN reviews r ON r.clip_id = c.id WHERE c.id IN ({_WRITTEN})"
    )
    cursor.execute(
        "INSERT INTO review_clips (review_id, clip_id, stroke) "
        f"SELECT c.id, c.id, c.stroke FROM clips c WHERE c.id IN ({_WRITTEN})"
    )
    for new, old, columns in (
        ("focuses_of_reviews", "focuses", "fault, place, still_frame, drills"),
        ("overrules_of_reviews", "overrules", "fault, because"),
        ("answers_of_reviews", "focus_answers", "fault, answer"),
    ):
        cursor.execute(
            f"INSERT INTO {new} (review_id, stroke, {columns}) "
            f"SELECT x.clip_id, c.stroke, {', '.join('x.' + n for n in columns.split(', '))} "
            f"FROM {old} x JOIN clips c ON c.id = x.clip_id"
        )
    cursor.execute(
        "UPDATE focuses_of_reviews SET still_clip = review_id WHERE still_frame IS NOT NULL"
    )
    cursor.execute(
        "SELECT id, swimmer_id, filmed_on, stroke FROM clips WHERE swimmer_id IS NOT NULL "
        "AND trashed_at IS NULL AND id NOT IN (SELECT clip_id FROM review_clips) ORDER BY id"
    )
    for clip_id, swimmer_id, filmed_on, stroke in cursor.fetchall():
        cursor.execute(
            "SELECT id, done_at FROM reviews_gathering WHERE swimmer_id = ? AND filmed_on = ? "
            "ORDER BY done_at IS NOT NULL, id LIMIT 1",
            (swimmer_id, filmed_on),
        )
        there = cursor.fetchone()
        if there is not None and there[1] is not None:
            continue
        if there is None:
            cursor.execute(
                "INSERT INTO reviews_gathering (swimmer_id, filmed_on) VALUES (?, ?)",
                (swimmer_id, filmed_on),
            )
        review_id = there[0] if there else cursor.lastrowid
        cursor.execute(
            "INSERT INTO review_clips (review_id, clip_id, stroke) VALUES (?, ?, ?)",
            (review_id, clip_id, stroke),
        )


steps = [step(apply)]
