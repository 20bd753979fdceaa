"""Each kind of work that can be done on any machine: what goes in, what does it, what comes out."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from norvik.model.wish import ModelWish
from norvik.work.film_model import film_model
from norvik.work.follow import Follow, FollowedSteps, follow_point
from norvik.work.make_film import FilmMade, MakeFilm, make_film
from norvik.work.place import Place
from norvik.work.prepare import Prepare, Prepared, prepare
from norvik.work.read import FilmRead, ReadFilm, read_clip
from norvik.work.report import Report
from norvik.work_names import FILM_MODEL, FOLLOW, MAKE_FILM, OPEN, PREPARE, READ


@dataclass(frozen=True, slots=True)
class Work:
    """order: type of what goes in. part: of what is handed over meanwhile, and of the result."""

    order: Any
    do: Callable[[Any, Place, Report], Any]
    result: Any


WORK = {
    OPEN: Work(Prepare, prepare, Prepared),
    PREPARE: Work(Prepare, prepare, Prepared),
    FOLLOW: Work(Follow, follow_point, FollowedSteps),
    FILM_MODEL: Work(ModelWish, film_model, type(None)),
    READ: Work(ReadFilm, read_clip, FilmRead),
    MAKE_FILM: Work(MakeFilm, make_film, FilmMade),
}
