"""The job that makes a film to be sent: of a talk, a clip, one cycle, or two films in step."""

from __future__ import annotations

import json
import math
import sqlite3
from collections.abc import Callable, Iterator, Sequence
from contextlib import ExitStack
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from norvik.core.errors import FootageError, NotFoundError, TalkError
from norvik.core.talk.score import FilmShown, Seen
from norvik.footage.film_out import FPS, GIF_FPS, Picture, Words, write_film, write_gif
from norvik.footage.frame_reader import FrameReader
from norvik.footage.talk_sound import Samples, evened, voice
from norvik.jobs.report import Report
from norvik.painting.overlay import fragment
from norvik.painting.scene import SHAPES, ScenePainter
from norvik.settings import Settings
from norvik.store import clips, made_films, reviews, talks
from norvik.store.connection import transaction
from norvik.store.jobs import Job
from norvik.workflow.clip_timing import time_clip
from norvik.workflow.side_by_side.film import Film
from norvik.workflow.talk.assemble import AssembledTalk, assemble
from norvik.workflow.talk.films import new_name, talk_wish
from norvik.workflow.talk.silent import SilentFilm, clip_film, cycle_frames, pair_film

Image = NDArray[np.uint8]


@dataclass(frozen=True)
class Reel:
    """All that a film shows and says. reader: what is seen at growing milliseconds."""

    reader: Callable[[float], Seen]
    length_ms: float
    inks: dict[int, str]
    title: str
    sound: Samples | None = None
    chapters: Sequence[Words] = ()
    captions: Sequence[Words] = ()


def make_film(settings: Settings, job: Job, report: Report) -> None:
    """args: wish, as workflow/talk/films.py writes it. What was there before stays if it fails."""
    connection, wish = report.connection, json.loads(job.args["wish"])
    report("putting the talk together", 0, None)
    if wish["what"] == "talk":
        talk = talks.by_id(connection, wish["talk_id"])
        # What was mended since it was asked for is in it.
        wish = talk_wish(talk, wish["shape"])
        review_id, clip_id = talk.review_id, None
        reel = talk_reel(connection, assemble(connection, talk))
    else:
        review_id, clip_id = wish.get("review_id"), wish.get("clip_id")
        reel = _silent_reel(connection, wish)
    if reel.length_ms <= 0:
        raise TalkError("This talk has no recording yet.")
    out = settings.films / new_name(wish["shape"])
    with Films(connection, settings) as films:
        pictures = Pictures(reel, films.frame, wish["shape"])

        def told(done: int) -> None:
            report("filming", done, pictures.count)

        if wish["shape"] == "gif":
            write_gif(out, (p.image for p in pictures), told)
        else:
            write_film(
                out, pictures.size, pictures, reel.sound, reel.chapters, reel.captions,
                reel.title, told,
            )  # fmt: skip
    try:
        with transaction(connection):
            made_films.put(
                connection, wish, review_id, clip_id, settings.relative(out),
                reel.length_ms / 1000, out.stat().st_size,
            )  # fmt: skip
    except BaseException:
        out.unlink(missing_ok=True)
        raise


class Films:
    """Opens each film that is shown once. A film that is gone shows nothing."""

    def __init__(self, connection: sqlite3.Connection, settings: Settings) -> None:
        self._connection, self._settings = connection, settings
        self._open: dict[int | str, FrameReader | None] = {}
        self._stack = ExitStack()

    def __enter__(self) -> Films:
        return self

    def __exit__(self, *_: object) -> None:
        self._stack.close()

    def frame(self, film: FilmShown) -> Image | None:
        key: int | str = film.model if film.clip is None else film.clip
        if key not in self._open:
            where = self._model(film.model) if film.clip is None else self._clip(film.clip)
            try:
                self._open[key] = self._stack.enter_context(FrameReader(*where)) if where else None
            except FootageError:
                self._open[key] = None
        reader = self._open[key]
        return reader.frame(film.frame) if reader else None

    def _clip(self, clip_id: int) -> tuple[Path, Fraction] | None:
        try:
            recording = clips.by_id(self._connection, clip_id).recording
        except NotFoundError:
            return None
        copy = self._settings.data / recording.review_path if recording.review_path else None
        return (copy, recording.rate) if copy and copy.is_file() else None

    def _model(self, name: str) -> tuple[Path, Fraction] | None:
        path = self._settings.model_films / f"{name}.mp4"
        rate = name.split("-")[-2] if name.count("-") > 2 else ""
        fits = rate.isdecimal() and "/" not in name and path.is_file()
        return (path, Fraction(int(rate))) if fits else None


class Pictures:
    """The pictures of a reel one after the other; those that show nothing new say so."""

    def __init__(self, reel: Reel, frame: Callable[[FilmShown], Image | None], shape: str) -> None:
        self._reel = reel
        self._fps = GIF_FPS if shape == "gif" else FPS
        self._painter = ScenePainter(SHAPES["wide" if shape == "gif" else shape], frame, reel.inks)
        self.size = self._painter.shape.width, self._painter.shape.height
        self.count = max(1, math.ceil(reel.length_ms * self._fps / 1000))

    def __iter__(self) -> Iterator[Picture]:
        before: Seen | None = None
        image: Image | None = None
        for n in range(self.count):
            # In the middle of its time: a deed shows half a picture early or late at most.
            seen = self._reel.reader((n + 0.5) * 1000 / self._fps)
            same = image is not None and seen == before
            if not same:
                image, before = self._painter.paint(seen), seen
            assert image is not None  # the first one is painted
            yield Picture(image, same)


def talk_reel(connection: sqlite3.Connection, talk: AssembledTalk) -> Reel:
    """A talk with its voice, chapters and captions."""
    review = reviews.by_id(connection, talk.talk.review_id)
    return Reel(
        talk.reader(), talk.length_ms, talk.inks, f"Stroke review, {review.filmed_on}",
        evened(voice(talk.row, lambda take: talks.sound_of(connection, take))),
        [Words(c.at_ms, c.to_ms, c.words) for c in talk.chapters],
        [Words(c.at_ms, c.to_ms, c.words) for c in talk.captions],
    )  # fmt: skip


def _silent_reel(connection: sqlite3.Connection, wish: dict[str, Any]) -> Reel:
    if wish["what"] == "pair":
        made = pair_film(connection, wish["review_id"], wish["pair_id"], _title)
    else:
        clip = clips.by_id(connection, wish["clip_id"])
        span = clip.first_frame, clip.last_frame
        if wish["what"] == "drill":
            # As it is swum, and without a word of who swims it.
            return _reel(clip_film(connection, clip, "", *span, speed=1.0, drawn=False))
        if wish["what"] == "cycle":
            span = cycle_frames(time_clip(connection, clip), wish["frame"])
        title = f"{clip.swimmer_name or ''} {clip.filmed_on}".strip()
        made = clip_film(connection, clip, title, *span)
    return _reel(made)


def _title(film: Film) -> str:
    return film.clip.filmed_on if film.clip else "model swimmer"


def _reel(made: SilentFilm) -> Reel:
    inks = {key: fragment(painted, width) for key, (painted, width) in made.drawn.items()}
    return Reel(made.score.reader(), made.score.length_ms, inks, made.title)
