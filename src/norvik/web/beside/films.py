"""What the address of a comparison names: the films, how they go in step, and their words."""

from __future__ import annotations

from dataclasses import dataclass

from flask import request

from norvik.core.strokes.names import StrokeName, side_of
from norvik.store import tied_recordings
from norvik.web.shared import asked
from norvik.web.shared.clip_words import clip_words
from norvik.web.shared.database import database
from norvik.web.shared.language import day
from norvik.workflow.clip_timing import time_clip
from norvik.workflow.own_catalogue import tables_of
from norvik.workflow.side_by_side.choices import FIGURE, film_of, proposals
from norvik.workflow.side_by_side.film import Film, film_of_clip
from norvik.workflow.side_by_side.pairing import Pairing, Wish, pair
from norvik.workflow.side_by_side.tie import clocks_of

#: What the second and the third film are called in an address.
_OTHERS = (("with", "other_side", "m", "other_frame"), ("third", "third_side", "k", "third_frame"))


@dataclass(frozen=True)
class Compared:
    """The first film, and each other one in step with it."""

    one: Film
    pairings: tuple[Pairing, ...]


def first_film(clip_id: int) -> Film:
    return film_of_clip(time_clip(database(), asked.ready_clip(clip_id)))


def keys(one: Film) -> list[str]:
    """Keys of the second and third film; without a wish the best second one there is."""
    second, third = (request.values.get(name, "") for name, *_ in _OTHERS)
    if not second:
        assert one.clip is not None
        second = str(proposals(database(), one.clip)[0].id)
    return [second, third] if third else [second]


def is_figure(key: str) -> bool:
    return key.partition(":")[0] == FIGURE


def fault_of(key: str) -> str:
    """The fault that a figure or the model swimmer shows; empty where it swims well."""
    return key.partition(":")[2]


def compared(clip_id: int) -> Compared:
    """All films of the address but drawn figures. Raises where one may not be shown."""
    one = first_film(clip_id)
    return Compared(
        one, tuple(_paired(one, n, key) for n, key in enumerate(keys(one)) if not is_figure(key))
    )


def paired(clip_id: int) -> Pairing:
    """The first and the second film."""
    one = first_film(clip_id)
    return _paired(one, 0, keys(one)[0])


def _paired(one: Film, which: int, key: str) -> Pairing:
    return pair_with(one, film_of(database(), asked.person(), key, one), wish(which))


def pair_with(one: Film, other: Film, how: Wish) -> Pairing:
    """Two cameras on one swim go by clock as they were tied."""
    clocks = None
    if one.timed is not None and other.timed is not None:
        ids = one.timed.clip.recording.id, other.timed.clip.recording.id
        tie = tied_recordings.between(database(), *ids)
        clocks = clocks_of(tie, one, other) if tie else None
    return pair(one, other, how, clocks)


def wish(which: int = 0) -> Wish:
    args = request.values
    _, side, cycle, frame = _OTHERS[which]
    return Wish(
        way=args.get("way", "phase"),
        side=side_of(args.get("side", "")),
        other_side=side_of(args.get(side, "")),
        event=args.get("event", ""),
        n=args.get("n", 0, type=int),
        m=args.get(cycle, 0, type=int),
        one_frame=args.get("one_frame", type=int),
        other_frame=args.get(frame, type=int),
    )


def film_words(film: Film, beside: Film | None = None) -> tuple[str, str]:
    """What a film is, in a few words: what stands out, and the rest."""
    if film.model is not None:
        wished = film.model.wish
        name = fault_name(film.stroke, wished.fault)
        how = f"model swimmer with the fault: {name}" if wished.fault else f"model swimmer: {name}"
        return how, f"{wished.cycles_per_min} cycles/min"
    clip = film.clip
    assert clip is not None
    first = day(clip.filmed_on)
    if beside is not None and beside.clip and beside.clip.swimmer_id != clip.swimmer_id:
        first = f"{clip.swimmer_name}, {first}"
    return first, f"{clip.stroke}, {clip_words(clip)}"


def fault_name(stroke: StrokeName, fault: str) -> str:
    found = tables_of(database(), stroke).faults.get(fault)
    return found.name.lower() if found else "swims well"
