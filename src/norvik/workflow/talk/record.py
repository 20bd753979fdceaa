"""Taking in what is spoken and done: takes, a few seconds at a time."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from norvik.core.errors import TalkError
from norvik.core.talk.pieces import Piece, after_take, between, speak_on
from norvik.core.talk.score import LONGEST_MS, checked
from norvik.formats.ink_svg import clean_ink
from norvik.store import talks
from norvik.store.connection import transaction
from norvik.store.talks import Deeds, Talk
from norvik.workflow.talk.assemble import row_of

#: Sound of a few seconds: ten times what a browser records of a voice.
MOST_SOUND_BYTES = 1_500_000
_MOST_DEEDS, _MOST_INKS, _MOST_BITS = 6000, 600, 4 * 3600
#: What browsers record in: Chromium and Firefox, Safari.
_SOUNDS = ("audio/webm", "audio/ogg", "audio/mp4")


@dataclass(frozen=True, slots=True)
class Place:
    """Where a take goes. after: a take that was paused; at_ms with how: "on" or "between"."""

    after: int | None = None
    at_ms: float | None = None
    how: str = ""


def begin(connection: sqlite3.Connection, talk: Talk, key: str, mime: str, place: Place) -> int:
    """A new take in its place; the same one again where its key is known."""
    if not 8 <= len(key) <= 64 or not key.replace("-", "").isalnum():
        raise TalkError("This recording has no name. Reload the page and record again.")
    if mime and not mime.startswith(_SOUNDS):
        raise TalkError("This browser records sound in a form that Norvik cannot read.")
    with transaction(connection):
        take_id, new = talks.begin_take(connection, talk.id, key, mime)
        if new:
            talk = talks.by_id(connection, talk.id)
            talks.set_pieces(connection, talk.id, _placed(connection, talk, take_id, place))
    return take_id


def _placed(
    connection: sqlite3.Connection, talk: Talk, take_id: int, place: Place
) -> Sequence[Piece]:
    if place.at_ms is not None and place.how in ("on", "between"):
        row = row_of(connection, talk)
        return (speak_on if place.how == "on" else between)(row, place.at_ms, take_id)
    if place.after is not None:
        return after_take(talk.pieces, place.after, take_id)
    return [*talk.pieces, Piece(take_id)]


@dataclass(frozen=True, slots=True)
class Bit:
    """A few seconds as they came. inks: key to SVG. until_ms: how long the take is with them."""

    n: int
    sound: bytes
    deeds: Any
    inks: Any
    until_ms: float


def take_bit(
    connection: sqlite3.Connection, talk: Talk, take_id: int, bit: Bit,
    may_show: Callable[[int], object],
) -> bool:  # fmt: skip
    """Keep it; False where it had come before. Raises TalkError, and whatever may_show raises.

    may_show: called with each clip that was on the picture.
    """
    take = talks.take(connection, talk.id, take_id)
    if len(bit.sound) > MOST_SOUND_BYTES or (bit.sound and not take.mime):
        raise TalkError("This piece of sound is too long. Reload the page and record again.")
    fits = isinstance(bit.deeds, list) and len(bit.deeds) <= _MOST_DEEDS
    fits = fits and isinstance(bit.inks, dict) and len(bit.inks) <= _MOST_INKS
    if not fits or not 0 <= bit.n < _MOST_BITS or not 0 <= bit.until_ms <= LONGEST_MS:
        raise TalkError("This piece of the recording cannot be read. Reload the page.")
    deeds = [list(checked(deed)) for deed in bit.deeds]
    for deed in deeds:
        if deed[1] == "stage":
            for film in deed[3]:
                if "clip" in film:
                    may_show(film["clip"])
    try:
        inks = {int(key): clean_ink(svg) for key, svg in bit.inks.items()}
    except (ValueError, TypeError) as error:
        raise TalkError("A drawing of this recording cannot be read.") from error
    return talks.put_bit(
        connection, talk.id, take_id, bit.n, bit.sound, Deeds(deeds, inks), bit.until_ms
    )
