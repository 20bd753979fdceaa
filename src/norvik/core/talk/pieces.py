"""A talk is a row of pieces of its takes. Mending it changes the row and never a take."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from norvik.core.errors import TalkError

#: Nothing shorter is left standing when a stretch is taken out: it would only click.
LEAST_MS = 30.0


@dataclass(frozen=True, slots=True)
class Piece:
    """A stretch of a take, from_ms to to_ms on the take's clock; to_ms None: to its end."""

    take: int
    from_ms: float = 0.0
    to_ms: float | None = None


@dataclass(frozen=True, slots=True)
class Laid:
    """A piece with its place in the talk. 0 <= from_ms < to_ms in the take; at_ms in the talk."""

    take: int
    from_ms: float
    to_ms: float
    at_ms: float

    @property
    def end_ms(self) -> float:
        return self.at_ms + self.to_ms - self.from_ms

    def in_talk(self, take_ms: float) -> float:
        return self.at_ms + take_ms - self.from_ms


def laid(pieces: Sequence[Piece], lengths_ms: Mapping[int, float]) -> list[Laid]:
    """The pieces one after the other. lengths_ms: of each take; an unknown one is left out."""
    found: list[Laid] = []
    at = 0.0
    for piece in pieces:
        length = lengths_ms.get(piece.take, 0.0)
        end = length if piece.to_ms is None else min(piece.to_ms, length)
        if end - piece.from_ms <= 0:
            continue
        found.append(Laid(piece.take, piece.from_ms, end, at))
        at = found[-1].end_ms
    return found


def length_of(row: Sequence[Laid]) -> float:
    """How long the talk is, in milliseconds."""
    return row[-1].end_ms if row else 0.0


def place_of(row: Sequence[Laid], ms: float) -> tuple[Laid, float]:
    """The piece at an instant of the talk, and the instant in its take. Past the end: the end."""
    if not row:
        raise TalkError("This talk has no recording yet.")
    for piece in row:
        if ms < piece.end_ms:
            return piece, piece.from_ms + max(0.0, ms - piece.at_ms)
    return row[-1], row[-1].to_ms


def without(row: Sequence[Laid], from_ms: float, to_ms: float) -> list[Piece]:
    """The talk with a stretch taken out. Raises TalkError where nothing would be left or go."""
    begin, end = max(0.0, from_ms), min(length_of(row), to_ms)
    if end - begin < LEAST_MS:
        raise TalkError("Choose a longer stretch to cut: its end lies after its beginning.")
    kept: list[Piece] = []
    for piece in row:
        for a, b in (
            (piece.at_ms, min(piece.end_ms, begin)),
            (max(piece.at_ms, end), piece.end_ms),
        ):
            if b - a >= LEAST_MS:
                shift = piece.from_ms - piece.at_ms
                kept.append(Piece(piece.take, a + shift, b + shift))
    if not kept:
        raise TalkError("This would cut the whole talk. Delete the talk instead.")
    return kept


def speak_on(row: Sequence[Laid], at_ms: float, take: int) -> list[Piece]:
    """The talk up to an instant, then a new take: what came after is spoken anew."""
    return [*_until(row, at_ms), Piece(take)]


def between(row: Sequence[Laid], at_ms: float, take: int) -> list[Piece]:
    """The talk with a new take put in at an instant."""
    return [*_until(row, at_ms), Piece(take), *_from(row, at_ms)]


def after_take(pieces: Sequence[Piece], before: int, take: int) -> list[Piece]:
    """A new take behind the last piece of another, after a pause; at the end where that is gone."""
    at = max((n for n, p in enumerate(pieces) if p.take == before), default=len(pieces) - 1)
    return [*pieces[: at + 1], Piece(take), *pieces[at + 1 :]]


def _until(row: Sequence[Laid], at_ms: float) -> list[Piece]:
    return [
        Piece(p.take, p.from_ms, p.from_ms + min(p.end_ms, at_ms) - p.at_ms)
        for p in row
        if min(p.end_ms, at_ms) - p.at_ms >= LEAST_MS
    ]


def _from(row: Sequence[Laid], at_ms: float) -> list[Piece]:
    return [
        replace(Piece(p.take, p.from_ms, p.to_ms), from_ms=p.from_ms + max(0.0, at_ms - p.at_ms))
        for p in row
        if p.end_ms - max(p.at_ms, at_ms) >= LEAST_MS
    ]
