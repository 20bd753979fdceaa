"""Jobs: long work with progress and a named end. The queue only carries their numbers."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass
from typing import Any, Literal

from norvik.core.errors import NotFoundError

#: As its migration allows them. interrupted: given up after it was begun too often.
JobState = Literal["queued", "running", "done", "failed", "cancelled", "interrupted"]


@dataclass(frozen=True, slots=True)
class Job:
    """progress: 0 to 1, None when the amount of work is not known."""

    id: int
    kind: str
    args: dict[str, Any]
    recording_id: int | None
    state: JobState
    doing: str
    progress: float | None
    failure: str | None
    attempts: int
    cancel_asked: bool


_COLUMNS = "id, kind, args, recording_id, state, doing, progress, failure, attempts, cancel_asked"


def _job(row: sqlite3.Row) -> Job:
    values = dict(row)
    values["args"] = json.loads(values["args"])
    values["cancel_asked"] = bool(values["cancel_asked"])
    return Job(**values)


def add(
    connection: sqlite3.Connection, kind: str, args: dict[str, Any], recording_id: int | None
) -> int:
    row = connection.execute(
        "INSERT INTO jobs (kind, args, recording_id) VALUES (?, ?, ?) RETURNING id",
        (kind, json.dumps(args), recording_id),
    ).fetchone()
    return int(row["id"])


def by_id(connection: sqlite3.Connection, job_id: int) -> Job:
    row = connection.execute(f"SELECT {_COLUMNS} FROM jobs WHERE id = ?", (job_id,)).fetchone()
    if row is None:
        raise NotFoundError("This job has been deleted.")
    return _job(row)


def find(connection: sqlite3.Connection, job_id: int) -> Job | None:
    """The job, or None when it is not kept any more."""
    row = connection.execute(f"SELECT {_COLUMNS} FROM jobs WHERE id = ?", (job_id,)).fetchone()
    return _job(row) if row else None


def newest_of(connection: sqlite3.Connection, recording_id: int) -> Job | None:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM jobs WHERE recording_id = ? ORDER BY id DESC LIMIT 1",
        (recording_id,),
    ).fetchone()
    return _job(row) if row else None


def newest_alike(connection: sqlite3.Connection, kind: str, args: dict[str, Any]) -> Job | None:
    """The newest job of a kind that was asked for with the same arguments."""
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM jobs WHERE kind = ? AND args = ? ORDER BY id DESC LIMIT 1",
        (kind, json.dumps(args)),
    ).fetchone()
    return _job(row) if row else None


def newest_of_clip(connection: sqlite3.Connection, kind: str, clip_id: int) -> Job | None:
    """The newest job of a kind that works on a clip."""
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM jobs WHERE kind = ? AND json_extract(args, '$.clip_id') = ? "
        "ORDER BY id DESC LIMIT 1",
        (kind, clip_id),
    ).fetchone()
    return _job(row) if row else None


def hand_back(connection: sqlite3.Connection, job_id: int) -> bool:
    """Queue a running job again without counting this attempt; False where it has ended."""
    changed = connection.execute(
        "UPDATE jobs SET state = 'queued', progress = NULL, doing = '', "
        "attempts = max(0, attempts - 1) WHERE id = ? AND state = 'running'",
        (job_id,),
    ).rowcount
    return changed == 1


def age(connection: sqlite3.Connection, seconds: float) -> None:
    """Make signs of life older, as if so much time had passed: for tests of workers that died."""
    connection.execute("UPDATE jobs SET heartbeat_at = heartbeat_at - ?", (seconds,))


def newest_of_kind(connection: sqlite3.Connection, kind: str) -> Job | None:
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM jobs WHERE kind = ? ORDER BY id DESC LIMIT 1", (kind,)
    ).fetchone()
    return _job(row) if row else None


def claim(connection: sqlite3.Connection, job_id: int, now: float, by: str = "") -> Job | None:
    """Take a queued job for oneself; None when it is gone or another worker has it.

    by: a word that nobody else has; what is said of the job without it later is not heard.
    """
    row = connection.execute(
        "UPDATE jobs SET state = 'running', attempts = attempts + 1, heartbeat_at = ?, claim = ?, "
        f"progress = NULL, doing = '' WHERE id = ? AND state = 'queued' RETURNING {_COLUMNS}",
        (now, by, job_id),
    ).fetchone()
    return _job(row) if row else None


def held(connection: sqlite3.Connection, job_id: int, by: str) -> Job | None:
    """A running job that `by` has claimed; None when it is not theirs any more."""
    row = connection.execute(
        f"SELECT {_COLUMNS} FROM jobs WHERE id = ? AND state = 'running' AND claim = ?",
        (job_id, by),
    ).fetchone()
    return _job(row) if row else None


def beat(connection: sqlite3.Connection, job_id: int, now: float, by: str = "") -> None:
    """Say that the worker of a running job is alive, whatever the job is doing just now."""
    connection.execute(
        "UPDATE jobs SET heartbeat_at = ? WHERE id = ? AND state = 'running' AND claim = ?",
        (now, job_id, by),
    )


def tell(
    connection: sqlite3.Connection, job_id: int, now: float, doing: str, progress: float | None,
    by: str = "",
) -> str:  # fmt: skip
    """Store progress; gives what the job is to do.

    "go on", "cancel" when somebody asked for that, "lost" when the job is not running any more, or
    another worker has it.
    """
    row = connection.execute(
        "UPDATE jobs SET heartbeat_at = ?, doing = ?, progress = ? "
        "WHERE id = ? AND state = 'running' AND claim = ? RETURNING cancel_asked",
        (now, doing, progress, job_id, by),
    ).fetchone()
    if row is None:
        return "lost"
    return "cancel" if row["cancel_asked"] else "go on"


def end(
    connection: sqlite3.Connection, job_id: int, state: JobState, failure: str | None = None
) -> None:
    connection.execute(
        "UPDATE jobs SET state = ?, failure = ?, "
        "ended_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now') WHERE id = ?",
        (state, failure, job_id),
    )


def ask_cancel(connection: sqlite3.Connection, job_id: int) -> None:
    """A queued job ends at once; a running one at its next heartbeat."""
    connection.execute(
        "UPDATE jobs SET cancel_asked = 1, "
        "state = CASE state WHEN 'queued' THEN 'cancelled' ELSE state END "
        "WHERE id = ? AND state IN ('queued', 'running')",
        (job_id,),
    )


def queued(connection: sqlite3.Connection) -> list[int]:
    rows = connection.execute("SELECT id FROM jobs WHERE state = 'queued' ORDER BY id")
    return [row["id"] for row in rows]


def any_active(connection: sqlite3.Connection) -> bool:
    """True while a job of any kind waits or is under way."""
    row = connection.execute(
        "SELECT EXISTS (SELECT 1 FROM jobs WHERE state IN ('queued', 'running')) AS found"
    ).fetchone()
    return bool(row["found"])


def waiting_of(connection: sqlite3.Connection, kind: str) -> bool:
    """True while a job of this kind waits."""
    row = connection.execute(
        "SELECT EXISTS (SELECT 1 FROM jobs WHERE state = 'queued' AND kind = ?) AS found", (kind,)
    ).fetchone()
    return bool(row["found"])


def stale(connection: sqlite3.Connection, now: float, silent_s: float) -> list[Job]:
    """Running jobs whose worker has not been heard of for so many seconds.

    A sign of life from the future is none: the clock has been set back since.
    """
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM jobs WHERE state = 'running' "
        "AND (heartbeat_at < ? OR heartbeat_at > ?) ORDER BY id",
        (now - silent_s, now + silent_s),
    )
    return [_job(row) for row in rows]


def requeue(connection: sqlite3.Connection, job_id: int) -> None:
    connection.execute(
        "UPDATE jobs SET state = 'queued', progress = NULL, doing = '' "
        "WHERE id = ? AND state = 'running'",
        (job_id,),
    )
