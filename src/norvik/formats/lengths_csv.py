"""lengths.csv: a swim length by length (RFC 4180, UTF-8, header required, column order free).

Typed lines are read, too: seconds, strokes, and if need be effort and seconds under water.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence

from norvik.core.errors import LengthsError
from norvik.core.followup.length_log import Length
from norvik.formats.cells import as_meant, plain_text
from norvik.formats.tables import separator_of
from norvik.formats.watch import TIME, read_seconds

COLUMNS = ("length", "seconds", "strokes", "effort", "under_water_s", "kicks", "breaths")
_LONGEST = 4000
_LONGEST_WORD = 40


def read_lengths(text: str) -> list[Length]:
    """Lengths in the order in which they stand; the length column only names them.

    Times are seconds or minutes:seconds. All rows have to be right: a length that is left out
    would shift the rest. Raises LengthsError naming the row, the first one being 1.
    """
    text = text.lstrip("\ufeff")
    rows = [row for row in text.splitlines() if row.strip()]
    if not rows:
        raise LengthsError("There is no length in this table.")
    if len(rows) > _LONGEST:
        raise LengthsError(f"These are {len(rows)} rows; at most {_LONGEST} make a swim.")
    separator, body = separator_of("\n".join(rows), COLUMNS)
    if "seconds" in body.split("\n", 1)[0].lower():
        return _table(body.split("\n"), separator)
    return [_typed(n, row) for n, row in enumerate(rows, 1)]


def _table(rows: Sequence[str], separator: str) -> list[Length]:
    reader = csv.reader(io.StringIO("\n".join(rows)), delimiter=separator)
    header = [name.strip().lower() for name in next(reader)]
    if header.count("seconds") != 1:
        raise LengthsError("The header must name the column seconds once.")
    found = []
    try:
        for n, cells in enumerate(reader, 2):
            if len(cells) > len(header):
                raise LengthsError(f"Row {n} has {len(cells)} cells, the header {len(header)}.")
            cell = dict(zip(header, (c.strip() for c in cells), strict=False))
            found.append(
                _length(n, cell.get("seconds", ""), cell.get("strokes", ""),
                        cell.get("effort", ""), cell.get("under_water_s", ""),
                        cell.get("kicks", ""), cell.get("breaths", ""))
            )  # fmt: skip
    except csv.Error as error:
        raise LengthsError(f"Row {len(found) + 2} cannot be split into cells.") from error
    if not found:
        raise LengthsError("There is no length under this header.")
    return found


def _typed(n: int, row: str) -> Length:
    """21.4 18, or 21.4 18 easy 3.5: words are the effort, the third number is under water."""
    words = re.split(r"[\s;]+", row.strip())
    odd = [w for w in words if not TIME.fullmatch(w) and any(c.isdigit() for c in w)]
    if odd:
        raise LengthsError(f"Row {n}: “{odd[0][:30]}” is no number; write 21.4 18.")
    alone = [w for w in words if not TIME.fullmatch(w) and len(w) < 2]
    if alone:
        raise LengthsError(f"Row {n}: “{alone[0]}” says nothing; write a word for the effort.")
    numbers = [w for w in words if TIME.fullmatch(w)]
    effort = " ".join(w for w in words if not TIME.fullmatch(w))
    if not numbers or not TIME.fullmatch(words[0]) or len(numbers) > 3:
        raise LengthsError(
            f"Row {n}: write seconds and strokes, as in 21.4 18, and perhaps a word for the effort "
            "and the seconds under water."
        )
    numbers += [""] * (3 - len(numbers))
    return _length(n, numbers[0], numbers[1], effort, numbers[2])


def _length(
    n: int, seconds: str, strokes: str, effort: str, under: str, kicks: str = "", breaths: str = ""
) -> Length:
    time_s = read_seconds(seconds)
    if time_s is None:
        raise LengthsError(f"Row {n}: “{seconds[:30]}” is no time in seconds.")
    for name, count in (("strokes", strokes), ("kicks", kicks), ("breaths", breaths)):
        if count and not (count.isascii() and count.isdigit() and int(count[:6]) <= 300):
            raise LengthsError(f"Row {n}: “{count[:30]}” is no number of {name}.")
    under_s = read_seconds(under) if under else None
    if under and under_s is None:
        raise LengthsError(f"Row {n}: “{under[:30]}” is no time under water.")
    return Length(
        time_s,
        int(strokes) if strokes else None,
        as_meant(effort)[:_LONGEST_WORD],
        under_s,
        int(kicks) if kicks else None,
        int(breaths) if breaths else None,
    )


def write_lengths(lengths: Sequence[Length]) -> str:
    """A table with CRLF line ends that `read_lengths` gives back the same."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    for n, x in enumerate(lengths, 1):
        under = "" if x.under_s is None else f"{x.under_s:.6f}".rstrip("0").rstrip(".")
        time = f"{x.seconds:.6f}".rstrip("0").rstrip(".")
        writer.writerow(
            [
                n,
                time,
                _count(x.strokes),
                plain_text(x.effort),
                under,
                _count(x.kicks),
                _count(x.breaths),
            ]
        )
    return out.getvalue()


def _count(value: int | None) -> str:
    return "" if value is None else str(value)
