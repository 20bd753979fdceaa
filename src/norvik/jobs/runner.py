"""Runs one job: claims it, reports progress, and gives its end a name."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable

from norvik.core.errors import NorvikError
from norvik.jobs.prepare_clip import prepare_clip
from norvik.jobs.report import JobCancelled, Report
from norvik.settings import Settings
from norvik.store import jobs
from norvik.store.connection import connected
from norvik.store.jobs import Job

log = logging.getLogger(__name__)

#: Each kind of job with the function that does it.
KINDS: dict[str, Callable[[Settings, Job, Report], None]] = {"prepare-clip": prepare_clip}


def run_job(settings: Settings, job_id: int) -> None:
    """Do a queued job. A job that is gone or taken by another worker is left alone."""
    with connected(settings.database) as connection:
        job = jobs.claim(connection, job_id, time.time())
        if job is None:
            return
        report = Report(connection, job.id)
        try:
            KINDS[job.kind](settings, job, report)
        except JobCancelled:
            jobs.end(connection, job.id, "cancelled")
        except NorvikError as error:
            jobs.end(connection, job.id, "failed", error.sentence)
        except Exception:
            log.exception("job %d (%s) failed", job.id, job.kind)
            sentence = "Something went wrong in Norvik itself. Try again; the log tells more."
            jobs.end(connection, job.id, "failed", sentence)
        else:
            jobs.end(connection, job.id, "done")
