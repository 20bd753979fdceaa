"""Clips: one swimmer in a recording, the whole of it or a part. No film is stored with a clip."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from norvik.core.errors import FrameError, NotFoundError
from norvik.core.judging.joined import Pace
from norvik.core.strokes.names import StrokeName
from norvik.core.time.timebase import TimeBase
from norvik.store import recordings, review_clips
from norvik.store.recordings import Recording

VIEWS = (
    "side-under",
    "side-above",
    "front-under",
    "front-above",
    "overhead",
    "behind",
    "behind-under",
)
ROLES = ("before", "drill", "after", "race", "speed-step", "model")
EFFORTS = ("", "easy", "steady", "hard", "race", "sprint")
#: Worn or held while filmed: it changes what is seen, so it is said with every clip.
KIT = ("wetsuit", "fins", "buoy", "paddles", "snorkel", "band")


@dataclass(frozen=True, slots=True)
class Facts:
    """What a clip is. pace_s: seconds a 100. kit: words of KIT. pool_m: pool length in metres."""

    swimmer_id: int | None = None
    stroke: StrokeName = "freestyle"
    view: str = "side-under"
    role: str = "before"
    filmed_on: str = ""
    effort: str = ""
    pace_s: float | None = None
    kit: tuple[str, ...] = ()
    pool_m: float | None = None

    @property
    def pace(self) -> Pace:
        """How fast it was swum, as far as is known."""
        return Pace(self.effort, self.pace_s)


@dataclass(frozen=True, slots=True)
class Clip:
    """A clip with its recording, and how much work is in it.

    last_frame is the recording's last reviewable frame where the clip runs to the end.
    """

    id: int
    recording: Recording
    first_frame: int
    last_frame: int
    to_end: bool
    is_part: bool
    facts: Facts
    swimmer_name: str
    unsure: bool
    trashed_at: str | None
    created_at: str
    marks: int
    reviewed_at: str | None
    #: True while nobody and no camera told the day of filming: it is the day the file came.
    day_guessed: bool = False

    @property
    def stroke(self) -> StrokeName:
        return self.facts.stroke

    @property
    def view(self) -> str:
        return self.facts.view

    @property
    def role(self) -> str:
        return self.facts.role

    @property
    def filmed_on(self) -> str:
        return self.facts.filmed_on

    @property
    def swimmer_id(self) -> int | None:
        return self.facts.swimmer_id

    @property
    def state(self) -> str:
        return self.recording.state

    @property
    def watchable(self) -> bool:
        """True once a frame of it can be seen."""
        return self.recording.watchable and self.first_frame < self.recording.frames

    def holds(self, frame: int) -> bool:
        return self.first_frame <= frame <= self.last_frame

    def require(self, frame: int) -> None:
        """Raises FrameError for a frame outside of the clip."""
        if not self.holds(frame):
            raise FrameError(f"Frame {frame} is not in this clip. Reload the page.")

    @property
    def middle_frame(self) -> int:
        return (self.first_frame + self.last_frame) // 2


_FACTS = "swimmer_id, stroke, view, role, filmed_on, effort, pace_s, kit, pool_m"

SELECT = f"""
SELECT c.id, c.first_frame, c.last_frame, c.is_part, c.swimmer_id, c.stroke, c.view, c.role,
    c.filmed_on, c.effort, c.pace_s, c.kit, c.pool_m, coalesce(s.name, '') AS swimmer_name,
    c.unsure, c.trashed_at, c.created_at,
    (SELECT count(*) FROM marks m WHERE m.clip_id = c.id) AS marks,
    (SELECT max(v.done_at) FROM review_clips m JOIN reviews v ON v.id = m.review_id
     WHERE m.clip_id = c.id AND NOT m.taken_out) AS reviewed_at, c.day_guessed,
    {recordings.COLUMNS}
