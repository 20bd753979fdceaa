"""Changes of marks that belong together are undone together.

`step` is the id of the first change of a group; NULL where a change stands by itself.
"""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("SELECT count(*) FROM pragma_table_info('mark_changes') WHERE name = 'step'")
    if not cursor.fetchone()[0]:
        cursor.execute("ALTER TABLE mark_changes ADD COLUMN step INTEGER")


steps = [step(apply)]
