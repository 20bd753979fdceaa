"""Our tables as spreadsheet programs open them right: separators, decimal signs, workbooks."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping
from dataclasses import dataclass

import xlsxwriter

_NUMBER = re.compile(r"[+-]?\d+(\.\d+)?([eE][+-]?\d+)?")


@dataclass(frozen=True, slots=True)
class Style:
    """How a table is written. name: for the coach."""

    name: str
    separator: str = ","
    decimal: str = "."
    bom: bool = False


#: By what is asked for in an address. The empty one is the standard (RFC 4180, UTF-8).
STYLES = {
    "": Style("CSV by the standard"),
    "comma": Style("CSV for programs that write 0,5", ";", ",", True),
    "bom": Style("CSV with a mark that it is UTF-8", bom=True),
}


def written_for(text: str, style: str) -> str:
    """A table of commas and points in another style."""
    how = STYLES[style]
    if how == STYLES[""]:
        return text
    out = io.StringIO(newline="")
    writer = csv.writer(out, delimiter=how.separator)
    for row in csv.reader(io.StringIO(text, newline="")):
        writer.writerow([_cell(cell, how.decimal) for cell in row])
    return ("\ufeff" if how.bom else "") + out.getvalue()


def _cell(cell: str, decimal: str) -> str:
    return cell.replace(".", decimal) if _NUMBER.fullmatch(cell) else cell


def workbook(text: str, about: Mapping[str, str]) -> bytes:
    """A table as a workbook: numbers as numbers, words as words, and what it means beside it."""
    out = io.BytesIO()
    book = xlsxwriter.Workbook(
        out, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False}
    )
    bold = book.add_format({"bold": True})
    sheet = book.add_worksheet("Table")
    rows = list(csv.reader(io.StringIO(text, newline="")))
    for n, row in enumerate(rows):
        for m, cell in enumerate(row):
            if n == 0:
                sheet.write_string(n, m, cell, bold)
            elif _NUMBER.fullmatch(cell) and len(cell) < 16:
                sheet.write_number(n, m, float(cell))
            elif cell:
                sheet.write_string(n, m, cell)
    sheet.freeze_panes(1, 0)
    for m in range(max(map(len, rows), default=0)):
        widest = max((len(row[m]) for row in rows if m < len(row)), default=8)
        sheet.set_column(m, m, min(40, widest + 2))
    if about:
        meaning = book.add_worksheet("About")
        meaning.set_column(0, 0, 28)
        meaning.set_column(1, 1, 80)
        for n, (name, value) in enumerate(about.items()):
            meaning.write_string(n, 0, name, bold)
            meaning.write_string(n, 1, value)
    book.close()
    return out.getvalue()
