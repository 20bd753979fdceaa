"""A film that was made goes with its row, however the row goes."""

from yoyo import step

__depends__ = {"0028_talks"}

steps = [
    step(
        "CREATE TRIGGER IF NOT EXISTS made_films_leave_their_file AFTER DELETE ON made_films BEGIN "
        "INSERT OR IGNORE INTO files_to_remove (path) VALUES (old.path); END"
    )
]
