"""Where work is done: films, and a folder for what is not whole yet."""

from __future__ import annotations

from contextlib import AbstractContextManager
from dataclasses import dataclass
from pathlib import Path

from norvik.files.footage import Footage, scratch


@dataclass(frozen=True, slots=True)
class Place:
    footage: Footage
    folder: Path

    def scratch(self, what: str) -> AbstractContextManager[Path]:
        """See files.footage.scratch."""
        return scratch(self.folder, what)
