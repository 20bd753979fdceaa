"""Captions as WebVTT, out and in.

Source: WebVTT, the Web Video Text Tracks Format, W3C. Read by webvtt-py.
"""

from __future__ import annotations

import html
import io
from collections.abc import Iterable

import webvtt

from norvik.core.errors import TalkError
from norvik.formats.webvtt import Chapter, write_chapters

#: From and to in milliseconds, and the words.
Cue = tuple[float, float, str]


def write_captions(cues: Iterable[Cue]) -> str:
    """A WebVTT file in time order; where two overlap, the earlier ends where the next begins."""
    ordered = sorted(cues)
    ends = [cue[0] for cue in ordered[1:]] + [float("inf")][: len(ordered)]
    return write_chapters(
        Chapter(a / 1000, min(b, end) / 1000, words)
        for (a, b, words), end in zip(ordered, ends, strict=True)
    )


def read_captions(data: bytes) -> list[Cue]:
    """The cues of a file, without markup. Raises TalkError for a file that is none."""
    try:
        text = data.decode("utf-8-sig")
        found = webvtt.from_buffer(io.StringIO(text)).captions
        cues = [(_ms(c.start), _ms(c.end), " ".join(html.unescape(c.text).split())) for c in found]
    except (UnicodeDecodeError, webvtt.errors.MalformedFileError,
            webvtt.errors.MalformedCaptionError) as error:  # fmt: skip
        raise TalkError("This is no WebVTT file: its first line has to be WEBVTT.") from error
    return [(a, b, words[:300]) for a, b, words in cues if b > a and words]


def _ms(clock: str) -> float:
    """01:02:03.456, the form that the reader gives every time in."""
    hours, minutes, seconds = clock.split(":")
    return 1000 * (3600 * int(hours) + 60 * int(minutes) + float(seconds))
