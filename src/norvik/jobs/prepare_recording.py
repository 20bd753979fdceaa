"""Prepare a recording: frame table, review copy, filmstrip, sound. Whole or not at all.

It goes in two steps. Opening it makes a first stretch that can be watched within seconds, and
often the whole of a short clip; preparing it makes the rest.
"""

from __future__ import annotations

from norvik.core.errors import FootageError
from norvik.footage.probe import is_constant
from norvik.footage.review_copy import ReviewCopy, make_review_copy
from norvik.footage.sound import extract_sound
from norvik.footage.stills import frame_image, jpeg
from norvik.footage.strip import StripMaker
from norvik.jobs.report import JobCancelled, JobLost, Report
from norvik.settings import Settings
from norvik.store import jobs, recordings
from norvik.store.connection import transaction
from norvik.store.jobs import Job
from norvik.store.recordings import Decoded
from norvik.workflow.clip_timing import note_doubts_of_recording

POSTER_WIDTH = 480
OPEN, PREPARE = "open-recording", "prepare-recording"


def open_recording(settings: Settings, job: Job, report: Report) -> int | None:
    """Make the first stretch, or all of a short recording. Returns the job that does the rest."""
    if _prepare(settings, job, report, opening=True):
        return None
    return jobs.add(
        report.connection, PREPARE, {"recording_id": job.recording_id}, job.recording_id
    )


def prepare_recording(settings: Settings, job: Job, report: Report) -> None:
    """Make everything that is still missing of a recording."""
    _prepare(settings, job, report, opening=False)


def _decoded(made: ReviewCopy) -> Decoded:
    return Decoded(
        rate=made.rate,
        width=made.width,
        height=made.height,
        source_width=made.source.width,
        source_height=made.source.height,
        codec=made.codec,
        media_s=made.media_s,
        constant=is_constant(made.media_s, made.tick_s),
        copied=made.copied,
        warning=made.losses.sentence(),
        times_estimated=made.losses.times_estimated > 0,
    )


def _prepare(settings: Settings, job: Job, report: Report, opening: bool) -> bool:
    """True when the recording is ready."""
    connection = report.connection
    recording = recordings.by_id(connection, job.args["recording_id"])
    if recording.state == "ready" or recording.original_path is None:
        return True
    source = settings.data / recording.original_path
    out = settings.film(recording.id)
    strip = StripMaker()

    def keep(made: ReviewCopy) -> None:
        saved = strip.save(settings.strip(recording.id))
        poster = settings.pictures / f"poster-{recording.id}.jpg"
        if made.whole or not poster.is_file():
            middle = int(made.media_s.size) // 2
            poster.write_bytes(jpeg(frame_image(made.path, made.rate, middle), POSTER_WIDTH))
        sound = made.whole and extract_sound(source, settings.sound(recording.id), made.first_s)
        with transaction(connection):
            recordings.set_watchable(
                connection,
                recording.id,
                _decoded(made),
                settings.relative(made.path),
                whole=made.whole,
                strip=saved[0] if saved else None,
                levels=saved[1] if saved else None,
                sound=sound,
            )
            note_doubts_of_recording(connection, recording.id)

    def progress(done: int, of: int | None) -> None:
        strip.expect(of)
        report("Making the review copy", done, of)

    try:
        for left in out.parent.glob(f"{out.name}.*.part"):
            left.unlink()  # of a worker that was killed
        made = make_review_copy(
            source, out, progress, first_only=opening, on_stretch=keep, look=strip
        )
        keep(made)
        return made.whole
    except JobLost:
        # Another worker has it now: what lies there is its work.
        raise
    except JobCancelled:
        _remove(settings, recording.id)
        sentence = "Preparing this clip was cancelled."
        recordings.set_failed(connection, recording.id, sentence)
        raise
    except FootageError as error:
        # The original stays: it may be all that there is, and another try may do better.
        _remove(settings, recording.id)
        recordings.set_failed(connection, recording.id, error.sentence)
        raise
    except BaseException:
        _remove(settings, recording.id)
        sentence = "Preparing this clip failed. Try again."
        recordings.set_failed(connection, recording.id, sentence)
        raise


def _remove(settings: Settings, recording_id: int) -> None:
    for path in settings.made_of(recording_id):
        path.unlink(missing_ok=True)
