"""Where work is done: films, and a folder for what is not whole yet."""

from __future__ import annotations

from contextlib import AbstractContextManager
from dataclasses import dataclass
from pathlib import Path

from norvik.files.footage import Footage, desk


@dataclass(frozen=True, slots=True)
class Place:
    footage: Footage
    folder: Path

    def desk(self, what: str) -> AbstractContextManager[Path]:
        """See files.footage.desk."""
        return desk(self.folder, what)
