"""Chapters and captions of a talk: tied to its takes, so that they move with what is mended."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from norvik.core.talk.pieces import Laid, length_of
from norvik.core.talk.score import About

#: Two chapters never begin closer than this: one that was only passed is none.
LEAST_CHAPTER_MS = 1500.0
#: What the talk begins with when it is about nothing yet.
OPENING = "Opening"


#: Where a chapter begins in the talk, its words, take, instant in the take, and what it is about.
_Begin = tuple[float, str, int, float, str]


@dataclass(frozen=True, slots=True)
class Chapter:
    """at_ms, to_ms: in the talk. take, take_ms: what it hangs on, for renaming. own: renamed."""

    at_ms: float
    to_ms: float
    words: str
    take: int
    take_ms: float
    own: bool = False


@dataclass(frozen=True, slots=True)
class Caption:
    """What is said from from_ms to to_ms on the take's clock."""

    take: int
    from_ms: float
    to_ms: float
    words: str
    id: int = 0


@dataclass(frozen=True, slots=True)
class CaptionShown:
    """A caption in the talk."""

    at_ms: float
    to_ms: float
    words: str
    id: int


def chapters(
    row: Sequence[Laid],
    abouts: Mapping[int, Sequence[About]],
    named: Mapping[tuple[int, float], str],
) -> list[Chapter]:
    """What the talk is about, one chapter after the other.

    abouts: of each take, in order. named: (take, instant in it) to the coach's own words for what
    begins there. What was only passed, or goes on from the piece before, begins no chapter.
    """
    begins: list[_Begin] = []
    for piece in row:
        told = [a for a in abouts.get(piece.take, ()) if a.at_ms < piece.to_ms]
        before = [a for a in told if a.at_ms <= piece.from_ms]
        for about in before[-1:] + [a for a in told if a.at_ms > piece.from_ms]:
            at = max(piece.at_ms, piece.in_talk(about.at_ms))
            words = named.get((piece.take, about.at_ms), about.words)
            begins.append((at, words, piece.take, about.at_ms, f"{about.kind} {about.id}"))
    if not row:
        return []
    # What goes on over a pause or a cut is one; what was only passed is none.
    whole = _merged(begins)
    until = [*(one[0] for one in whole[1:]), length_of(row)]
    pairs = zip(whole, until[: len(whole)], strict=True)
    kept = _merged([one for one, end in pairs if end - one[0] >= LEAST_CHAPTER_MS])
    if not kept or kept[0][0] >= LEAST_CHAPTER_MS:
        first = row[0]
        words = named.get((first.take, first.from_ms), OPENING)
        kept.insert(0, (0.0, words, first.take, first.from_ms, ""))
    ends = [at for at, *_ in kept[1:]] + [length_of(row)]
    return [
        Chapter(0.0 if n == 0 else at, end, words, take, take_ms, (take, take_ms) in named)
        for n, ((at, words, take, take_ms, _), end) in enumerate(zip(kept, ends, strict=True))
    ]


def _merged(begins: Sequence[_Begin]) -> list[_Begin]:
    """Without those that go on with what the one before is about."""
    return [b for n, b in enumerate(begins) if n == 0 or begins[n - 1][4] != b[4]]


def captions_in_talk(row: Sequence[Laid], captions: Sequence[Caption]) -> list[CaptionShown]:
    """The captions where their words are still spoken, in the order of the talk."""
    found = []
    for piece in row:
        for c in captions:
            a, b = max(c.from_ms, piece.from_ms), min(c.to_ms, piece.to_ms)
            if c.take == piece.take and b - a > 0:
                found.append(CaptionShown(piece.in_talk(a), piece.in_talk(b), c.words, c.id))
    return sorted(found, key=lambda c: c.at_ms)


def tied(row: Sequence[Laid], from_ms: float, to_ms: float, words: str) -> list[Caption]:
    """A caption of the talk, tied to the takes that it lies over: one for each piece it touches."""
    found = []
    for piece in row:
        a, b = max(from_ms, piece.at_ms), min(to_ms, piece.end_ms)
        if b - a > 0:
            shift = piece.from_ms - piece.at_ms
            found.append(Caption(piece.take, a + shift, b + shift, words))
    return found
