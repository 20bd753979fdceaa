"""Changes of a cut are kept as those of marks and drawings are: in steps, each state by itself."""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    cursor = connection.cursor()

    def has(column: str) -> bool:
        cursor.execute(
            "SELECT count(*) FROM pragma_table_info('cut_changes') WHERE name = ?", (column,)
        )
        return bool(cursor.fetchone()[0])

    if not has("step"):
        cursor.execute("ALTER TABLE cut_changes ADD COLUMN step INTEGER")
    if has("clip_id"):
        for state in ("before", "after"):
            values = ", ".join(f"json_extract({state}, '$[{n}]')" for n in range(5))
            # A state that has its part already has six places: a run that was broken off.
            cursor.execute(
                f"UPDATE cut_changes SET {state} = json_array(clip_id, {values}) "
                f"WHERE json_array_length({state}) = 5"
            )
        cursor.execute("ALTER TABLE cut_changes DROP COLUMN clip_id")


steps = [step(apply)]
