"""Files that rows point at: what has to be there for every clip, film and paper to open."""

from __future__ import annotations

import sqlite3

#: Queries for paths relative to the data folder.
_QUERIES = (
    "SELECT original_path FROM recordings WHERE original_path IS NOT NULL "
    "AND state IN ('ready', 'opening')",
    "SELECT review_path FROM recordings WHERE review_path IS NOT NULL AND state = 'ready'",
    "SELECT path FROM made_films",
    "SELECT paper FROM consents WHERE paper != ''",
)


def files_known(connection: sqlite3.Connection) -> set[str]:
    """Paths relative to the data folder."""
    return {row[0] for query in _QUERIES for row in connection.execute(query)}
