"""The trail as a table."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

from norvik.formats.cells import plain_text

HEADER = ("at", "person", "did", "kind", "number", "swimmer", "words", "address")


def write_trail(rows: Iterable[Sequence[str]]) -> str:
    """CSV with a line for each row, whose cells are those of HEADER."""
    made = io.StringIO()
    table = csv.writer(made, lineterminator="\r\n")
    table.writerow(HEADER)
    for row in rows:
        table.writerow([plain_text(cell) for cell in row])
    return made.getvalue()
