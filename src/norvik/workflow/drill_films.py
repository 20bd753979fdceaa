"""A film of the coach's own for a drill: which clips may show one, and the film that is sent."""

from __future__ import annotations

import sqlite3
from typing import Any

from norvik.core.errors import NotFoundError, TalkError
from norvik.store import clips, drill_clips, library, made_films, swimmers
from norvik.store.clips import Clip
from norvik.store.library import ClipFilter
from norvik.store.made_films import MadeFilm
from norvik.store.scope import Within
from norvik.workflow.talk.films import ask_for

#: Clips that are offered, at most, the newest first.
_MOST = 60


def may_show(connection: sqlite3.Connection, clip: Clip) -> bool:
    """Everybody sees a drill: whoever is on its film must have allowed that it is an example."""
    if not clip.watchable or clip.trashed_at:
        return False
    if clip.swimmer_id is None:
        return clip.role == "model"
    return swimmers.by_id(connection, clip.swimmer_id).allows("example")


def offered(connection: sqlite3.Connection, within: Within = None) -> list[Clip]:
    """Clips that may show a drill."""
    ready = library.find(connection, ClipFilter(state=""), within=within).clips
    return [c for c in ready if may_show(connection, c)][:_MOST]


def tie(connection: sqlite3.Connection, drill_id: str, clip: Clip | None) -> int | None:
    """Let a clip show a drill; the job that makes its film, if one has to. Raises TalkError."""
    if clip is not None and not may_show(connection, clip):
        raise TalkError(
            "Whoever is on this clip has not allowed that it is used as an example. Consent is "
            "noted on the swimmer's page."
        )
    drill_clips.tie(connection, drill_id, clip.id if clip else None)
    return ask_for(connection, drill_wish(clip)) if clip else None


def drill_wish(clip: Clip) -> dict[str, Any]:
    return {"what": "drill", "clip_id": clip.id, "shape": "wide"}


def film_of_drill(connection: sqlite3.Connection, drill_id: str) -> MadeFilm | None:
    """The film that goes with a drill; None where there is none, or it may no longer be shown."""
    clip_id = drill_clips.every(connection).get(drill_id)
    if clip_id is None:
        return None
    try:
        clip = clips.by_id(connection, clip_id)
    except NotFoundError:
        return None
    return made_films.find(connection, drill_wish(clip)) if may_show(connection, clip) else None
