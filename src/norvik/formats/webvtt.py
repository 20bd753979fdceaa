"""WebVTT chapters: where what happens, for any player that plays the film as it was brought.

Source: WebVTT, the Web Video Text Tracks Format, W3C; cues and chapters.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Chapter:
    """from_s and to_s on the film's own clock, 0 <= from_s < to_s; text: one line."""

    from_s: float
    to_s: float
    text: str


def write_chapters(chapters: Iterable[Chapter]) -> str:
    """A WebVTT file of chapters in time order.

    A chapter that would begin inside another, or would be empty, is left out: players show one at a
    time.
    """
    parts = ["WEBVTT\n"]
    reached_ms = 0
    for n, c in enumerate(sorted(chapters, key=lambda c: (c.from_s, c.to_s)), 1):
        from_ms, to_ms = round(1000 * c.from_s), round(1000 * c.to_s)
        if from_ms < reached_ms or to_ms <= from_ms:
            continue
        reached_ms = to_ms
        parts.append(f"{n}\n{_clock(from_ms)} --> {_clock(to_ms)}\n{_plain(c.text)}\n")
    return "\n".join(parts)


def _clock(ms: int) -> str:
    seconds, ms = divmod(ms, 1000)
    minutes, seconds = divmod(seconds, 60)
    hours, minutes = divmod(minutes, 60)
    return f"{hours:02}:{minutes:02}:{seconds:02}.{ms:03}"


def _plain(text: str) -> str:
    """One line without what would be markup or end a cue."""
    line = " ".join(text.split()).replace("&", "&amp;").replace("<", "&lt;")
    return line.replace("-->", "→").replace(">", "&gt;")
