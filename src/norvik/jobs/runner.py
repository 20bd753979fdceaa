"""Runs one job: claims it, reports progress, and gives its end a name."""

from __future__ import annotations

import logging
import time
from contextlib import nullcontext

from norvik.core.errors import NorvikError
from norvik.jobs.kinds import KINDS
from norvik.jobs.report import JobCancelled, JobGivesWay, JobLost, Pulse, Report
from norvik.jobs.turn import TURN
from norvik.settings import Settings
from norvik.store import jobs
from norvik.store.connection import connected

log = logging.getLogger(__name__)


def run_job(settings: Settings, job_id: int) -> int | None:
    """Do a queued job. Returns the number of a job that goes on from there, if there is one.

    A job that is gone or taken by another worker is left alone.
    """
    with connected(settings.database) as connection:
        job = jobs.claim(connection, job_id, time.time())
        if job is None:
            return None
        kind = KINDS[job.kind]
        report = Report(connection, job.id, gives_way=not kind.quick)
        following = None
        try:
            with Pulse(settings, job.id), TURN.quick() if kind.quick else nullcontext():
                following = kind.work(settings, job, report)
        except JobCancelled:
            jobs.end(connection, job.id, "cancelled")
        except JobGivesWay:
            jobs.requeue(connection, job.id)
            following = job.id
        except JobLost:
            log.warning("job %d (%s) was given to another worker", job.id, job.kind)
        except NorvikError as error:
            jobs.end(connection, job.id, "failed", error.sentence)
        except Exception:
            log.exception("job %d (%s) failed", job.id, job.kind)
            sentence = "Something went wrong in Norvik. Try again; see the log for details."
            jobs.end(connection, job.id, "failed", sentence)
        else:
            jobs.end(connection, job.id, "done")
        return following


def run_through(settings: Settings, job_id: int) -> None:
    """Do a job and all that follow from it, here and now."""
    following: int | None = job_id
    while following is not None:
        following = run_job(settings, following)
