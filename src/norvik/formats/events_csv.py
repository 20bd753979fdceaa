"""events.csv: marks as a table (RFC 4180, UTF-8, header required, column order free)."""

from __future__ import annotations

import csv
import io
import itertools
import re
from collections.abc import Iterable
from dataclasses import dataclass
from statistics import median

from norvik.core.errors import EventsFileError
from norvik.core.strokes import StrokeRules
from norvik.core.strokes.events import Mark, metres_in
from norvik.core.strokes.names import LANES, is_lane, is_side
from norvik.formats.cells import as_meant, plain_text
from norvik.formats.tables import (
    TableEncodingError,
    decimal_point,
    records,
    separator_of,
    text_of,
)

REQUIRED = ("time_s", "lane", "side", "event")
COLUMNS = ("frame", *REQUIRED, "note")

_DECIMAL = re.compile(r"[+-]?(\d+(\.\d*)?|\.\d+)")
_WHOLE = re.compile(r"[+-]?\d+")
#: Longer numbers are no times or frames; Python also refuses to read very long ones.
_LONGEST_NUMBER = 40


@dataclass(frozen=True, slots=True)
class BadRow:
    """A row that cannot be read. row counts records, the header being row 1."""

    row: int
    reason: str


@dataclass(frozen=True, slots=True)
class EventsFile:
    """What an events file holds. extra: columns that are not ours, kept by name for each row."""

    marks: tuple[Mark, ...]
    bad_rows: tuple[BadRow, ...]
    extra: dict[int, dict[str, str]]


class _RowError(Exception):
    """Raised inside this module for one unreadable row; its text is the reason."""


def read_events(data: bytes, stroke: StrokeRules, old_encoding: bool = False) -> EventsFile:
    """Read an events file. `Mark.key` is the row.

    Commas, semicolons or tabs between cells, decimal points or commas. Rows that cannot be read are
    reported and left out. old_encoding: reads Windows-1252, too. Raises EventsFileError when the
    file as a whole cannot be read: no text, no header, a required column missing or doubled.
    """
    try:
        text = text_of(data, old_encoding)
    except TableEncodingError as error:
        raise EventsFileError(str(error)) from error
    separator, text = separator_of(text, COLUMNS)
    found_records = records(text, separator)
    header = _header(next(found_records, (1, [], None))[1])
    marks: list[Mark] = []
    bad: list[BadRow] = []
    extra: dict[int, dict[str, str]] = {}
    for row, cells, broken in found_records:
        if broken is not None:
            bad.append(BadRow(row, broken))
            continue
        if row > _MOST_ROWS:
            raise EventsFileError(
                f"The file has more than {_MOST_ROWS:,} rows. Split it by clip; nothing was taken."
            )
        if not any(cell.strip() for cell in cells):
            continue
        try:
            marks.append(_mark(row, cells, header, stroke))
        except _RowError as error:
            bad.append(BadRow(row, str(error)))
            continue
        others = {
            name: as_meant(cells[n])
            for n, name in enumerate(header)
            if name not in COLUMNS and n < len(cells)
        }
        if others:
            extra[row] = others
    return EventsFile(tuple(marks), tuple(bad), extra)


#: Own choice: ten marks a second for an hour and a half.
_MOST_ROWS = 50_000


def _header(cells: list[str]) -> list[str]:
    names = [cell.strip().lower() for cell in cells]
    if not any(names):
        raise EventsFileError(
            f"The file has no header. Its first line must name the columns {', '.join(REQUIRED)}."
        )
    missing = [name for name in REQUIRED if name not in names]
    if missing:
        raise EventsFileError(
            f"The header lacks {', '.join(missing)}. It must name {', '.join(REQUIRED)}; "
            f"found: {', '.join(name or '(empty)' for name in names)[:200]}."
        )
    doubled = sorted({name for name in COLUMNS if names.count(name) > 1})
    if doubled:
        raise EventsFileError(f"The header names {', '.join(doubled)} more than once.")
    return names


