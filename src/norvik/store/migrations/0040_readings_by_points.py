"""Readings that rest on tracked points, of films that are not from the side, and their kicks."""

from __future__ import annotations

from sqlite3 import Connection

from yoyo import step


def _by_points(connection: Connection) -> None:
    """How far the network is off is no matter of a reading that rests on tracked points."""
    cursor = connection.cursor()
    cursor.execute("SELECT count(*) FROM pragma_table_info('readings') WHERE name = 'by_points'")
    if not cursor.fetchone()[0]:
        cursor.execute("ALTER TABLE readings ADD COLUMN by_points INTEGER NOT NULL DEFAULT 0")


#: A rate is told from every view now; what was kept of other views than the side said that none is.
_ANEW = (
    "DELETE FROM readings WHERE json_extract(read_as, '$.view') NOT LIKE 'side-%' AND cycle IS NULL"
)

#: Two kicks a cycle could be called four or six: what was read of them is not proposed any more.
#: An event is an array with its name in the fourth place.
_KICKS = """
UPDATE readings SET
    events = (SELECT json_group_array(json(e.value)) FROM json_each(readings.events) e
              WHERE json_extract(e.value, '$[3]') <> 'beat'),
    reasons = json_set(reasons, '$.kicks', 'read the film again to find them')
WHERE json_extract(read_as, '$.stroke') IN ('freestyle', 'backstroke')
  AND EXISTS (SELECT 1 FROM json_each(readings.events) e
              WHERE json_extract(e.value, '$[3]') = 'beat')
"""

steps = [step(_by_points), step(_ANEW), step(_KICKS)]
