"""Links to one review that open without an account, and what the swimmer answers there.

Of the swimmer: where mail goes, and who allowed on which day that links are sent.
"""

from typing import Any

from yoyo import step

_COLUMNS = ("email", "guardian_email", "sending_by", "sending_on")


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("PRAGMA table_info(swimmers)")
    there = {row[1] for row in cursor.fetchall()}
    for column in _COLUMNS:
        if column not in there:
            cursor.execute(f"ALTER TABLE swimmers ADD COLUMN {column} TEXT NOT NULL DEFAULT ''")
    # digest: SHA-256 of the token, by which a link is looked up. film: what goes along.
    cursor.execute(
        """CREATE TABLE IF NOT EXISTS review_links (
            id INTEGER PRIMARY KEY,
            review_id INTEGER NOT NULL REFERENCES reviews (id) ON DELETE CASCADE,
            token TEXT NOT NULL,
            digest TEXT NOT NULL UNIQUE,
            film_id INTEGER REFERENCES made_films (id) ON DELETE SET NULL,
            valid_until TEXT NOT NULL,
            taken_back_at TEXT,
            opened INTEGER NOT NULL DEFAULT 0,
            opened_at TEXT,
            sent_to TEXT NOT NULL DEFAULT '',
            sent_at TEXT,
            created_by INTEGER REFERENCES users (id) ON DELETE SET NULL,
            created_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now'))
        ) STRICT"""
    )
    cursor.execute("CREATE INDEX IF NOT EXISTS review_links_by_review ON review_links (review_id)")
    # session: of the plan, or empty. pain: a part of the body, or empty.
    cursor.execute(
        """CREATE TABLE IF NOT EXISTS link_answers (
            id INTEGER PRIMARY KEY,
            link_id INTEGER NOT NULL REFERENCES review_links (id) ON DELETE CASCADE,
            key TEXT NOT NULL UNIQUE,
            plan_id INTEGER REFERENCES plans (id) ON DELETE SET NULL,
            session TEXT NOT NULL DEFAULT '',
            outcome TEXT NOT NULL DEFAULT '',
            felt INTEGER,
            pain TEXT NOT NULL DEFAULT '',
            words TEXT NOT NULL DEFAULT '',
            answered_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%SZ', 'now')),
            seen_at TEXT
        ) STRICT"""
    )
    cursor.execute("CREATE INDEX IF NOT EXISTS link_answers_by_link ON link_answers (link_id)")


steps = [step(apply)]
