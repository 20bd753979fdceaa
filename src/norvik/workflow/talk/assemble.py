"""A talk put together: its pieces in a row with what is seen, its chapters and its captions."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from norvik.core.talk.chapters import CaptionShown, Chapter, captions_in_talk, chapters
from norvik.core.talk.pieces import Laid, laid, length_of, place_of
from norvik.core.talk.row import reader
from norvik.core.talk.score import Score, Seen
from norvik.store import talks
from norvik.store.talks import Talk

#: Keys of drawings count anew in each take; here they are told apart.
_KEYS_A_TAKE = 10_000_000


@dataclass(frozen=True)
class AssembledTalk:
    """scores: of each take that is heard. inks: of all of them, by the keys that the scores use."""

    talk: Talk
    row: tuple[Laid, ...]
    scores: dict[int, Score]
    inks: dict[int, str]
    chapters: tuple[Chapter, ...]
    captions: tuple[CaptionShown, ...]

    @property
    def length_ms(self) -> float:
        return length_of(self.row)

    def seen_at(self, ms: float) -> Seen:
        piece, take_ms = place_of(self.row, ms)
        return self.scores[piece.take].at(take_ms)

    def reader(self) -> Callable[[float], Seen]:
        """As seen_at, for instants that grow."""
        return reader(self.row, self.scores)

    @cached_property
    def clips(self) -> list[int]:
        """Every clip that is seen somewhere in its takes."""
        return clips_in(self.scores.values())

    def written(self) -> dict[str, Any]:
        """As a page plays it: pieces, deeds by take, drawings, chapters, captions."""
        return {
            "length": self.length_ms,
            "pieces": [[p.take, p.from_ms, p.to_ms, p.at_ms] for p in self.row],
            "deeds": {str(take): score.deeds for take, score in self.scores.items()},
            "inks": {str(key): svg for key, svg in self.inks.items()},
            "chapters": [[c.at_ms, c.to_ms, c.words] for c in self.chapters],
            "captions": [[c.at_ms, c.to_ms, c.words] for c in self.captions],
        }


def clips_in(scores: Iterable[Score]) -> list[int]:
    """Every clip that is seen somewhere."""
    found: dict[int, None] = {}
    for score in scores:
        for deed in score.deeds:
            if deed[1] == "stage":
                found.update({f["clip"]: None for f in deed[3] if "clip" in f})
    return list(found)


def row_of(connection: sqlite3.Connection, talk: Talk) -> list[Laid]:
    return laid(talk.pieces, {t.id: t.length_ms for t in talks.takes(connection, talk.id)})


def assemble(connection: sqlite3.Connection, talk: Talk) -> AssembledTalk:
    """All that is heard and seen. A talk without a recording has an empty row."""
    row = row_of(connection, talk)
    scores: dict[int, Score] = {}
    inks: dict[int, str] = {}
    for n, take in enumerate(dict.fromkeys(p.take for p in row)):
        stored = talks.deeds_of(connection, take)
        shift = n * _KEYS_A_TAKE
        scores[take] = Score(_shifted(deed, shift) for deed in stored.deeds)
        inks.update({key + shift: svg for key, svg in stored.inks.items()})
    abouts = {take: score.abouts for take, score in scores.items()}
    return AssembledTalk(
        talk, tuple(row), scores, inks,
        tuple(chapters(row, abouts, talks.chapter_names(connection, talk.id))),
        tuple(captions_in_talk(row, talks.captions(connection, talk.id))),
    )  # fmt: skip


def _shifted(deed: list[Any], shift: int) -> list[Any]:
    if deed[1] != "ink" or not shift:
        return deed
    return [*deed[:3], [key + shift for key in deed[3]]]
