"""Films that can be made to be sent: what is wished for, and whether it is there or on its way."""

from __future__ import annotations

import secrets
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from norvik.core.errors import TalkError
from norvik.store import jobs, made_films, rests_on
from norvik.store.clips import Clip
from norvik.store.jobs import Job
from norvik.store.made_films import MadeFilm
from norvik.store.talks import Talk
from norvik.work_names import MAKE_FILM

#: Shape of a film: for what it is. A loop of one cycle may also be a GIF.
SHAPE_WORDS = {"wide": "for a screen", "tall": "for a phone"}
SHAPES = (*SHAPE_WORDS, "gif")


def talk_wish(talk: Talk, shape: str) -> dict[str, Any]:
    if shape not in SHAPE_WORDS:
        raise TalkError("A talk is filmed wide or tall.")
    return {"what": "talk", "talk_id": talk.id, "revision": talk.revision, "shape": shape}


def clip_wish(
    connection: sqlite3.Connection, review_id: int, clip: Clip, what: str, shape: str, frame: int
) -> dict[str, Any]:
    """what: "clip", all of it, or "cycle", the one that holds the frame."""
    if what not in ("clip", "cycle") or shape not in SHAPES or (shape == "gif" and what == "clip"):
        raise TalkError("This kind of film is not known. Reload the page.")
    *_, version = rests_on.versions(connection, [clip.id])[clip.id]
    return {
        "what": what, "review_id": review_id, "clip_id": clip.id, "shape": shape, "frame": frame,
        "version": version,
    }  # fmt: skip


def pair_wish(review_id: int, pair_id: int, shape: str) -> dict[str, Any]:
    if shape not in SHAPE_WORDS:
        raise TalkError("Two films are filmed wide or tall.")
    return {"what": "pair", "review_id": review_id, "pair_id": pair_id, "shape": shape}


@dataclass(frozen=True, slots=True)
class FilmState:
    """film: when it is there. job: the newest that makes it."""

    film: MadeFilm | None
    job: Job | None

    @property
    def under_way(self) -> bool:
        return self.film is None and self.job is not None and self.job.state in _ACTIVE

    @property
    def failed(self) -> str:
        """Why it could not be made; empty where nothing went wrong."""
        if (
            self.film is None
            and self.job is not None
            and self.job.state in ("failed", "interrupted")
        ):
            return self.job.failure or "The film could not be made."
        return ""


_ACTIVE = ("queued", "running")


def state_of(connection: sqlite3.Connection, wish: Mapping[str, Any]) -> FilmState:
    return FilmState(made_films.find(connection, wish), _job(connection, wish))


def _job(connection: sqlite3.Connection, wish: Mapping[str, Any]) -> Job | None:
    return jobs.newest_alike(connection, MAKE_FILM, _args(wish))


def _args(wish: Mapping[str, Any]) -> dict[str, Any]:
    return {"wish": made_films.written(wish)}


def ask_for(connection: sqlite3.Connection, wish: Mapping[str, Any]) -> int | None:
    """A job that makes the film; None where it is there or already being made."""
    state = state_of(connection, wish)
    if state.film is not None or state.under_way:
        return None
    return jobs.add(connection, MAKE_FILM, _args(wish), None)


def stop(connection: sqlite3.Connection, wish: Mapping[str, Any]) -> None:
    job = _job(connection, wish)
    if job is not None:
        jobs.ask_cancel(connection, job.id)


def new_name(shape: str) -> str:
    """Of a file that nobody can guess."""
    return f"{secrets.token_urlsafe(16)}.{'gif' if shape == 'gif' else 'mp4'}"
