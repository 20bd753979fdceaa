"""pool-tests.csv: every value that wresults of pool tests, one a row (RFC 4180, UTF-8)."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import astuple, dataclass, fields

from norvik.formats.cells import plain_text


@dataclass(frozen=True, slots=True)
class Row:
    """pool: length of one length in `unit`, a fraction where decimals cannot say it ("100/3").

    entry: pull, kick, seconds, send_off or strokes. number: of the repeat, from 1. value: in s, or
    a count.
    """

    day: str
    test: str
    stroke: str
    pool: str
    unit: str
    rested: str
    entry: str
    number: int
    value: str
    note: str


def write_pool_tests(rows: Iterable[Row]) -> str:
    """A table with a header and CRLF line ends."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(f.name for f in fields(Row))
    writer.writerows(
        [plain_text(c) if isinstance(c, str) else c for c in astuple(row)] for row in rows
    )
    return out.getvalue()
