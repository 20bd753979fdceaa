"""The house's side of a job: claimed with its order, its parts and its result kept, its end named.

The same for the worker beside the database and for those on other machines.
"""

from __future__ import annotations

import logging
import sqlite3
import time
from dataclasses import dataclass
from typing import Any

from norvik.core.errors import NorvikError
from norvik.jobs.kinds import ENDS, KINDS
from norvik.settings import Settings
from norvik.store import jobs
from norvik.store.jobs import Job

log = logging.getLogger(__name__)

#: What is said of an error that nobody foresaw.
SORRY = "Something went wrong in Norvik. Try again; see the log for details."


@dataclass(frozen=True, slots=True)
class Taken:
    job: Job
    order: Any


def take(connection: sqlite3.Connection, settings: Settings, job_id: int, by: str) -> Taken | None:
    """Claim a queued job. None where there is nothing to do, be it that the job is gone, that
    another worker has it, or that it ended here.
    """
    job = jobs.claim(connection, job_id, time.time(), by)
    if job is None:
        return None
    try:
        order = KINDS[job.kind].order(connection, settings, job)
    except NorvikError as error:
        ended(connection, settings, job_id, by, "failed", error.sentence)
    except Exception:
        log.exception("job %d (%s) could not begin", job.id, job.kind)
        ended(connection, settings, job_id, by, "broke", SORRY)
    else:
        if order is not None:
            return Taken(job, order)
        jobs.end(connection, job_id, "done")
    return None


def keep_part(
    connection: sqlite3.Connection, settings: Settings, job_id: int, by: str, part: Any
) -> None:
    """Keep what is finished already. Raises NorvikError where it cannot be."""
    job = jobs.held(connection, job_id, by)
    if job is not None:
        ENDS[job.kind].keep_part(connection, settings, job, part)


def done(
    connection: sqlite3.Connection, settings: Settings, job_id: int, by: str, result: Any
) -> int | None:
    """Keep a result; gives the number of a job that goes on from there, if there is one."""
    job = jobs.held(connection, job_id, by)
    if job is None:
        return None
    try:
        following = ENDS[job.kind].keep(connection, settings, job, result)
    except NorvikError as error:
        ended(connection, settings, job_id, by, "failed", error.sentence)
        return None
    except Exception:
        log.exception("the result of job %d (%s) could not be kept", job.id, job.kind)
        ended(connection, settings, job_id, by, "broke", SORRY)
        return None
    jobs.end(connection, job_id, "done")
    return following


def ended(
    connection: sqlite3.Connection, settings: Settings, job_id: int, by: str, how: str,
    sentence: str,
) -> None:  # fmt: skip
    """A job that came to another end. how: "cancelled", "failed" or "broke"."""
    job = jobs.held(connection, job_id, by)
    if job is None:
        return
    # First what hangs on it: stopped in between, the job is found and ended again.
    ENDS[job.kind].ended(connection, settings, job, how, sentence)
    state: jobs.JobState = "cancelled" if how == "cancelled" else "failed"
    jobs.end(connection, job_id, state, None if how == "cancelled" else sentence)


def gave_way(connection: sqlite3.Connection, job_id: int, by: str) -> int | None:
    if jobs.held(connection, job_id, by) is None:
        return None
    jobs.requeue(connection, job_id)
    return job_id
