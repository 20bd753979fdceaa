"""Each kind of job: what the house does before it and with its result."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from norvik.jobs import film_model, follow_point, make_film, prepare_recording, read_clip
from norvik.jobs.back_up import back_up
from norvik.jobs.release_films import release_films
from norvik.jobs.report import HouseReport
from norvik.settings import Settings
from norvik.store.jobs import Job
from norvik.work_names import (
    BACK_UP,
    FILM_MODEL,
    FOLLOW,
    MAKE_FILM,
    OPEN,
    PREPARE,
    READ,
    RELEASE,
)

#: (connection, settings, job) to what the work is told; None where nothing is left to do.
Order = Callable[[sqlite3.Connection, Settings, Job], Any]
#: (connection, settings, job, what came); a number is of a job that goes on from there.
Keep = Callable[[sqlite3.Connection, Settings, Job, Any], int | None]
#: (connection, settings, job, "cancelled", "failed" or "broke", sentence)
Ended = Callable[[sqlite3.Connection, Settings, Job, str, str], None]


#: (job, result) to names of files
Written = Callable[[Job, Any], list[str]]


def _no_names(*_: object) -> list[str]:
    return []


def _nothing(*_: object) -> None:
    return None


@dataclass(frozen=True, slots=True)
class Kind:
    """Work that any machine does.

    quick: a few seconds, and somebody waits for it. written: names of files that were put in place
    of older ones.
    """

    quick: bool
    order: Order
    keep: Keep
    keep_part: Keep = _nothing
    ended: Ended = _nothing
    written: Written = _no_names


@dataclass(frozen=True, slots=True)
class HouseKind:
    """Work on the database itself, for the machine that has it. Nothing hangs on its end."""

    work: Callable[[Settings, Job, HouseReport], None]
    keep: Keep = _nothing
    keep_part: Keep = _nothing
    ended: Ended = _nothing


_PREPARING = Kind(
    True, prepare_recording.order, prepare_recording.keep, prepare_recording.keep_part,
    prepare_recording.ended, prepare_recording.written,
)  # fmt: skip

KINDS: dict[str, Kind] = {
    OPEN: _PREPARING,
    PREPARE: replace(_PREPARING, quick=False),
    FOLLOW: Kind(True, follow_point.order, follow_point.keep, follow_point.keep_part),
    FILM_MODEL: Kind(True, film_model.order, film_model.keep),
    READ: Kind(False, read_clip.order, read_clip.keep),
    MAKE_FILM: Kind(False, make_film.order, make_film.keep),
}
HOUSE_KINDS = {BACK_UP: HouseKind(back_up), RELEASE: HouseKind(release_films)}
#: Of any kind: what is done with what comes of it.
ENDS: dict[str, Kind | HouseKind] = {**KINDS, **HOUSE_KINDS}


def queue_of(kind: str) -> str:
    """Which queue carries it: "quick", "long", or "house"."""
    if kind in HOUSE_KINDS:
        return "house"
    return "quick" if KINDS[kind].quick else "long"
