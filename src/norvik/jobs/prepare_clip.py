"""Prepare a clip: frame table, review copy, poster. Whole or not at all."""

from __future__ import annotations

from norvik.core.errors import DiskFullError, FootageError
from norvik.footage.review_copy import make_review_copy
from norvik.footage.stills import frame_image, jpeg
from norvik.jobs.report import JobCancelled, Report
from norvik.settings import Settings
from norvik.store import clips
from norvik.store.connection import transaction
from norvik.store.jobs import Job

POSTER_WIDTH = 480


def prepare_clip(settings: Settings, job: Job, report: Report) -> None:
    """Make a waiting clip ready. A file that turns out to be no footage is not kept."""
    connection = report.connection
    clip = clips.by_id(connection, job.args["clip_id"])
    source = settings.data / clip.original_path
    out = settings.copies / f"{clip.id}.mp4"
    poster = settings.pictures / f"poster-{clip.id}.jpg"
    try:
        made = make_review_copy(
            source, out, lambda done, of: report("Making the review copy", done, of)
        )
        middle = int(made.media_s.size) // 2
        poster.write_bytes(jpeg(frame_image(made.path, made.rate, middle), POSTER_WIDTH))
    except JobCancelled:
        _remove(settings, clip.id)
        clips.set_failed(connection, clip.id, "Preparing this clip was cancelled.")
        raise
    except FootageError as error:
        _remove(settings, clip.id)
        if not isinstance(error, DiskFullError):
            source.unlink(missing_ok=True)
        clips.set_failed(connection, clip.id, error.sentence)
        raise
    except BaseException:
        _remove(settings, clip.id)
        clips.set_failed(connection, clip.id, "Preparing this clip failed. Try again.")
        raise
    with transaction(connection):
        clips.set_ready(connection, clip.id, made, settings.relative(made.path))


def _remove(settings: Settings, clip_id: int) -> None:
    (settings.copies / f"{clip_id}.mp4").unlink(missing_ok=True)
    (settings.pictures / f"poster-{clip_id}.jpg").unlink(missing_ok=True)
