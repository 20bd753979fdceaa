"""The job that makes a backup, and when the worker asks for one by itself."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from pathlib import Path

from norvik.backup.make import KEEP, make_backup
from norvik.jobs.report import HouseReport
from norvik.settings import Settings
from norvik.store import backups, club, jobs
from norvik.store.connection import connected
from norvik.store.jobs import Job
from norvik.work_names import BACK_UP
from norvik.workflow import trail

#: Own choice: a new one is made well before the last counts as too old.
_EARLY = 0.8
#: After one that failed so many seconds pass before the next try.
_AGAIN_S = 1800.0


def back_up(settings: Settings, job: Job, report: HouseReport) -> None:
    """args: folder, keep."""
    made = make_backup(
        settings, Path(job.args["folder"]), keep=job.args["keep"],
        told=lambda doing, done, of: report(doing, done, of),
    )  # fmt: skip
    trail.note(report.connection, None, "backed-up", words=made.generation)


def back_up_when_due(settings: Settings, put: Callable[[int], None]) -> bool:
    """Ask for a backup where NORVIK_BACKUP names a folder and the last one grows old.

    put: into the queue. NORVIK_BACKUP_KEEP: generations that are kept. Gives whether one was
    asked for.
    """
    folder = os.environ.get("NORVIK_BACKUP", "")
    if not folder:
        return False
    with connected(settings.database) as connection:
        now = time.time()
        good, last = backups.newest_good(connection), backups.newest(connection)
        hours = club.house(connection, "backup-hours")
        if good is not None and now - good.made_at < _EARLY * hours * 3600:
            return False
        if last is not None and last.failure and now - last.made_at < _AGAIN_S:
            return False
        under_way = jobs.newest_of_kind(connection, BACK_UP)
        if under_way is not None and under_way.state in ("queued", "running"):
            return False
        keep = int(os.environ.get("NORVIK_BACKUP_KEEP", KEEP))
        job_id = jobs.add(connection, BACK_UP, {"folder": folder, "keep": keep}, None)
    put(job_id)
    return True
