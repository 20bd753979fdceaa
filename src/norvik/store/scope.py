"""Whose rows a list shows: everybody's, or those of certain swimmers."""

from __future__ import annotations

import json
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Scope:
    """swimmers: their ids. person: what they brought in and gave to nobody yet is in, too."""

    swimmers: frozenset[int]
    person: int

    def has(self, swimmer_id: int | None, brought_by: int | None = None) -> bool:
        """Is a thing of this swimmer, or of nobody and brought in by this person, in the scope?"""
        if swimmer_id is None:
            return brought_by is not None and brought_by == self.person
        return swimmer_id in self.swimmers


#: None is everybody.
Within = Scope | None


def of_swimmers(within: Within, column: str) -> tuple[str, tuple[str, ...]]:
    """A condition on a column that holds a swimmer's id, and its values."""
    if within is None:
        return "1", ()
    return f"{column} IN (SELECT value FROM json_each(?))", (_listed(within),)


def of_clips(within: Within, clip: str = "c") -> tuple[str, tuple[str | int, ...]]:
    """A condition on a row of clips by its name in the query, and its values."""
    if within is None:
        return "1", ()
    return (
        f"({clip}.swimmer_id IN (SELECT value FROM json_each(?)) "
        f"OR ({clip}.swimmer_id IS NULL AND {clip}.created_by = ?))",
        (_listed(within), within.person),
    )


def _listed(within: Scope) -> str:
    return json.dumps(sorted(within.swimmers))
