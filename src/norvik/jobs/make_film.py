"""Making a film to be sent: all that it shows and says, put together; and where it is kept."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from fractions import Fraction
from typing import Any

from norvik.core.errors import NotFoundError
from norvik.core.talk.pieces import Laid
from norvik.files.footage import FILMS
from norvik.footage.film_out import Words
from norvik.painting.overlay import fragment
from norvik.settings import Settings
from norvik.store import clips, made_films, reviews, talks
from norvik.store.connection import transaction
from norvik.store.jobs import Job
from norvik.work.make_film import FilmMade, MakeFilm
from norvik.workflow.clip_timing import time_clip
from norvik.workflow.side_by_side.film import Film
from norvik.workflow.talk.assemble import AssembledTalk, assemble, clips_in
from norvik.workflow.talk.films import new_name, talk_wish
from norvik.workflow.talk.silent import SilentFilm, clip_film, cycle_frames, pair_film


def order(connection: sqlite3.Connection, settings: Settings, job: Job) -> MakeFilm:
    """args: wish, as workflow/talk/films.py writes it."""
    wish: dict[str, Any] = json.loads(job.args["wish"])
    if wish["what"] == "talk":
        talk = talks.by_id(connection, wish["talk_id"])
        # What was mended since it was asked for is in it.
        return _of_talk(connection, assemble(connection, talk), talk_wish(talk, wish["shape"]))
    return _silent(connection, _film(connection, wish), wish)


def keep(connection: sqlite3.Connection, settings: Settings, job: Job, made: FilmMade) -> None:
    """The film in place of the one before."""
    wish = json.loads(made.made_of)
    review_id, clip_id = wish.get("review_id"), wish.get("clip_id")
    if wish["what"] == "talk":
        review_id = talks.by_id(connection, wish["talk_id"]).review_id
    with transaction(connection):
        made_films.put(
            connection, wish, review_id, clip_id, f"{FILMS}/{made.name}", made.length_ms / 1000,
            made.bytes,
        )  # fmt: skip


def _of_talk(connection: sqlite3.Connection, talk: AssembledTalk, wish: dict[str, Any]) -> MakeFilm:
    """A talk with its voice, chapters and captions."""
    review = reviews.by_id(connection, talk.talk.review_id)
    return MakeFilm(
        made_films.written(wish), new_name(wish["shape"]), wish["shape"],
        f"Stroke review, {review.filmed_on}", talk.row,
        {take: list(score.deeds) for take, score in talk.scores.items()}, talk.inks,
        _clips(connection, talk.clips),
        {take: talks.sound_of(connection, take) for take in talk.scores},
        tuple(Words(c.at_ms, c.to_ms, c.words) for c in talk.chapters),
        tuple(Words(c.at_ms, c.to_ms, c.words) for c in talk.captions),
    )  # fmt: skip


def _film(connection: sqlite3.Connection, wish: dict[str, Any]) -> SilentFilm:
    if wish["what"] == "pair":
        return pair_film(connection, wish["review_id"], wish["pair_id"], _title)
    clip = clips.by_id(connection, wish["clip_id"])
    span = clip.first_frame, clip.last_frame
    if wish["what"] == "drill":
        # As it is swum, and without a word of who swims it.
        return clip_film(connection, clip, "", *span, speed=1.0, drawn=False)
    if wish["what"] == "cycle":
        span = cycle_frames(time_clip(connection, clip), wish["frame"])
    return clip_film(connection, clip, f"{clip.swimmer_name or ''} {clip.filmed_on}".strip(), *span)


def _silent(connection: sqlite3.Connection, film: SilentFilm, wish: dict[str, Any]) -> MakeFilm:
    inks = {key: fragment(painted, width) for key, (painted, width) in film.drawn.items()}
    return MakeFilm(
        made_films.written(wish), new_name(wish["shape"]), wish["shape"], film.title,
        (Laid(0, 0.0, film.score.length_ms, 0.0),), {0: list(film.score.deeds)}, inks,
        _clips(connection, clips_in([film.score])),
    )  # fmt: skip


def _title(film: Film) -> str:
    return film.clip.filmed_on if film.clip else "model swimmer"


def _clips(
    connection: sqlite3.Connection, clip_ids: Iterable[int]
) -> dict[int, tuple[str, Fraction]]:
    """Where the review copies of clips lie; one that is gone is not in it."""
    found = {}
    for clip_id in clip_ids:
        try:
            recording = clips.by_id(connection, clip_id).recording
        except NotFoundError:
            continue
        if recording.review_path:
            found[clip_id] = recording.review_path, recording.rate
    return found
