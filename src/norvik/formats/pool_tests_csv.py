"""pool-tests.csv: every value that was written down of pool tests, one a row (RFC 4180, UTF-8)."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import astuple, dataclass, fields

from norvik.core.errors import PoolTestError
from norvik.formats.cells import as_meant, plain_text
from norvik.formats.named_rows import named_rows, refuse
from norvik.formats.tables import decimal_point


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
    rows = named_rows(data, columns, _NEEDED, "a table of pool tests", PoolTestError)
    found: dict[tuple[str, ...], dict[str, dict[int, float]]] = {}
    wrong: list[str] = []
    for row in rows:
        cell = row.cells
        if row.number > _MOST_ROWS:
            raise PoolTestError(f"The table has more than {_MOST_ROWS:,} rows. Split it by year.")
        if row.wrong:
            wrong.append(f"row {row.number}: {row.wrong}")
            continue
        try:
            number, value = int(cell["number"]), float(decimal_point(cell["value"]))
        except ValueError:
            wrong.append(f"row {row.number}: number and value have to be numbers")
            continue
        key = tuple(as_meant(cell.get(name, "")) for name in
                    ("day", "test", "stroke", "pool", "unit", "rested", "note"))  # fmt: skip
        of_entry = found.setdefault(key, {}).setdefault(cell["entry"], {})
        if number in of_entry:
            wrong.append(f"row {row.number}: {cell['entry']} {number} of this test appears twice")
        of_entry[number] = value
    refuse(wrong, "Nothing was imported", PoolTestError)
    if not found:
        raise PoolTestError("This table holds no test.")
    return [
        WrittenTest(
            day, test, stroke, decimal_point(pool), unit, rested.lower() != "no", note,
            {entry: tuple(v for _, v in sorted(values.items())) for entry, values in of.items()},
        )
        for (day, test, stroke, pool, unit, rested, note), of in found.items()
    ]  # fmt: skip
