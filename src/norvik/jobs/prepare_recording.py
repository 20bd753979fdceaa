"""Preparing a recording: what work/prepare.py is told, and where its result goes."""

from __future__ import annotations

import re
import sqlite3

from norvik.core.errors import FootageError
from norvik.files import names
from norvik.files.footage import COPIES
from norvik.files.opened import footage_of
from norvik.settings import Settings
from norvik.store import jobs, recordings
from norvik.store.connection import transaction
from norvik.store.jobs import Job
from norvik.work.prepare import Prepare, Prepared
from norvik.work_names import OPEN, PREPARE
from norvik.workflow.clip_timing import note_doubts_of_recording


def order(connection: sqlite3.Connection, settings: Settings, job: Job) -> Prepare | None:
    """args: recording_id. None for one that is whole already."""
    recording = recordings.by_id(connection, job.args["recording_id"])
    if recording.state == "ready" or recording.original_path is None:
        return None
    return Prepare(recording.id, recording.original_path, opening=job.kind == OPEN)


def keep_part(connection: sqlite3.Connection, settings: Settings, job: Job, made: Prepared) -> None:
    """The recording can be watched as far as it is made."""
    number = job.args["recording_id"]
    own = re.fullmatch(rf"{COPIES}/{number}(-\d+)?\.mp4", made.film)
    if not own and made.film != recordings.by_id(connection, number).original_path:
        raise FootageError("The review copy came back under a name that is not its own.")
    decoded = made.decoded
    with transaction(connection):
        recordings.set_watchable(
            connection, number, decoded, made.film,
            whole=made.whole, strip=made.strip, levels=made.levels, sound=made.sound,
        )  # fmt: skip
        note_doubts_of_recording(connection, number)


def keep(
    connection: sqlite3.Connection, settings: Settings, job: Job, made: Prepared
) -> int | None:
    """Returns the job that makes the rest, where there is one."""
    keep_part(connection, settings, job, made)
    if made.whole:
        return None
    number = job.args["recording_id"]
    return jobs.add(connection, PREPARE, {"recording_id": number}, number)


def ended(
    connection: sqlite3.Connection, settings: Settings, job: Job, how: str, sentence: str
) -> None:
    """Cancelled, failed or broken: nothing half-made stays.

    The original does: it may be all that there is, and another try may do better.
    """
    number = job.args["recording_id"]
    footage = footage_of(settings)
    for name in names.made_of(footage, number):
        footage.remove(name)
    said = {"cancelled": "Preparing this clip was cancelled.",
            "broke": "Preparing this clip failed. Try again."}  # fmt: skip
    recordings.set_failed(connection, number, said.get(how, sentence))


def written(job: Job, made: Prepared) -> list[str]:
    """Names of files that were put anew."""
    number = job.args["recording_id"]
    own = [made.film] if made.decoded.copied else []
    return [*own, names.strip(number), names.poster(number), names.sound(number)]
