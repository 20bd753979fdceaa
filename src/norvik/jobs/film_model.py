"""The job that films the model swimmer for a comparison."""

from __future__ import annotations

from norvik.jobs.report import Report
from norvik.settings import Settings
from norvik.store.jobs import Job
from norvik.workflow.side_by_side.model_film import ModelWish, film_it

FILM_MODEL = "film-model"


def film_model(settings: Settings, job: Job, report: Report) -> None:
    """args: those of ModelWish."""
    film_it(
        settings.model_films,
        ModelWish(**job.args),
        lambda done, of: report("filming the model swimmer", done, of),
    )
