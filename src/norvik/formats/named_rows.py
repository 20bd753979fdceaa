"""A table's rows by the names of its columns, and the refusal of a table that has wrong ones."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from norvik.core.errors import NorvikError
from norvik.formats.tables import records, separator_of, text_or

#: So many wrong rows are named; of the others their number.
_NAMED = 5


@dataclass(frozen=True, slots=True)
class NamedRow:
    """number: the header is row 1. cells: by column, trimmed, empty where the row ends before.

    wrong: why the row cannot be split into the columns; None when it can.
    """

    number: int
    cells: dict[str, str]
    wrong: str | None


def named_rows(
    data: bytes, columns: Sequence[str], needed: Sequence[str], what: str,
    error: type[NorvikError],
) -> Iterator[NamedRow]:  # fmt: skip
    """Rows of a table that are not empty, as a spreadsheet program or Norvik saved it.

    what: "a table of a plan", for the sentence of the error, which is raised at once for bytes that
    are no text and for a header without the needed columns.
    """
    text = text_or(error, data)
    separator, text = separator_of(text, columns)
    rows = records(text, separator)
    header = [name.strip().lower() for name in next(rows, (1, [], None))[1]]
    missing = [name for name in needed if name not in header]
    if missing:
        raise error(
            f"Missing columns: {', '.join(missing)}. {what.capitalize()} begins with "
            f"{','.join(columns)}."
        )
    return _named(rows, header)


def _named(
    rows: Iterator[tuple[int, list[str], str | None]], header: Sequence[str]
) -> Iterator[NamedRow]:
    for number, cells, broken in rows:
        if broken or len(cells) > len(header):
            yield NamedRow(number, {}, broken or "more cells than the header")
        elif any(cell.strip() for cell in cells):
            short = [""] * (len(header) - len(cells))
            trimmed = (cell.strip() for cell in [*cells, *short])
            yield NamedRow(number, dict(zip(header, trimmed, strict=True)), None)


def refuse(wrong: Sequence[str], what_was_not: str, error: type[NorvikError]) -> None:
    """Raises when anything is wrong: what_was_not "Nothing was imported", then the first few."""
    if wrong:
        more = f" and {len(wrong) - _NAMED} more" if len(wrong) > _NAMED else ""
        raise error(f"{what_was_not}: {'; '.join(wrong[:_NAMED])}{more}.")