FROM clips c JOIN recordings r ON r.id = c.recording_id LEFT JOIN swimmers s ON s.id = c.swimmer_id
"""


def from_row(row: sqlite3.Row) -> Clip:
    """A clip from a row of SELECT."""
    (id_, first, last, is_part, swimmer_id, stroke, view, role, filmed_on, effort, pace_s, kit,
     pool_m, swimmer_name, unsure, trashed_at, created_at, marks, reviewed_at,
     day_guessed, *of_recording) = row  # fmt: skip
    recording = recordings.from_values(of_recording)
    facts = Facts(
        swimmer_id, stroke, view, role, filmed_on, effort, pace_s,
        tuple(json.loads(kit)) if kit != "[]" else (), pool_m,
    )  # fmt: skip
    end = max(0, recording.frames - 1)
    return Clip(
        id_, recording, first, end if last is None else min(last, end), last is None,
        bool(is_part), facts, swimmer_name, bool(unsure), trashed_at, created_at, marks,
        reviewed_at, bool(day_guessed),
    )  # fmt: skip


def add(
    connection: sqlite3.Connection,
    recording_id: int,
    facts: Facts,
    created_by: int | None = None,
    part: tuple[int, int] | None = None,
) -> int:
    """Add a clip of a recording: the whole of it, or the part from first to last frame."""
    first, last = part or (0, None)
    row = connection.execute(
        f"INSERT INTO clips (recording_id, first_frame, last_frame, is_part, created_by, {_FACTS}) "
        "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (recording_id, first, last, int(part is not None), created_by, *_values(facts)),
    ).fetchone()
    review_clips.join_day(connection, row["id"])
    return int(row["id"])


def _values(facts: Facts) -> tuple[Any, ...]:
    return (
        facts.swimmer_id,
        facts.stroke,
        facts.view,
        facts.role,
        facts.filmed_on,
        facts.effort,
        facts.pace_s,
        json.dumps(list(facts.kit)),
        facts.pool_m,
    )


def by_id(connection: sqlite3.Connection, clip_id: int) -> Clip:
    """A clip, also one in the trash. Raises NotFoundError."""
    row = connection.execute(SELECT + "WHERE c.id = ?", (clip_id,)).fetchone()
    if row is None:
        raise NotFoundError("This clip has been deleted.")
    return from_row(row)


def by_ids(connection: sqlite3.Connection, ids: Sequence[int]) -> list[Clip]:
    """These clips, also those in the trash; one that was deleted is left out."""
    rows = connection.execute(
        SELECT + "WHERE c.id IN (SELECT value FROM json_each(?)) ORDER BY c.id",
        (json.dumps(list(ids)),),
    )
    return [from_row(row) for row in rows]


def newest_first(
    connection: sqlite3.Connection, swimmer_id: int | None = None, limit: int = 500
) -> list[Clip]:
    rows = connection.execute(
        SELECT + "WHERE (?1 IS NULL OR c.swimmer_id = ?1) AND c.trashed_at IS NULL "
        "ORDER BY c.filmed_on DESC, c.id DESC LIMIT ?2",
        (swimmer_id, limit),
    )
    return [from_row(row) for row in rows]


def filmed_before(connection: sqlite3.Connection, day: str, limit: int = 2000) -> list[Clip]:
    """Clips filmed before a day (ISO 8601) that are not in the trash, the oldest first."""
    rows = connection.execute(
        SELECT
        + "WHERE c.filmed_on < ? AND c.trashed_at IS NULL ORDER BY c.filmed_on, c.id LIMIT ?",
        (day, limit),
    )
    return [from_row(row) for row in rows]


def of_recording(
    connection: sqlite3.Connection, recording_id: int, with_trash: bool = False
) -> list[Clip]:
    """The clips of a recording in the order of their first frames, the whole one first."""
    rows = connection.execute(
        SELECT + "WHERE c.recording_id = ? AND (? OR c.trashed_at IS NULL) "
        "ORDER BY c.is_part, c.first_frame, c.id",
        (recording_id, with_trash),
    )
    return [from_row(row) for row in rows]


def set_facts(connection: sqlite3.Connection, clip_id: int, facts: Facts) -> None:
    places = ", ".join(f"{name.strip()} = ?" for name in _FACTS.split(","))
    connection.execute(f"UPDATE clips SET {places} WHERE id = ?", (*_values(facts), clip_id))
    review_clips.join_day(connection, clip_id)


def set_day_guessed(connection: sqlite3.Connection, clip_id: int, guessed: bool) -> None:
    connection.execute("UPDATE clips SET day_guessed = ? WHERE id = ?", (int(guessed), clip_id))


def change_facts(connection: sqlite3.Connection, clip_ids: list[int], **changes: Any) -> None:
    """Change some of the facts of many clips. Call inside a transaction."""
    for clip_id in clip_ids:
        if "filmed_on" in changes:
            set_day_guessed(connection, clip_id, False)
        set_facts(connection, clip_id, replace(by_id(connection, clip_id).facts, **changes))


def set_edges(connection: sqlite3.Connection, clip_id: int, first: int, last: int) -> None:
    connection.execute(
        "UPDATE clips SET first_frame = ?, last_frame = ? WHERE id = ?", (first, last, clip_id)
    )


def set_unsure(connection: sqlite3.Connection, clip_id: int, unsure: bool) -> None:
    connection.execute("UPDATE clips SET unsure = ? WHERE id = ?", (int(unsure), clip_id))


def last_facts(connection: sqlite3.Connection, user_id: int | None) -> Facts | None:
    """What the newest clip of this person is: most of it holds for the next one, too."""
    row = connection.execute(
        SELECT + "WHERE c.created_by IS ?1 ORDER BY c.id DESC LIMIT 1", (user_id,)
    ).fetchone()
    return from_row(row).facts if row else None


def with_wall_marks(connection: sqlite3.Connection, swimmer_id: int, limit: int = 50) -> list[Clip]:
    """Clips of a swimmer on which something is marked at a wall, newest first."""
    rows = connection.execute(
        SELECT + "WHERE c.swimmer_id = ? AND c.trashed_at IS NULL AND EXISTS "
        "(SELECT 1 FROM marks w WHERE w.clip_id = c.id AND w.lane = 'wall') "
        "ORDER BY c.filmed_on DESC, c.id DESC LIMIT ?",
        (swimmer_id, limit),
    )
    return [from_row(row) for row in rows]


def time_base(connection: sqlite3.Connection, clip: Clip) -> TimeBase:
    """Every frame's time of its recording. Raises NotFoundError while nothing can be watched."""
    return recordings.time_base(connection, clip.recording)


def last_filmed_on(
    connection: sqlite3.Connection, swimmer_id: int, stroke: StrokeName
) -> str | None:
    """The day of a swimmer's newest clip of a stroke; None without one."""
    row = connection.execute(
        "SELECT max(filmed_on) FROM clips "
        "WHERE swimmer_id = ? AND stroke = ? AND trashed_at IS NULL",
        (swimmer_id, stroke),
    ).fetchone()
    return str(row[0]) if row[0] else None
