"""Text in a table that a spreadsheet program will open: never a formula.

A cell that begins with = + - @ is run as a formula; an apostrophe before it makes it text. Read
back, the apostrophe goes again.
"""

from __future__ import annotations

_STARTS = ("=", "+", "-", "@", "\t", "\r")


def plain_text(text: str) -> str:
    """A cell of words as it can be written."""
    return f"'{text}" if text.startswith(_STARTS) else text


def as_meant(text: str) -> str:
    """A cell of words as it was before `plain_text`."""
    return text[1:] if text[:1] == "'" and text[1:].startswith(_STARTS) else text