def _mark(row: int, cells: list[str], header: list[str], stroke: StrokeRules) -> Mark:
    if len(cells) > len(header):
        raise _RowError(f"{len(cells)} cells, but the header has {len(header)} columns")
    cell = dict(zip(header, (c.strip() for c in cells), strict=False))
    lane = cell.get("lane", "").lower()
    side = cell.get("side", "").lower()
    event = cell.get("event", "").lower()
    if not is_lane(lane):
        raise _RowError(f"unknown lane “{_short(lane)}”; known: {', '.join(LANES)}")
    if not is_side(side):
        raise _RowError(f"unknown side “{_short(side)}”; known: left, right, both, front or empty")
    known = stroke.events_of(lane)
    if event not in known:
        raise _RowError(
            f"unknown event “{_short(event)}” in the {lane} lane of {stroke.name}; "
            f"known: {', '.join(known)}"
        )
    note = as_meant(cell.get("note", ""))
    metres = None
    if lane == "course":
        metres = metres_in(_with_point(note))
        if metres is None:
            raise _RowError(
                f"a pass needs its metres in the note, such as 15 m; found “{_short(note)}”"
            )
    return Mark(
        time_s=_decimal(cell.get("time_s", "")),
        lane=lane,
        side=side,
        event=event,
        frame=_whole(cell.get("frame", "")),
        metres=metres,
        note=note,
        key=row,
    )


def _with_point(metres: str) -> str:
    """12,5 m as 12.5 m."""
    number, unit = re.fullmatch(r"(.*?)(\s*m?)", metres.strip(), re.IGNORECASE | re.DOTALL).groups()  # type: ignore[union-attr]
    return decimal_point(number) + unit


def _decimal(text: str) -> float:
    text = decimal_point(text)
    if len(text) > _LONGEST_NUMBER or not text.isascii() or not _DECIMAL.fullmatch(text):
        raise _RowError(f"time_s “{_short(text)}” is not a number of seconds such as 12.345")
    return float(text)


def _whole(text: str) -> int | None:
    if not text:
        return None
    if len(text) > _LONGEST_NUMBER or not text.isascii() or not _WHOLE.fullmatch(text):
        raise _RowError(f"frame “{_short(text)}” is not a whole number")
    return int(text)


def _short(text: str) -> str:
    return text if len(text) <= 30 else text[:29] + "…"


def frame_interval_from(marks: Iterable[Mark]) -> float | None:
    """Median of time step over frame step between marks that carry a frame; None when unknown."""
    framed = sorted((m.frame, m.time_s) for m in marks if m.frame is not None)
    steps = [(t1 - t0) / (f1 - f0) for (f0, t0), (f1, t1) in itertools.pairwise(framed) if f1 != f0]
    interval = median(steps) if steps else None
    return interval if interval is not None and interval > 0 else None


def write_events(marks: Iterable[Mark], extra: dict[int, dict[str, str]] | None = None) -> str:
    """An events file with CRLF line ends; times keep every digit that matters.

    extra: further columns by `Mark.key`, as `read_events` gives them.
    """
    extra = extra or {}
    names: list[str] = []
    for row in extra.values():
        names.extend(name for name in row if name not in names)
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow([*COLUMNS, *names])
    for m in sorted(marks, key=lambda m: m.time_s):
        note = f"{m.metres:g} m" if m.lane == "course" and m.metres is not None else m.note
        others = extra.get(m.key, {}) if m.key is not None else {}
        frame = "" if m.frame is None else m.frame
        time_s = f"{m.time_s:.9f}".rstrip("0").rstrip(".")
        writer.writerow(
            [
                frame,
                time_s,
                m.lane,
                m.side,
                m.event,
                plain_text(note),
                *(plain_text(others.get(n, "")) for n in names),
            ]
        )
    return out.getvalue()
