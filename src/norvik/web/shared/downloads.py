"""Files to take away: any name, and tables as the reader's spreadsheet program wants them."""

from __future__ import annotations

import io
import re

from flask import Response, request, send_file

from norvik.formats.tables_out import STYLES, workbook, written_for
from norvik.store import club
from norvik.web.shared.database import database

#: What a table can be asked for as.
WORKBOOK = "xlsx"


def attachment(data: bytes | str, name: str, kind: str) -> Response:
    """A file to save. Letters outside ASCII stay in its name (RFC 5987), beside a plain one."""
    body = data.encode("utf-8") if isinstance(data, str) else data
    if kind.startswith("text/") and "charset" not in kind:
        kind += "; charset=utf-8"
    safe = re.sub(r"[\\/:*?\"<>|\x00-\x1f]+", "-", name)
    made: Response = send_file(
        io.BytesIO(body), mimetype=kind, as_attachment=True, download_name=safe
    )
    made.headers["Content-Type"] = kind
    return made


def table_file(text: str, name: str, about: dict[str, str] | None = None) -> Response:
    """A table as the club wants its tables, or as the address asks for it: ?as=csv, comma, xlsx.

    text: CSV with commas and points. about: what it means, for the second sheet of a workbook.
    """
    wanted = request.args.get("as")
    if wanted is None:
        wanted = club.tables(database())
    if wanted == WORKBOOK:
        return attachment(
            workbook(text, about or {}), name.removesuffix(".csv") + ".xlsx",
            "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
        )  # fmt: skip
    return attachment(written_for(text, wanted if wanted in STYLES else ""), name, "text/csv")
