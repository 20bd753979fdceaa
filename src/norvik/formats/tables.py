"""Reading a table that a spreadsheet program or a text editor has saved.

Whoever opens one of our files in a program of a country that writes 0,5 gets back semicolons,
decimal commas, or another encoding. All of that is read for what it is.
"""

from __future__ import annotations

import codecs
import csv
import io
import math
import re
from collections.abc import Iterator, Sequence

from norvik.core.errors import NorvikError

_MARKS = (
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
_SEPARATORS = (",", ";", "\t", "|")
_DECIMAL_COMMA = re.compile(r"[+-]?\d*,\d+")


class TableEncodingError(Exception):
    """The bytes are no text that is known. Its text is a sentence for the user."""


def text_of(data: bytes, old_encoding: bool = False) -> str:
    """The text of a file: UTF-8, or UTF-16 with its byte-order mark.

    old_encoding: also Windows-1252, which has no mark by which it could be known for sure. Raises
    TableEncodingError.
    """
    for mark, encoding in _MARKS:
        if data.startswith(mark):
            try:
                return data.decode(encoding)
            except UnicodeDecodeError as error:
                raise TableEncodingError(
                    f"This file begins like {encoding.upper().removesuffix('-SIG')} and breaks off "
                    f"at byte {error.start + 1}. Save it again as CSV with UTF-8 encoding."
                ) from error
    try:
        return data.decode("utf-8")
    except UnicodeDecodeError as error:
        if old_encoding:
            try:
                return data.decode("cp1252")
            except UnicodeDecodeError:
                pass
        raise TableEncodingError(
            f"This is not a UTF-8 text file (byte {error.start + 1} cannot be read). "
            "Save it as CSV with UTF-8 encoding."
        ) from error


def text_or(error: type[NorvikError], data: bytes) -> str:
    """The text of a table as any program saved it, old encodings included; else that error."""
    try:
        return text_of(data, old_encoding=True)
    except TableEncodingError as wrong:
        raise error(str(wrong)) from wrong


def separator_of(text: str, wanted: Sequence[str]) -> tuple[str, str]:
    """(what stands between cells, the text from the header on).

    By a first line `sep=;` as some programs write it, else by which sign splits the first line into
    most of the wanted column names; a comma where none does.
    """
    first, _, rest = text.partition("\n")
    said = re.fullmatch(r"sep=(.)\r?", first, re.IGNORECASE)
    if said:
        return said[1], rest

    def known(sign: str) -> int:
        if "\r" in first.rstrip("\r"):
            return 0  # not a line of a table
        cells = next(csv.reader([first.rstrip("\r")], delimiter=sign), [])
        return sum(cell.strip().lower() in wanted for cell in cells)

    return max(_SEPARATORS, key=known), text


def records(text: str, separator: str = ",") -> Iterator[tuple[int, list[str], str | None]]:
    """Row number (the header is 1), cells, and why a record cannot be split into cells."""
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator)
    row = 0
    while True:
        row += 1
        try:
            yield row, next(reader), None
        except StopIteration:
            return
        except csv.Error as error:
            yield row, [], f"the row cannot be split into cells ({error})"


def decimal_point(cell: str) -> str:
    """A number with its decimal comma as a point; everything else as it is."""
    return cell.replace(",", ".") if _DECIMAL_COMMA.fullmatch(cell) else cell


def number_in(cell: str, column: str) -> float | None:
    """A number, None for an empty cell. Raises ValueError with words for anything else."""
    text = cell.strip()
    if not text:
        return None
    try:
        value = float(decimal_point(text))
    except ValueError as error:
        raise ValueError(f"“{text}” in {column} is no number") from error
    if not math.isfinite(value):
        raise ValueError(f"“{text}” in {column} is no number")
    return value
