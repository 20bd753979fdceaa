"""What was cut under an earlier schema can still be undone under this one."""

from __future__ import annotations

from pathlib import Path

from norvik.store import clips, cuts
from norvik.store.connection import connect, migrate
from tests.store.schemas import schema_before


def test_cuts_of_an_earlier_schema_are_undone_and_redone(tmp_path: Path) -> None:
    path = tmp_path / "norvik.sqlite3"
    old = schema_before("0026", path)
    old.executescript("""
        INSERT INTO swimmers (id, name, level) VALUES (1, 'Tilde', 'improver');
        INSERT INTO recordings (id, original_name, original_path, sha256, bytes, state)
            VALUES (1, 'a.mp4', 'o/a', 'ab', 1, 'ready');
        INSERT INTO clips (id, recording_id, swimmer_id, stroke, view, role, filmed_on,
            first_frame, last_frame) VALUES
            (1, 1, NULL, 'freestyle', 'side-under', 'race', '2026-11-20', 0, 89),
            (2, 1, 1, 'butterfly', 'side-under', 'race', '2026-11-20', 15, 60);
        INSERT INTO cut_changes (recording_id, user_id, clip_id, before, after) VALUES
            (1, 3, 2, '[10, 60, null, "freestyle", true]', '[10, 60, null, "freestyle", false]'),
            (1, 3, 2, '[10, 60, null, "freestyle", false]', '[15, 60, 1, "butterfly", false]');
    """)
    old.close()
    migrate(path)
    migrate(path)
    database = connect(path)
    assert cuts.undo(database, 1, 3)
    part = clips.by_id(database, 2)
    assert (part.first_frame, part.swimmer_id, part.stroke) == (10, None, "freestyle")
    assert part.trashed_at is None
    assert cuts.undo(database, 1, 3)
    assert clips.by_id(database, 2).trashed_at is not None
    assert cuts.can_undo_redo(database, 1, 3) == (False, True)
    assert cuts.redo(database, 1, 3)
    assert cuts.redo(database, 1, 3)
    part = clips.by_id(database, 2)
    assert (part.first_frame, part.swimmer_id, part.stroke) == (15, 1, "butterfly")
    assert not cuts.redo(database, 1, 3)
    # Another coach has nothing to undo here.
    assert not cuts.undo(database, 1, 4)
    database.close()
