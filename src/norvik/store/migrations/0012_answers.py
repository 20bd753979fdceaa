"""What the coach says of a focus on a later clip; sessions of a plan as they were done."""

from typing import Any

from yoyo import step


def apply(connection: Any) -> None:
    cursor = connection.cursor()
    # answer: still, better, gone, or unseen where the clip does not show it.
    cursor.execute(
        "CREATE TABLE IF NOT EXISTS focus_answers ("
        "clip_id INTEGER NOT NULL REFERENCES clips (id) ON DELETE CASCADE, "
        "fault TEXT NOT NULL, "
        "answer TEXT NOT NULL CHECK (answer IN ('still', 'better', 'gone', 'unseen')), "
        "PRIMARY KEY (clip_id, fault)) STRICT"
    )
    cursor.execute("SELECT count(*) FROM pragma_table_info('training') WHERE name = 'frozen'")
    if not cursor.fetchone()[0]:
        # JSON of the session as it stood when its outcome was noted.
        cursor.execute("ALTER TABLE training ADD COLUMN frozen TEXT")


steps = [step(apply)]
