"""Each kind of job with the function that does it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from norvik.jobs.back_up import BACK_UP, back_up
from norvik.jobs.film_model import FILM_MODEL, film_model
from norvik.jobs.follow_point import FOLLOW, follow_point
from norvik.jobs.make_film import make_film
from norvik.jobs.prepare_recording import OPEN, PREPARE, open_recording, prepare_recording
from norvik.jobs.read_clip import read_clip
from norvik.jobs.release_films import release_films
from norvik.jobs.report import Report
from norvik.settings import Settings
from norvik.store.jobs import Job
from norvik.workflow.keeping import RELEASE
from norvik.workflow.reading import READ
from norvik.workflow.talk.films import MAKE_FILM


@dataclass(frozen=True, slots=True)
class Kind:
    """quick: a few seconds, and somebody waits for it. work: may return a job that goes on."""

    work: Callable[[Settings, Job, Report], int | None]
    quick: bool


KINDS = {
    OPEN: Kind(open_recording, quick=True),
    FOLLOW: Kind(follow_point, quick=True),
    FILM_MODEL: Kind(film_model, quick=True),
    PREPARE: Kind(prepare_recording, quick=False),
    READ: Kind(read_clip, quick=False),
    MAKE_FILM: Kind(make_film, quick=False),
    BACK_UP: Kind(back_up, quick=False),
    RELEASE: Kind(release_films, quick=False),
}
