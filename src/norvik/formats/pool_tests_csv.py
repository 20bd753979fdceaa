"""pool-tests.csv: every value that was written down of pool tests, one a row (RFC 4180, UTF-8)."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import astuple, dataclass, fields

from norvik.core.errors import PoolTestError
from norvik.formats.cells import as_meant, plain_text
from norvik.formats.tables import (
    TableEncodingError,
    decimal_point,
    records,
    separator_of,
    text_of,
)


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


@dataclass(frozen=True, slots=True)
class WrittenTest:
    """One test of a table. entries: values by entry, in the order of their numbers."""

    day: str
    test: str
    stroke: str
    pool: str
    unit: str
    rested: bool
    note: str
    entries: dict[str, tuple[float, ...]]


#: Own choice: a swimmer's tests of twenty years are fewer.
_MOST_ROWS = 20_000
_NEEDED = ("day", "test", "stroke", "pool", "unit", "entry", "number", "value")


def read_pool_tests(data: bytes) -> list[WrittenTest]:
    """The tests of a table, in its order. A wrong row refuses it whole, and every one is named."""
    columns = [f.name for f in fields(Row)]
    try:
        text = text_of(data, old_encoding=True)
    except TableEncodingError as error:
        raise PoolTestError(str(error)) from error
    separator, text = separator_of(text, columns)
    rows = records(text, separator)
    header = [name.strip().lower() for name in next(rows, (1, [], None))[1]]
    missing = [name for name in _NEEDED if name not in header]
    if missing:
        raise PoolTestError(
            f"The columns {', '.join(missing)} are missing. A table of pool tests begins with "
            f"{','.join(columns)}."
        )
    found: dict[tuple[str, ...], dict[str, dict[int, float]]] = {}
    wrong: list[str] = []
    for row, cells, broken in rows:
        if row > _MOST_ROWS:
            raise PoolTestError(f"The table has more than {_MOST_ROWS:,} rows. Split it by year.")
        if broken or len(cells) > len(header):
            wrong.append(f"row {row}: {broken or 'more cells than the header'}")
            continue
        if not any(cell.strip() for cell in cells):
            continue
        cell = dict(zip(header, (c.strip() for c in cells), strict=False))
        try:
            number, value = int(cell["number"]), float(decimal_point(cell["value"]))
        except (KeyError, ValueError):
            wrong.append(f"row {row}: number and value have to be numbers")
            continue
        key = tuple(as_meant(cell.get(name, "")) for name in
                    ("day", "test", "stroke", "pool", "unit", "rested", "note"))  # fmt: skip
        of_entry = found.setdefault(key, {}).setdefault(cell["entry"], {})
        if number in of_entry:
            wrong.append(f"row {row}: {cell['entry']} {number} of this test stands twice")
        of_entry[number] = value
    if wrong:
        more = f" and {len(wrong) - 5} more" if len(wrong) > 5 else ""
        raise PoolTestError(f"Nothing was imported: {'; '.join(wrong[:5])}{more}.")
    if not found:
        raise PoolTestError("This table holds no test.")
    return [
        WrittenTest(
            day, test, stroke, decimal_point(pool), unit, rested.lower() != "no", note,
            {entry: tuple(v for _, v in sorted(values.items())) for entry, values in of.items()},
        )
        for (day, test, stroke, pool, unit, rested, note), of in found.items()
    ]  # fmt: skip
