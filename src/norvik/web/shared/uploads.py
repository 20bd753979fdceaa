"""A small file that came with a form."""

from __future__ import annotations

from flask import request

from norvik.core.errors import NorvikError


def sent_file(what: str, most_bytes: int, error: type[NorvikError]) -> bytes:
    """The bytes of the form's file, empty when there is none.

    what: "a table of marks". Raises the error when the file is larger than most_bytes.
    """
    file = request.files.get("file")
    data = file.read(most_bytes + 1) if file and file.filename else b""
    if len(data) > most_bytes:
        raise error(f"This file is too large for {what}.")
    return data
