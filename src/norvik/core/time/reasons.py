"""Why a value is missing: every unknown carries its reason, so that nobody has to guess."""

from __future__ import annotations

from collections.abc import Sequence


class Reasons:
    """Collects reasons by dotted path ("phases.left.catch")."""

    def __init__(self) -> None:
        self.by_path: dict[str, str] = {}

    def missing(self, paths: str | Sequence[str], why: str) -> None:
        for path in (paths,) if isinstance(paths, str) else paths:
            self.by_path.setdefault(path, why)
