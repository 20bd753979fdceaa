"""A plan as a table (RFC 4180, UTF-8): one row a set, in the order in which it is swum."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import astuple, dataclass

from norvik.core.errors import PlanError
from norvik.formats.cells import as_meant, plain_text
from norvik.formats.tables import TableEncodingError, records, separator_of, text_of

COLUMNS = ("date", "week", "session", "focus", "set", "repeats", "distance", "unit", "rest_s",
           "effort", "kit", "cue", "note", "film", "test")  # fmt: skip


@dataclass(frozen=True, slots=True)
class Row:
    """distance: of one repeat in `unit`. film: yes or empty. test: its name, or empty."""

    date: str
    week: int
    session: str
    focus: str
    set: str
    repeats: int
    distance: str
    unit: str
    rest_s: int
    effort: int
    kit: str
    cue: str
    note: str
    film: str
    test: str


def write_plan(rows: Iterable[Row]) -> str:
    """The table with its header."""
    text = io.StringIO(newline="")
    writer = csv.writer(text)
    writer.writerow(COLUMNS)
    writer.writerows(
        [plain_text(c) if isinstance(c, str) else c for c in astuple(row)] for row in rows
    )
    return text.getvalue()


@dataclass(frozen=True, slots=True)
class WrittenSet:
    """What of a row can be changed by hand: the session's day and the set's repeats."""

    row: int
    day: str
    session: str
    set: str
    repeats: int


def read_plan(data: bytes) -> list[WrittenSet]:
    """The rows of a table of a plan. Raises PlanError naming every row that is wrong."""
    try:
        text = text_of(data, old_encoding=True)
    except TableEncodingError as error:
        raise PlanError(str(error)) from error
    separator, text = separator_of(text, COLUMNS)
    rows = records(text, separator)
    header = [name.strip().lower() for name in next(rows, (1, [], None))[1]]
    missing = [name for name in ("date", "session", "set", "repeats") if name not in header]
    if missing:
        raise PlanError(
            f"The columns {', '.join(missing)} are missing. A table of a plan begins with "
            f"{','.join(COLUMNS)}."
        )
    found: list[WrittenSet] = []
    wrong: list[str] = []
    for row, cells, broken in rows:
        if broken or len(cells) > len(header):
            wrong.append(f"row {row}: {broken or 'more cells than the header'}")
            continue
        if not any(cell.strip() for cell in cells):
            continue
        cell = dict(zip(header, (c.strip() for c in cells), strict=False))
        repeats = cell.get("repeats", "")
        if not (repeats.isascii() and repeats.isdigit() and len(repeats) < 5):
            wrong.append(f"row {row}: “{repeats[:30]}” is no number of repeats")
            continue
        key = as_meant(cell.get("session", "")).lower().removeprefix("session").strip()
        found.append(WrittenSet(row, cell.get("date", ""), key, as_meant(cell.get("set", "")),
                                int(repeats)))  # fmt: skip
    if wrong:
        more = f" and {len(wrong) - 5} more" if len(wrong) > 5 else ""
        raise PlanError(f"Nothing was changed: {'; '.join(wrong[:5])}{more}.")
    return found
