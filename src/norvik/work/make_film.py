"""Make a film to be sent: of a talk, a clip, one cycle, or two films in step."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping
from contextlib import ExitStack
from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from norvik.core.errors import FootageError, TalkError
from norvik.core.talk.pieces import Laid, length_of
from norvik.core.talk.row import reader
from norvik.core.talk.score import FilmShown, Score, Seen
from norvik.files import names
from norvik.files.footage import FILMS, Footage
from norvik.footage.film_out import FPS, GIF_FPS, Picture, Words, write_film, write_gif
from norvik.footage.frame_reader import FrameReader
from norvik.footage.talk_sound import evened, voice
from norvik.painting.scene import SHAPES, ScenePainter
from norvik.work.place import Place
from norvik.work.report import Report

Image = NDArray[np.uint8]


@dataclass(frozen=True)
class MakeFilm:
    """All that a film shows and says. made_of: what it is remembered by, as it came. name: of its
    file. shape: see workflow/talk/films.py.

    row: pieces of takes. deeds: of each take. inks: drawings as SVG, by the keys that deeds use.
    recorded: what a browser recorded of each take; empty for a film without a voice. clips: name
    and frame rate of the review copy of each clip that is seen.
    """

    made_of: str
    name: str
    shape: str
    title: str
    row: tuple[Laid, ...]
    deeds: dict[int, list[Any]]
    inks: dict[int, str]
    clips: dict[int, tuple[str, Fraction]]
    recorded: dict[int, bytes] = field(default_factory=dict)
    chapters: tuple[Words, ...] = ()
    captions: tuple[Words, ...] = ()

    @property
    def length_ms(self) -> float:
        return length_of(self.row)

    def reader(self) -> Callable[[float], Seen]:
        return reader(self.row, {take: Score(deeds) for take, deeds in self.deeds.items()})


@dataclass(frozen=True, slots=True)
class FilmMade:
    """made_of, name and length_ms: as in the order."""

    made_of: str
    name: str
    length_ms: float
    bytes: int


def make_film(order: MakeFilm, place: Place, report: Report) -> FilmMade:
    """Raises TalkError for a talk without a recording."""
    if order.length_ms <= 0:
        raise TalkError("This talk has no recording yet.")
    name = f"{FILMS}/{order.name}"
    with Films(order.clips, place.footage) as films, place.scratch(f"film-{order.name}") as folder:
        out = folder / order.name
        pictures = Pictures(order, films.frame)

        def told(done: int) -> None:
            report("filming", done, pictures.count)

        if order.shape == "gif":
            write_gif(out, (p.image for p in pictures), told)
        else:
            sound = None
            if order.recorded:
                sound = evened(voice(order.row, lambda take: order.recorded.get(take, b"")))
            write_film(
                out, pictures.size, pictures, sound, order.chapters, order.captions, order.title,
                told,
            )  # fmt: skip
        place.footage.put(out, name)
        return FilmMade(order.made_of, order.name, order.length_ms, out.stat().st_size)


class Films:
    """Opens each film that is shown once. A film that is gone shows nothing."""

    def __init__(self, clips: Mapping[int, tuple[str, Fraction]], footage: Footage) -> None:
        self._clips, self._footage = clips, footage
        self._open: dict[int | str, FrameReader | None] = {}
        self._stack = ExitStack()

    def __enter__(self) -> Films:
        return self

    def __exit__(self, *_: object) -> None:
        self._stack.close()

    def frame(self, film: FilmShown) -> Image | None:
        if film.figure:
            return None
        key: int | str = film.model if film.clip is None else film.clip
        if key not in self._open:
            where = self._model(film.model) if film.clip is None else self._clip(film.clip)
            try:
                self._open[key] = self._stack.enter_context(FrameReader(*where)) if where else None
            except FootageError:
                self._open[key] = None
        found = self._open[key]
        return found.frame(film.frame) if found else None

    def _clip(self, clip_id: int) -> tuple[Path, Fraction] | None:
        if clip_id not in self._clips:
            return None
        name, rate = self._clips[clip_id]
        copy = self._footage.at_hand(name)
        return (copy, rate) if copy.is_file() else None

    def _model(self, name: str) -> tuple[Path, Fraction] | None:
        rate = name.split("-")[-2] if name.count("-") > 2 else ""
        if not rate.isdecimal() or "/" in name:
            return None
        path = self._footage.at_hand(names.model_film(name))
        return (path, Fraction(int(rate))) if path.is_file() else None


class Pictures:
    """The pictures of a film one after the other; those that show nothing new say so."""

    def __init__(self, order: MakeFilm, frame: Callable[[FilmShown], Image | None]) -> None:
        self._order = order
        shape = order.shape
        self._fps = GIF_FPS if shape == "gif" else FPS
        self._painter = ScenePainter(SHAPES["wide" if shape == "gif" else shape], frame, order.inks)
        self.size = self._painter.shape.width, self._painter.shape.height
        self.count = max(1, math.ceil(order.length_ms * self._fps / 1000))

    def __iter__(self) -> Iterator[Picture]:
        read = self._order.reader()
        before: Seen | None = None
        image: Image | None = None
        for n in range(self.count):
            # In the middle of its time: a deed shows half a picture early or late at most.
            seen = read((n + 0.5) * 1000 / self._fps)
            same = image is not None and seen == before
            if not same:
                image, before = self._painter.paint(seen), seen
            assert image is not None  # the first one is painted
            yield Picture(image, same)
