"""What was ticked again, blind: by a second person, or by the same one later."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

#: Id of a fault or strength, and the side on which it is asked; empty where it has none.
Item = tuple[str, str]


@dataclass(frozen=True, slots=True)
class TickedAgain:
    """items: all that was asked. ticks: of these what was seen. own: by who ticked first."""

    person: str
    own: bool
    items: tuple[Item, ...]
    ticks: frozenset[Item]


def put(
    connection: sqlite3.Connection, clip_id: int, person: str, own: bool,
    items: Iterable[Item], ticks: Iterable[Item],
) -> None:  # fmt: skip
    """In place of what the person ticked before."""
    connection.execute(
        "INSERT INTO ticked_again (clip_id, person, own, items, ticks) VALUES (?, ?, ?, ?, ?) "
        "ON CONFLICT (clip_id, person) DO UPDATE SET own = excluded.own, items = excluded.items, "
        "ticks = excluded.ticks, made_at = CURRENT_TIMESTAMP",
        (clip_id, person, int(own), json.dumps(list(items)), json.dumps(sorted(ticks))),
    )


def of_clip(connection: sqlite3.Connection, clip_id: int) -> list[TickedAgain]:
    return [
        TickedAgain(
            row["person"], bool(row["own"]), tuple((a, b) for a, b in json.loads(row["items"])),
            frozenset((a, b) for a, b in json.loads(row["ticks"])),
        )
        for row in connection.execute(
            "SELECT person, own, items, ticks FROM ticked_again WHERE clip_id = ? ORDER BY person",
            (clip_id,),
        )
    ]  # fmt: skip
