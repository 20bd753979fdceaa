"""The score of one take: a list of deeds with their times, and what was seen at any of them.

A deed is `(at_ms, kind, *values)`, at_ms counted from the take's first sample of sound. It says
what changed, never how: a film that plays is a row of frames, each with the moment at which it was
seen. So what is shown again is what was shown.

kind      values
stage     layout ("beside", "over" or "difference"), films: a list of {clip, model or
          figure, size, title}
frame     film, frame number of its recording
place     film, width and height of its box, then a b c d e f: source pixels into the box
blend     how much of the second film is seen, 0 to 1 (layout "over")
ink       film, list of keys of drawings, in source pixels
spot      film, x, y as shares of its box; film -1: no spot
speed     of real time, 1 while it plays and 0 while it stands
about     kind and id of what is spoken of ("strength", "fault", "remark"), words for a chapter
end       nothing: how long the take is, in case nothing else happens before it ends
"""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from norvik.core.errors import TalkError

LAYOUTS = ("beside", "over", "difference")
#: Films on a stage, at most.
MOST_FILMS = 3
#: A take longer than this was forgotten, not spoken.
LONGEST_MS = 3 * 3600 * 1000
_LONGEST_WORDS = 300

Deed = tuple[Any, ...]


@dataclass(frozen=True, slots=True)
class FilmShown:
    """One film on the stage.

    clip: its number, or None where it is `model`, a filmed model swimmer by name, or `figure`, a
    drawn one: that has no film, its stances are drawn on it. size: width and height in source
    pixels. place: width and height of the box that it was seen in, then the matrix
    a b c d e f from source pixels into that box; None before it was known. ink: keys of what is
    drawn on it.
    """

    clip: int | None
    model: str
    size: tuple[int, int]
    title: str = ""
    frame: int = 0
    place: tuple[float, ...] | None = None
    ink: tuple[int, ...] = ()
    figure: str = ""


@dataclass(frozen=True, slots=True)
class Seen:
    """What is seen at one instant. spot: (film, x, y) of the pointer held down, or None."""

    layout: str = "beside"
    films: tuple[FilmShown, ...] = ()
    blend: float = 0.5
    spot: tuple[int, float, float] | None = None
    speed: float = 0.25
    playing: bool = False


@dataclass(frozen=True, slots=True)
class About:
    """From at_ms on the talk is about this."""

    at_ms: float
    kind: str
    id: str
    words: str


class Score:
    """The deeds of one take, in order. Raises TalkError for deeds that cannot be."""

    def __init__(self, deeds: Iterable[Sequence[Any]]) -> None:
        self.deeds: list[Deed] = sorted((checked(d) for d in deeds), key=lambda d: d[0])
        self.times = [d[0] for d in self.deeds]

    @property
    def length_ms(self) -> float:
        return self.times[-1] if self.times else 0.0

    @property
    def abouts(self) -> list[About]:
        return [About(*(d[0], *d[2:])) for d in self.deeds if d[1] == "about"]

    def at(self, ms: float) -> Seen:
        """What is seen at ms, with everything that was done by then."""
        seen = Seen()
        for deed in self.deeds[: bisect_right(self.times, ms)]:
            seen = after(seen, deed)
        return seen

    def reader(self) -> Callable[[float], Seen]:
        """As `at`, for instants that grow: each deed is looked at once."""
        seen, n = Seen(), 0

        def read(ms: float) -> Seen:
            nonlocal seen, n
            while n < len(self.deeds) and self.deeds[n][0] <= ms:
                seen = after(seen, self.deeds[n])
                n += 1
            return seen

        return read


