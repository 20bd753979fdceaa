"""Followed points as a table of our own, `tracks.csv`.

UTF-8, comma separated, header `frame,time_s,point,x_px,y_px,state`. point: side and
name, "right wrist". x to the right and y downwards in pixels of the source; both empty where the
point is lost. state: anchor, followed or lost.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

from norvik.core.errors import TracksFileError
from norvik.core.strokes.names import LEFT_AND_RIGHT, Side
from norvik.formats.cells import as_meant, plain_text
from norvik.formats.named_rows import refuse
from norvik.formats.tables import number_in, separator_of, text_or

COLUMNS = ("frame", "time_s", "point", "x_px", "y_px", "state", "confidence")
STATES = ("anchor", "followed", "lost")


@dataclass(frozen=True, slots=True)
class Row:
    frame: int
    time_s: float | None
    point: str
    x: float | None
    y: float | None
    state: str
    confidence: float | None = None


def write_tracks(rows: Iterable[Row]) -> str:
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(COLUMNS)
    for r in rows:
        writer.writerow(
            (
                r.frame,
                "" if r.time_s is None else f"{r.time_s:.6f}",
                plain_text(r.point),
                "" if r.x is None else f"{r.x:.2f}",
                "" if r.y is None else f"{r.y:.2f}",
                r.state,
                "" if r.confidence is None else f"{r.confidence:.4g}",
            )
        )
    return text.getvalue()


def read_tracks(data: bytes) -> list[Row]:
    """Rows of a tracks.csv. Raises TracksFileError naming every line that is wrong, at once."""
    text = text_or(TracksFileError, data)
    separator, text = separator_of(text, COLUMNS)
    reader = csv.DictReader(io.StringIO(text), delimiter=separator)
    missing = [c for c in ("frame", "point", "x_px", "y_px") if c not in (reader.fieldnames or ())]
    if missing:
        raise TracksFileError(
            f"The columns {', '.join(missing)} are missing. "
            f"A tracks file begins with {','.join(COLUMNS)}."
        )
    rows: list[Row] = []
    wrong: list[str] = []
    seen: set[tuple[int, str]] = set()
    for number, line in _lines(reader):
        if number > MOST_ROWS:
            raise TracksFileError(
                f"This file has more than {MOST_ROWS:,} rows. Split it; nothing was taken over."
            )
        try:
            row = _row(line)
        except ValueError as error:
            wrong.append(f"line {number}: {error}")
            continue
        if (row.frame, row.point) in seen:
            wrong.append(f"line {number}: {row.point} appears twice on frame {row.frame}")
        seen.add((row.frame, row.point))
        rows.append(row)
    refuse(wrong, "Nothing was imported", TracksFileError)
    if not rows:
        raise TracksFileError("This file holds no point.")
    return rows


#: Own choice: ten points over a clip of five minutes at 60 frames/s.
MOST_ROWS = 200_000


def _lines(reader: csv.DictReader[str]) -> Iterator[tuple[int, dict[str, str]]]:
    """Number and cells of each row, the header being 1. Raises TracksFileError."""
    number = 1
    while True:
        number += 1
        try:
            yield number, next(reader)
        except StopIteration:
            return
        except csv.Error as error:
            raise TracksFileError(
                f"Nothing was imported: line {number} cannot be split into cells ({error})."
            ) from error


def _row(line: Mapping[str, str | None]) -> Row:
    def number(name: str) -> float | None:
        return number_in(line.get(name) or "", name)

    frame = number("frame")
    if frame is None or frame < 0 or frame != int(frame):
        raise ValueError("the frame must be a whole number, 0 or more")
    point = " ".join(as_meant(line.get("point") or "").split())
    if not point or len(point) > 60:
        raise ValueError("the point needs a name of at most 60 letters")
    x, y = number("x_px"), number("y_px")
    if (x is None) != (y is None):
        raise ValueError("one of x_px and y_px is missing")
    state = (line.get("state") or "").strip() or ("lost" if x is None else "followed")
    if state not in STATES:
        raise ValueError(f"the state “{state}” is not one of {', '.join(STATES)}")
    if (state == "lost") != (x is None):
        raise ValueError("a lost point has no place, and every other one has")
    sure = number("confidence")
    if sure is not None and not 0 <= sure <= 1:
        raise ValueError("the confidence lies between 0 and 1")
    return Row(int(frame), number("time_s"), point, x, y, state, sure)


def split_name(point: str) -> tuple[Side, str]:
    """Side and name of a point as it is written: ("right", "wrist"); the side may be empty."""
    side, _, rest = point.partition(" ")
    if rest and side in LEFT_AND_RIGHT:
        return side, rest
    return "", point
