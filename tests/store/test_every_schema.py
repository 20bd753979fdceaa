"""A database of every schema there ever was becomes one of today, with its rows."""

from __future__ import annotations

import gzip
import json
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest

from norvik.store import clips, readings, reviews, squads, swimmers, users
from norvik.store.connection import MIGRATIONS, connected, migrate, schema_missing
from tests.store.keep_databases import KEPT

NAMES = sorted(p.name.removesuffix(".sql.gz") for p in KEPT.glob("*.sql.gz"))


def stored(name: str, path: Path) -> Path:
    with closing(sqlite3.connect(path)) as connection:
        connection.executescript(gzip.decompress((KEPT / f"{name}.sql.gz").read_bytes()).decode())
    return path


def shape(database: Path) -> dict[str, object]:
    """Tables with their columns and references, and the names of triggers and indexes."""
    with connected(database) as connection:
        query = "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE '%yoyo%'"
        tables = [row[0] for row in connection.execute(query)]
        found: dict[str, object] = {
            t: (
                sorted(tuple(r)[1:] for r in connection.execute(f"PRAGMA table_info({t})")),
                sorted(tuple(r)[2:] for r in connection.execute(f"PRAGMA foreign_key_list({t})")),
            )
            for t in tables
        }
        found["others"] = {r[0] for r in connection.execute(
            "SELECT name FROM sqlite_master WHERE type IN ('trigger', 'index') "
            "AND name NOT LIKE 'sqlite_%'")}  # fmt: skip
    return found


def test_each_schema_is_kept() -> None:
    """Fails after a new migration until `python -m tests.store.keep_databases` was run."""
    migrations = sorted(p.stem for p in MIGRATIONS.glob("0*"))
    assert migrations == NAMES


@pytest.mark.parametrize("name", NAMES)
def test_from_there_to_today(name: str, tmp_path: Path, empty_database: Path) -> None:
    database = stored(name, tmp_path / "norvik.sqlite3")
    migrate(database)
    assert schema_missing(database) == []
    assert shape(database) == shape(empty_database)
    with connected(database) as connection:
        assert connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        assert connection.execute("PRAGMA foreign_key_check").fetchall() == []
        clip = clips.by_id(connection, 4)
        assert (clip.swimmer_name, clip.marks, clip.recording.frames) == ("Tilde Vassholm", 1, 3)
        assert clips.time_base(connection, clip).real_s.tolist() == pytest.approx(
            [0, 0.0125, 0.025]
        )
        (review,) = reviews.of_swimmer(connection, 1)
        assert review.words == "Good."
        # The coach who did everything goes on as head coach, the assistant sees whom they saw.
        assert [(u.name, u.role) for u in users.every(connection)] == [
            ("Sunniva", "head-coach"), ("Maren", "assistant"),
        ]  # fmt: skip
        assert squads.swimmers_of_staff(connection, 2, "2026-11-29") == {1}
        swimmer = swimmers.by_id(connection, 1)
        if name >= "0008":
            assert swimmer.allows("filming")
        # Leave and links that were allowed before are allowed still, and no other.
        assert swimmer.allows("squad") == (name >= "0024_leave")
        assert swimmer.allows("sending") == (name >= "0030_links" or name < "0008")


@pytest.mark.parametrize(
    ("view", "cycle", "stays"),
    [("front-under", "{}", False), ("front-above", None, False), ("side-under", None, True),
     ("overhead", "{}", True), ("overhead", None, False)],
)  # fmt: skip
def test_readings_that_misled_or_said_nothing_are_made_anew(
    view: str, cycle: str | None, stays: bool, tmp_path: Path
) -> None:
    """From the front joints misled about the rate; from overhead nothing was read."""
    database = stored("0038_passed_measures", tmp_path / "norvik.sqlite3")
    with connected(database) as connection:
        connection.execute(
            "INSERT OR REPLACE INTO readings (clip_id, read_as, seen, events, reasons, cycle) "
            "VALUES (4, json_object('stroke', 'freestyle', 'view', ?), 1.0, '[]', '{}', ?)",
            (view, cycle),
        )
    migrate(database)
    with connected(database) as connection:
        left = connection.execute("SELECT count(*) FROM readings WHERE clip_id = 4").fetchone()[0]
    assert left == stays


@pytest.mark.parametrize(("stroke", "left"), [("backstroke", ["entry"]), ("butterfly", None)])
def test_kicks_that_were_read_with_a_wrong_count_are_proposed_no_more(
    stroke: str, left: list[str] | None, tmp_path: Path
) -> None:
    """Marks that were confirmed stay; the rest of the reading does, too."""
    database = stored("0039_readings_from_the_front", tmp_path / "norvik.sqlite3")
    events = [
        [12.5, "arm", "left", "entry", 2.0, 0.9, False], [14.0, "leg", "", "beat", 2.0, 0.9, False],
    ]  # fmt: skip
    with connected(database) as connection:
        connection.execute(
            "INSERT OR REPLACE INTO readings (clip_id, read_as, seen, events, reasons) "
            "VALUES (4, json_object('stroke', ?, 'view', 'side-under', 'first_frame', 0, "
            "'last_frame', 99, 'time_base', ''), 1.0, json(?), '{\"breaths\": \"no\"}')",
            (stroke, json.dumps(events)),
        )
    migrate(database)
    with connected(database) as connection:
        row = connection.execute(
            "SELECT events, reasons FROM readings WHERE clip_id = 4"
        ).fetchone()
        found = readings.of_clip(connection, 4)
    assert found is not None
    assert [e.event for e in found.events] == (left or ["entry", "beat"])
    assert json.loads(row["events"])[0] == events[0]
    assert json.loads(row["reasons"]) == (
        {"breaths": "no", "kicks": "read the film again to find them"}
        if left
        else {"breaths": "no"}
    )
