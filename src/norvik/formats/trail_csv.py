"""The trail as a table."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping

from norvik.formats.cells import plain_text
from norvik.store.trail import Step

HEADER = ("at", "person", "did", "kind", "number", "swimmer", "words", "address")


def write_trail(steps: Iterable[Step], words: Mapping[str, str]) -> str:
    """CSV with a row for each step. words: deed to how it is read."""
    made = io.StringIO()
    table = csv.writer(made, lineterminator="\r\n")
    table.writerow(HEADER)
    for s in steps:
        cells = (s.at, s.person, words.get(s.deed, s.deed), s.kind, str(s.thing_id or ""),
                 s.swimmer, s.words, s.address)  # fmt: skip
        table.writerow([plain_text(c) for c in cells])
    return made.getvalue()
