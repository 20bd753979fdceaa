"""What is seen in a row of pieces, each of them a stretch of a take's score."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from norvik.core.talk.pieces import Laid
from norvik.core.talk.score import Score, Seen


def reader(row: Sequence[Laid], scores: Mapping[int, Score]) -> Callable[[float], Seen]:
    """What is seen at a millisecond of the row, for instants that grow."""
    readers: dict[int, Callable[[float], Seen]] = {}

    def read(ms: float) -> Seen:
        n = next((n for n, p in enumerate(row) if ms < p.end_ms), len(row) - 1)
        piece = row[n]
        if n not in readers:
            readers[n] = scores[piece.take].reader()
        return readers[n](min(piece.to_ms, piece.from_ms + max(0.0, ms - piece.at_ms)))

    return read
