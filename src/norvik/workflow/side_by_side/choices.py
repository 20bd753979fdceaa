"""Which films can stand beside a clip, the best one first, and who may be shown to whom."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from norvik.core.errors import ForbiddenError, NotReadyError
from norvik.store import clips, reviews, swimmers, tied_recordings
from norvik.store.clips import Clip
from norvik.store.scope import Within
from norvik.workflow import access
from norvik.workflow.access import Person
from norvik.workflow.clip_timing import time_clip
from norvik.workflow.side_by_side.film import Film, film_of_clip, film_of_model
from norvik.workflow.side_by_side.model_film import wish_for

MODEL, FIGURE = "model", "figure"


@dataclass(frozen=True)
class Choices:
    """The films that may stand beside a clip.

    own: clips of the same swimmer, the best first, the clip itself (its other arm) last. camera:
    those of them that a second camera took of the same swim. examples: clips kept as an example;
    others: of other swimmers who may be compared.
    """

    own: tuple[Clip, ...]
    camera: tuple[Clip, ...]
    examples: tuple[Clip, ...]
    others: tuple[Clip, ...]


def choices_for(connection: sqlite3.Connection, clip: Clip, within: Within = None) -> Choices:
    """within: whose films may be offered at all."""
    own = proposals(connection, clip)
    tied = {t.other_id for t in tied_recordings.of_recording(connection, clip.recording.id)}
    camera = tuple(c for c in own if c.recording.id in tied)
    others = [s for s in swimmers.all_by_name(connection, within) if s.id != clip.swimmer_id]
    found = [
        c
        for swimmer in others
        if swimmer.may_be_compared or swimmer.allows("example")
        for c in clips.newest_first(connection, swimmer.id)
        if c.watchable and c.stroke == clip.stroke and swimmer.allows(_needed(c))
    ]
    found.sort(key=lambda c: (c.view != clip.view, not c.marks))
    return Choices(
        tuple(own), camera, tuple(c for c in found if c.role == "model"),
        tuple(c for c in found if c.role != "model"),
    )  # fmt: skip


def proposals(connection: sqlite3.Connection, clip: Clip) -> list[Clip]:
    """Clips of the same swimmer to hold beside this one, the best first.

    Of the same stroke and view in the review before, then of the same stroke, then the others; the
    clip itself (left beside right) last.
    """
    if clip.swimmer_id is None:
        return [clip]
    held = reviews.id_of_clip(connection, clip.id)

    def place(other: Clip) -> tuple[bool, bool, bool, bool, bool, str]:
        return (
            other.stroke != clip.stroke,
            other.view != clip.view,
            other.filmed_on >= clip.filmed_on,
            other.facts.kit != clip.facts.kit,
            clip.facts.pace.surely_other(other.facts.pace),
            other.filmed_on,
        )

    found = [
        c
        for c in clips.newest_first(connection, clip.swimmer_id)
        if c.id != clip.id and c.watchable
    ]
    ordered = sorted(found, key=place)
    # Two cameras of one day stand after earlier days of the same view, before everything else.
    ordered.sort(key=lambda c: (place(c)[:3], reviews.id_of_clip(connection, c.id) != held))
    return [*ordered, clip]


def film_of(connection: sqlite3.Connection, who: Person, key: str, beside: Film) -> Film:
    """The film that a key names, to stand beside another.

    The id of a clip, "model" or "model:FAULT". Raises NotFoundError for a clip that is gone,
    NotReadyError for one that is being prepared, ForbiddenError for a swimmer who may not be shown
    beside others.
    """
    if key == MODEL or key.startswith(f"{MODEL}:"):
        assert beside.timed is not None  # the first film is always a clip
        return film_of_model(wish_for(beside.timed, key.removeprefix(MODEL).removeprefix(":")))
    clip = access.clip(connection, who, int(key) if key.isdecimal() else 0)
    require_leave(connection, beside.clip, clip)
    if not clip.watchable:
        raise NotReadyError("The second clip is still being prepared. Wait until it is ready.")
    return film_of_clip(time_clip(connection, clip))


def require_leave(connection: sqlite3.Connection, one: Clip | None, other: Clip) -> None:
    """Raises ForbiddenError where the other clip's swimmer may not be shown beside this one."""
    if one is not None and one.swimmer_id == other.swimmer_id:
        return
    if other.swimmer_id is None or not swimmers.by_id(connection, other.swimmer_id).allows(
        _needed(other)
    ):
        whose = other.swimmer_name or "This swimmer"
        raise ForbiddenError(
            f"{whose} may not be shown beside other swimmers: nobody has allowed it, or not any "
            "more. Consent is noted on the swimmer's page."
        )


def _needed(clip: Clip) -> str:
    """The consent that showing a clip to others needs: an example is kept for whoever comes."""
    return "example" if clip.role == "model" else "squad"
