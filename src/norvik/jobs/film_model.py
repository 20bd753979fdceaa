"""The job that films the model swimmer for a comparison."""

from __future__ import annotations

from norvik.jobs.report import Report
from norvik.model.film import film
from norvik.settings import Settings
from norvik.store.jobs import Job
from norvik.workflow.side_by_side.model_film import ModelWish, forget_old

FILM_MODEL = "film-model"


def film_model(settings: Settings, job: Job, report: Report) -> None:
    """args: those of ModelWish. A film that is there already is not made again."""
    wish = ModelWish(**job.args)
    out = wish.file(settings)
    if out.is_file():
        return
    settings.prepare()
    take = wish.take()
    frames = len(take.frame_times())
    film(take, out, lambda done: report("filming the model swimmer", done, frames))
    # What lies beside a film serves tests and trials of the model alone.
    for ending in (".events.csv", ".truth.json"):
        out.with_suffix(ending).unlink(missing_ok=True)
    forget_old(settings.model_films)
