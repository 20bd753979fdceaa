"""Plans of training: what each is made from, and what was done of it."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass, field, replace
from datetime import date
from fractions import Fraction
from typing import Literal

from norvik.core.errors import NotFoundError
from norvik.core.prescription.plan import FocusRequest, PlanRequest, Pool
from norvik.core.strokes.names import StrokeName
from norvik.store.scope import Within, of_swimmers

#: What became of a session.
Outcome = Literal["done", "partly", "skipped"]
OUTCOMES: tuple[Outcome, ...] = ("done", "partly", "skipped")


@dataclass(frozen=True)
class StoredPlan:
    """A plan as it is kept.

    found: faults of the clip it was made from; no drill may feed them. drills: what the coach kept
    for a focus. begins_at: "18:30" or empty. words: one word for the hand by focus.
    """

    swimmer_id: int
    stroke: StrokeName
    request: PlanRequest
    clip_id: int | None = None
    review_id: int | None = None
    found: tuple[str, ...] = ()
    drills: dict[str, tuple[str, ...]] = field(default_factory=dict)
    begins_at: str = ""
    words: dict[str, str] = field(default_factory=dict)
    made_on: str = ""
    ended_on: str | None = None
    id: int = 0


@dataclass(frozen=True, slots=True)
class Trained:
    """What was done of one session. felt: effort felt, 1 to 10, or None.

    frozen: JSON of the session as it stood when that was noted; empty for what was noted before
    sessions were kept.
    """

    session: str
    outcome: Outcome
    felt: int | None
    note: str
    frozen: str = ""


def _text(plan: StoredPlan) -> str:
    request = plan.request
    return json.dumps(
        {
            "starts_on": request.starts_on.isoformat(),
            "aim_on": request.aim_on.isoformat() if request.aim_on else None,
            "weekdays": request.weekdays,
            "pool": [str(request.pool.length), request.pool.unit],
            "focuses": [[f.fault, f.weeks] for f in request.focuses],
            "metres": request.metres,
            "minutes": request.minutes,
            "level": request.level,
            "moves": {key: day.isoformat() for key, day in request.moves.items()},
            "repeats": request.repeats,
            "added": request.added,
            "from_first_session": request.from_first_session,
            "found": plan.found,
            "drills": plan.drills,
            "begins_at": plan.begins_at,
            "words": plan.words,
        }
    )


def _plan(row: sqlite3.Row) -> StoredPlan:
    said = json.loads(row["wish"])
    request = PlanRequest(
        starts_on=date.fromisoformat(said["starts_on"]),
        aim_on=date.fromisoformat(said["aim_on"]) if said["aim_on"] else None,
        weekdays=tuple(said["weekdays"]),
        pool=Pool(Fraction(said["pool"][0]), said["pool"][1]),
        focuses=tuple(FocusRequest(fault, weeks) for fault, weeks in said["focuses"]),
        metres=said["metres"],
        minutes=said["minutes"],
        level=said["level"],
        moves={key: date.fromisoformat(day) for key, day in said["moves"].items()},
        repeats={
            key: {int(place): n for place, n in fixed.items()}
            for key, fixed in said["repeats"].items()
        },
        # Plans that were made before sets could be added say nothing of it.
        added={
            key: tuple((drill, n) for drill, n in sets)
            for key, sets in said.get("added", {}).items()
        },
        from_first_session=said.get("from_first_session", False),
    )
    return StoredPlan(
        id=row["id"],
        swimmer_id=row["swimmer_id"],
        clip_id=row["clip_id"],
        review_id=row["review_id"],
        stroke=row["stroke"],
        request=request,
        found=tuple(said["found"]),
        drills={fault: tuple(ids) for fault, ids in said["drills"].items()},
        begins_at=said["begins_at"],
        words=said["words"],
        made_on=row["made_on"],
        ended_on=row["ended_on"],
    )


def add(connection: sqlite3.Connection, plan: StoredPlan) -> StoredPlan:
    row = connection.execute(
        "INSERT INTO plans (swimmer_id, clip_id, review_id, stroke, wish, made_on) "
        "VALUES (?, ?, ?, ?, ?, ?) RETURNING id, made_on",
        (
            plan.swimmer_id,
            plan.clip_id,
            plan.review_id,
            plan.stroke,
            _text(plan),
            date.today().isoformat(),
        ),
    ).fetchone()
    return replace(plan, id=row["id"], made_on=row["made_on"])


def update(connection: sqlite3.Connection, plan: StoredPlan) -> None:
    connection.execute("UPDATE plans SET wish = ? WHERE id = ?", (_text(plan), plan.id))


def end(connection: sqlite3.Connection, plan_id: int, on: str | None) -> None:
    """End a plan on a day, or take it up again with None."""
    connection.execute("UPDATE plans SET ended_on = ? WHERE id = ?", (on, plan_id))


def delete(connection: sqlite3.Connection, plan_id: int) -> None:
    connection.execute("DELETE FROM plans WHERE id = ?", (plan_id,))


def by_id(connection: sqlite3.Connection, plan_id: int) -> StoredPlan:
    row = connection.execute("SELECT * FROM plans WHERE id = ?", (plan_id,)).fetchone()
    if row is None:
        raise NotFoundError("This plan has been deleted.")
    return _plan(row)


def of_swimmer(connection: sqlite3.Connection, swimmer_id: int) -> list[StoredPlan]:
    """Newest first."""
    rows = connection.execute(
        "SELECT * FROM plans WHERE swimmer_id = ? ORDER BY id DESC", (swimmer_id,)
    )
    return [_plan(row) for row in rows]


def running(connection: sqlite3.Connection, within: Within = None) -> list[StoredPlan]:
    """Plans that have not been ended, newest first."""
    mine, values = of_swimmers(within, "swimmer_id")
    rows = connection.execute(
        f"SELECT * FROM plans WHERE ended_on IS NULL AND {mine} ORDER BY id DESC", values
    )
    return [_plan(row) for row in rows]


def trained(connection: sqlite3.Connection, plan_id: int) -> dict[str, Trained]:
    """What was done, by the session's key."""
    rows = connection.execute(
        "SELECT session, outcome, felt, note, coalesce(frozen, '') FROM training WHERE plan_id = ?",
        (plan_id,),
    )
    return {row["session"]: Trained(*row) for row in rows}


def note_training(connection: sqlite3.Connection, plan_id: int, said: Trained) -> None:
    """Note what was done. A session that was frozen before stays as it was then."""
    connection.execute(
        "INSERT INTO training (plan_id, session, outcome, felt, note, frozen) "
        "VALUES (?, ?, ?, ?, ?, ?) "
        "ON CONFLICT (plan_id, session) DO UPDATE SET outcome = excluded.outcome, "
        "felt = excluded.felt, note = excluded.note, "
        "frozen = coalesce(nullif(training.frozen, ''), excluded.frozen)",
        (plan_id, said.session, said.outcome, said.felt, said.note, said.frozen),
    )


def forget_training(connection: sqlite3.Connection, plan_id: int, session: str) -> None:
    connection.execute("DELETE FROM training WHERE plan_id = ? AND session = ?", (plan_id, session))
