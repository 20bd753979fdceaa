"""Changes of marks and of drawings are kept alike, in steps."""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    cursor = connection.cursor()

    def has(table: str, column: str) -> bool:
        cursor.execute(f"SELECT count(*) FROM pragma_table_info('{table}') WHERE name = '{column}'")
        return bool(cursor.fetchone()[0])

    if not has("drawing_changes", "step"):
        cursor.execute("ALTER TABLE drawing_changes ADD COLUMN step INTEGER")
    if has("mark_changes", "mark_id"):
        # It stands in before and after, too.
        cursor.execute("ALTER TABLE mark_changes DROP COLUMN mark_id")


steps = [step(apply)]
