"""Tables that are only written: a header and rows, numbers with every digit that matters."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

from norvik.formats.cells import plain_text

Cell = str | int | float | None


def write_rows(columns: Sequence[str], rows: Iterable[Sequence[Cell]]) -> str:
    """RFC 4180: UTF-8, commas, points, CRLF line ends; None is an empty cell."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(columns)
    writer.writerows([[_written(cell) for cell in row] for row in rows])
    return out.getvalue()


def _written(cell: Cell) -> str | int:
    if cell is None:
        return ""
    if isinstance(cell, float):
        return f"{cell:.9g}"
    return plain_text(cell) if isinstance(cell, str) else cell