def after(seen: Seen, deed: Deed) -> Seen:
    """What is seen once a deed was done."""
    kind, values = deed[1], deed[2:]
    if kind == "stage":
        layout, films = values
        return replace(seen, layout=layout, films=tuple(_film(f) for f in films), spot=None)
    if kind == "blend":
        return replace(seen, blend=values[0])
    if kind == "speed":
        return replace(seen, speed=values[0], playing=bool(values[1]))
    if kind == "spot":
        return replace(seen, spot=None if values[0] < 0 else (values[0], values[1], values[2]))
    if kind in ("frame", "place", "ink"):
        n = values[0]
        if n >= len(seen.films):
            return seen
        film = seen.films[n]
        if kind == "frame":
            film = replace(film, frame=values[1])
        elif kind == "place":
            film = replace(film, place=tuple(values[1]))
        else:
            film = replace(film, ink=tuple(values[1]))
        return replace(seen, films=(*seen.films[:n], film, *seen.films[n + 1 :]))
    return seen


def _film(told: dict[str, Any]) -> FilmShown:
    width, height = told["size"]
    return FilmShown(
        told.get("clip"), told.get("model", ""), (width, height), told.get("title", ""),
        figure=told.get("figure", ""),
    )  # fmt: skip


def checked(deed: Sequence[Any]) -> Deed:
    """A deed with values of the right kind and range. Raises TalkError."""
    try:
        at, kind, *values = deed
        at = _number(at, 0, LONGEST_MS)
        return (at, kind, *_VALUES[kind](*values))
    except (TypeError, ValueError, KeyError, IndexError, OverflowError) as error:
        raise TalkError(
            "What was done on the picture could not be kept. Reload the page and record again."
        ) from error


def _number(value: Any, least: float, most: float) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise ValueError
    if not least <= value <= most:
        raise ValueError
    return value


def _whole(value: Any, least: int, most: int) -> int:
    if isinstance(value, bool) or not isinstance(value, int) or not least <= value <= most:
        raise ValueError
    return value


def _words(value: Any) -> str:
    if not isinstance(value, str) or len(value) > _LONGEST_WORDS:
        raise ValueError
    return " ".join(value.split())


def _which(value: Any) -> int:
    return _whole(value, 0, MOST_FILMS - 1)


def _stage(layout: Any, films: Any) -> tuple[Any, ...]:
    if layout not in LAYOUTS or not isinstance(films, list) or not 1 <= len(films) <= MOST_FILMS:
        raise ValueError
    made = []
    for film in films:
        width, height = film["size"]
        one: dict[str, Any] = {
            "size": [_whole(width, 1, 20_000), _whole(height, 1, 20_000)],
            "title": _words(film.get("title", "")),
        }
        if film.get("clip") is not None:
            one["clip"] = _whole(film["clip"], 1, 2**53)
        elif film.get("figure"):
            one["figure"] = _words(film["figure"])
        else:
            one["model"] = _words(film["model"])
        made.append(one)
    return layout, made


def _place(n: Any, place: Any) -> tuple[Any, ...]:
    if len(place) != 8:
        raise ValueError
    box = [_number(v, 1, 20_000) for v in place[:2]]
    return _which(n), (*box, *(_number(v, -1e6, 1e6) for v in place[2:]))


def _ink(n: Any, keys: Any) -> tuple[Any, ...]:
    if len(keys) > 400:
        raise ValueError
    return _which(n), tuple(_whole(k, 0, 2**31) for k in keys)


def _spot(n: Any, x: Any = 0, y: Any = 0) -> tuple[Any, ...]:
    return _whole(n, -1, MOST_FILMS - 1), _number(x, -1, 2), _number(y, -1, 2)


def _about(kind: Any, what: Any, words: Any) -> tuple[Any, ...]:
    return _words(kind), _words(what), _words(words)


_VALUES: dict[str, Callable[..., tuple[Any, ...]]] = {
    "stage": _stage,
    "frame": lambda n, frame: (_which(n), _whole(frame, 0, 2**31)),
    "place": _place,
    "blend": lambda share: (_number(share, 0, 1),),
    "ink": _ink,
    "spot": _spot,
    "speed": lambda speed, playing: (_number(speed, 0, 100), _whole(playing, 0, 1)),
    "about": _about,
    "end": lambda: (),
}
