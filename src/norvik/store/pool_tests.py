"""Pool tests that were swum."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass, replace
from fractions import Fraction

from norvik.core.errors import NotFoundError
from norvik.core.pool import Pool
from norvik.core.strokes.names import StrokeName


@dataclass(frozen=True, slots=True)
class SwumTest:
    """test: its id. entries: values by the id of their entry. session: key in the plan, or empty.

    id: 0 before it is stored.
    """

    swimmer_id: int
    test: str
    stroke: StrokeName
    done_on: str
    pool: Pool
    entries: dict[str, tuple[float, ...]]
    rested: bool = True
    note: str = ""
    plan_id: int | None = None
    session: str = ""
    id: int = 0


def add(connection: sqlite3.Connection, swum: SwumTest) -> SwumTest:
    row = connection.execute(
        "INSERT INTO pool_tests (swimmer_id, test, stroke, done_on, pool, unit, entries, rested, "
        "note, plan_id, session) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING id",
        (
            swum.swimmer_id, swum.test, swum.stroke, swum.done_on, str(swum.pool.length),
            swum.pool.unit, json.dumps(swum.entries), swum.rested, swum.note, swum.plan_id,
            swum.session,
        ),
    ).fetchone()  # fmt: skip
    return replace(swum, id=row["id"])


def by_id(connection: sqlite3.Connection, test_id: int) -> SwumTest:
    row = connection.execute("SELECT * FROM pool_tests WHERE id = ?", (test_id,)).fetchone()
    if row is None:
        raise NotFoundError("This pool test has been deleted.")
    return _swum(row)


def of_swimmer(connection: sqlite3.Connection, swimmer_id: int) -> list[SwumTest]:
    """Oldest first."""
    rows = connection.execute(
        "SELECT * FROM pool_tests WHERE swimmer_id = ? ORDER BY done_on, id", (swimmer_id,)
    )
    return [_swum(row) for row in rows]


def of_plan(connection: sqlite3.Connection, plan_id: int) -> dict[str, SwumTest]:
    """By the key of their session; the newest where one was swum twice."""
    rows = connection.execute(
        "SELECT * FROM pool_tests WHERE plan_id = ? ORDER BY done_on, id", (plan_id,)
    )
    return {row["session"]: _swum(row) for row in rows}


def delete(connection: sqlite3.Connection, test_id: int) -> None:
    connection.execute("DELETE FROM pool_tests WHERE id = ?", (test_id,))


def _swum(row: sqlite3.Row) -> SwumTest:
    return SwumTest(
        id=row["id"],
        swimmer_id=row["swimmer_id"],
        test=row["test"],
        stroke=row["stroke"],
        done_on=row["done_on"],
        pool=Pool(Fraction(row["pool"]), row["unit"]),
        entries={name: tuple(values) for name, values in json.loads(row["entries"]).items()},
        rested=bool(row["rested"]),
        note=row["note"],
        plan_id=row["plan_id"],
        session=row["session"],
    )
