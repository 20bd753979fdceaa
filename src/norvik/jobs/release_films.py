"""The job that gives up films that are past what the club keeps, or may not be kept any more."""

from __future__ import annotations

from norvik.core.errors import FootageError, NotFoundError
from norvik.jobs.report import HouseReport
from norvik.settings import Settings
from norvik.storage.release import delete_for_good, release_original
from norvik.store import clips, trash
from norvik.store.connection import transaction
from norvik.store.jobs import Job
from norvik.workflow import trail


def release_films(settings: Settings, job: Job, report: HouseReport) -> None:
    """args: recordings whose original goes, clips that go, and who asked (by). Each is noted."""
    connection, by = report.connection, job.args["by"]
    total = len(job.args["recordings"]) + len(job.args["clips"])
    for n, recording_id in enumerate(job.args["recordings"]):
        report("deleting originals", n, total)
        try:
            freed = release_original(connection, settings, recording_id)
        except (FootageError, NotFoundError):
            continue  # done before a stop, or needed after all
        trail.note(connection, by, "released", "original", recording_id,
                   words=f"{freed:,} bytes")  # fmt: skip
    for n, clip_id in enumerate(job.args["clips"], len(job.args["recordings"])):
        report("deleting clips", n, total)
        try:
            clip = clips.by_id(connection, clip_id)
        except NotFoundError:
            continue
        with transaction(connection):
            trash.put(connection, [clip_id])
            trail.note(connection, by, "released", "clip", clip_id, clip.swimmer_id)
        delete_for_good(connection, settings, [clip_id])
