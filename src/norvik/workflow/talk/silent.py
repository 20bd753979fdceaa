"""Scores of films without a voice: a clip with its drawings, one cycle, two films in step."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from norvik.core.errors import TalkError
from norvik.core.talk.score import Score
from norvik.store import review_pairs
from norvik.store.clips import Clip
from norvik.workflow.clip_drawings import Painted, drawings_of, picture_size
from norvik.workflow.clip_timing import ClipTiming, time_clip
from norvik.workflow.side_by_side.across import size_of
from norvik.workflow.side_by_side.film import Film
from norvik.workflow.side_by_side.kept_pairs import films_of, later_first
from norvik.workflow.side_by_side.pairing import Wish, pair

#: Speed of films that nobody speaks over.
SPEED = 0.25
#: A film is not longer than this: who wants more wants the clip.
LONGEST_S = 180.0
#: How often a cycle is gone through when two films are held beside each other.
ROUNDS = 3


@dataclass(frozen=True)
class SilentFilm:
    """score: of one take. drawn: key to a drawing and the width of its picture in source pixels."""

    score: Score
    drawn: dict[int, tuple[Painted, int]]
    title: str


def clip_film(
    connection: sqlite3.Connection, clip: Clip, title: str, from_frame: int, to_frame: int,
    speed: float = SPEED, drawn: bool = True,
) -> SilentFilm:  # fmt: skip
    """A stretch of a clip with what is drawn on each frame, at a quarter of real time."""
    timed = time_clip(connection, clip)
    first, last = max(clip.first_frame, from_frame), min(clip.last_frame, to_frame)
    _check_length(timed, first, last, speed)
    all_drawn = drawings_of(connection, timed).painted if drawn else ()
    painted = [p for p in all_drawn if p.shapes or p.said]
    width, height = picture_size(clip.recording)
    deeds: list[tuple[Any, ...]] = [
        (0, "stage", "beside", [{"clip": clip.id, "size": [width, height], "title": title}]),
        (0, "speed", speed, int(drawn)),
    ]
    shown: tuple[int, ...] = ()
    begin = timed.time_base.time_of(first)
    for frame in range(first, last + 1):
        at = 1000 * (timed.time_base.time_of(frame) - begin) / speed
        deeds.append((at, "frame", 0, frame))
        now = tuple(n for n, p in enumerate(painted) if p.stored.shown_on(frame))
        if now != shown:
            deeds.append((at, "ink", 0, now))
            shown = now
    deeds.append((at + 1000 * (timed.time_base.frame_interval_s or 0.04) / speed, "end"))
    return SilentFilm(Score(deeds), {n: (p, width) for n, p in enumerate(painted)}, title)


def cycle_frames(timed: ClipTiming, frame: int) -> tuple[int, int]:
    """First and last frame of the arm cycle that holds a frame, else of the clip's first one.

    Raises TalkError where no whole cycle is marked.
    """
    cycles = [s for s in timed.timing.resolved.cycles if s.start and s.end]
    spans = [(timed.frame_of(s.start.time_s), timed.frame_of(s.end.time_s))
             for s in cycles if s.start and s.end]  # fmt: skip
    if not spans:
        raise TalkError("Mark one full stroke cycle of this clip first: then it can be repeated.")
    return next(((a, b - 1) for a, b in spans if a <= frame < b), (spans[0][0], spans[0][1] - 1))


def pair_film(
    connection: sqlite3.Connection, review_id: int, pair_id: int, titles: Callable[[Film], str]
) -> SilentFilm:
    """A pair that a review keeps, in step through the cycle around its instant, several times."""
    kept = review_pairs.by_id(connection, review_id, pair_id)
    films = films_of(connection, kept)
    if films is None:
        raise TalkError("One of the two films is gone, or may no longer be shown beside the other.")
    mine, theirs = kept.rows[0][0], kept.rows[0][1]
    if later_first(*films):
        films, mine, theirs = films[::-1], theirs, mine
    one, other = films
    span, pairing = None, None
    side = one.side("")
    cycles = one.cycles(side)
    n = next((k for k, c in enumerate(cycles) if c.begin_s <= one.time_of(mine) < c.end_s), None)
    if n is not None:
        span = one.frame_of(cycles[n].begin_s), one.frame_of(cycles[n].end_s) - 1
        at = other.time_of(theirs)
        m = next((k for k, c in enumerate(other.cycles(side)) if c.begin_s <= at < c.end_s), 0)
        pairing = pair(one, other, Wish("phase", side, side, n=n, m=m))
    if pairing is None or pairing.cannot:
        pairing = pair(one, other, Wish("hand", one_frame=mine, other_frame=theirs))
    first, last = span or (max(one.first, mine - 60), min(one.last, mine + 60))
    told = [_told(film, titles(film)) for film in (one, other)]
    deeds: list[tuple[Any, ...]] = [(0, "stage", "beside", told), (0, "speed", SPEED, 1)]
    at = 0.0
    for _ in range(ROUNDS):
        for frame in range(first, last + 1):
            deeds += [(at, "frame", 0, frame), (at, "frame", 1, pairing.other_frame(frame))]
            at += 1000 * one.interval_at(frame) / SPEED
    deeds.append((at, "end"))
    return SilentFilm(Score(deeds), {}, kept.caption)


def _told(film: Film, title: str) -> dict[str, Any]:
    width, height = size_of(film)
    which = {"clip": film.clip.id} if film.clip else {"model": film.model.wish.name}  # type: ignore[union-attr]
    return {**which, "size": [round(width), round(height)], "title": title}


def _check_length(timed: ClipTiming, first: int, last: int, speed: float) -> None:
    if last <= first:
        raise TalkError("Choose a stretch of at least two frames.")
    long = (timed.time_base.time_of(last) - timed.time_base.time_of(first)) / speed
    if long > LONGEST_S:
        raise TalkError(
            f"This film would be {long / 60:.0f} minutes long. Choose a stretch of at most "
            f"{LONGEST_S * speed:.0f} s of swimming."
        )
