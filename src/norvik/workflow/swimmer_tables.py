"""A swimmer's season, training and pain as tables."""

from __future__ import annotations

import json
import sqlite3

from norvik import __version__
from norvik.core.followup.change import compare
from norvik.core.followup.comparable import shown_by
from norvik.core.time.plus_minus import k95
from norvik.core.time.quantities.rate import rate_unit, stroke_rate
from norvik.formats.table_rows import Cell, write_rows
from norvik.store import clips, pains, plans
from norvik.store.swimmers import Swimmer
from norvik.workflow.clip_change import chosen_with, known_of
from norvik.workflow.clip_judgement import ClipJudgement
from norvik.workflow.kept_judgements import judged_clip
from norvik.workflow.plans import SwimmerPlan, worked_out

SEASON = (
    "date", "clip", "stroke", "view", "role", "rate", "rate_unit", "rate_swimmer_95",
    "speed_m_per_s", "distance_per_cycle_m", "stroke_index", "faults", "near_the_limit",
    "cannot_tell", "focus", "changed_since_the_clip_before",
)  # fmt: skip
TRAINING = (
    "date", "plan", "week", "session", "focus", "planned", "unit", "outcome", "effort_felt", "note",
)  # fmt: skip
PAINS = ("part", "noted_on", "note", "cleared_on", "cleared_note")

#: What the columns mean that do not say it themselves.
_MEANING = {
    "dates": "days, YYYY-MM-DD",
    "stroke, view, role, faults, focus, part": "ids of the catalogue, which stay the same",
    "rate": "from the mean of the whole cycles, in rate_unit, in real time",
    "rate_swimmer_95": "plus-minus of the swimmer's own rate, 95 of 100, Student's t",
    "speed_m_per_s": "over the marked passes; metres are real",
    "distance_per_cycle_m, stroke_index": "metres a cycle; metres squared a second",
    "near_the_limit": "beyond good but not yet a fault, or close to a fault limit",
    "cannot_tell": "the plus-minus reaches across a limit, or what is needed is not marked",
    "changed_since_the_clip_before": "of the same stroke; corrected for many looks",
    "planned": "distance of the session, in unit",
    "effort_felt": "1 to 10",
    "empty": "unknown or not noted",
}


def about(swimmer: Swimmer) -> dict[str, str]:
    """What has to be known to read a swimmer's tables, by name; written beside them."""
    return {"program": f"Norvik {__version__}", "swimmer": swimmer.name, **_MEANING}


def about_text(swimmer: Swimmer) -> str:
    """The same as a text to read."""
    return "".join(f"{name}: {value}\n" for name, value in about(swimmer).items())


def season_file(connection: sqlite3.Connection, swimmer: Swimmer) -> str:
    """season.csv: every clip that says something, oldest first."""
    rows: list[list[Cell]] = []
    before: dict[str, ClipJudgement] = {}
    every = [c for c in clips.newest_first(connection, swimmer.id) if c.watchable and c.marks]
    for clip in sorted(every, key=lambda c: (c.filmed_on, c.id)):
        judged = judged_clip(connection, clip)
        rows.append(_season_row(connection, judged, before.get(clip.stroke)))
        before[clip.stroke] = judged
    return write_rows(SEASON, rows)


def _season_row(
    connection: sqlite3.Connection, judged: ClipJudgement, before: ClipJudgement | None
) -> list[Cell]:
    clip, timing = judged.clip, judged.timed.timing
    rate, speed = stroke_rate(timing), timing.speed

    def named(kind: str) -> str:
        return ", ".join(dict.fromkeys(f.id for f in judged.faults if f.kind == kind))

    return [
        clip.filmed_on, clip.id, clip.stroke, clip.view, clip.role,
        rate.value if rate else None, rate_unit(timing),
        k95(rate.own) * rate.own.u if rate and rate.own else None,
        speed.m_per_s, speed.distance_per_cycle_m, speed.stroke_index,
        named("fault"), named("watch"), named("open"),
        ", ".join(f.fault for f in chosen_with(connection, clip)),
        _changed(connection, before, judged) if before else "",
    ]  # fmt: skip


def _changed(connection: sqlite3.Connection, before: ClipJudgement, after: ClipJudgement) -> str:
    """What really changed, by id: "entry-share better, rate changed"."""
    schools, catalogue = after.swimmer.schools, after.catalogue
    chosen = [catalogue.faults[f.fault] for f in chosen_with(connection, before.clip)
              if f.fault in catalogue.faults]  # fmt: skip
    worked = {what for fault in chosen for what in shown_by(fault, catalogue, schools)}
    known = [known_of(j.timed, catalogue, schools, j.taken, chosen) for j in (before, after)]
    found = [c for c in compare(known[0], known[1], worked)
             if c.verdict in ("better", "worse", "changed")]  # fmt: skip
    return ", ".join(f"{c.after.what}{f' {c.after.side}' if c.after.side else ''} {c.verdict}"
                     for c in found)  # fmt: skip


def training_file(connection: sqlite3.Connection, swimmer: Swimmer) -> str:
    """training.csv: every session of every plan whose outcome was noted."""
    rows: list[list[Cell]] = []
    for stored in plans.of_swimmer(connection, swimmer.id):
        plan = worked_out(connection, stored)
        rows += _trained(plan)
    return write_rows(TRAINING, sorted(rows, key=lambda r: (str(r[0]), str(r[3]))))


def _trained(plan: SwimmerPlan) -> list[list[Cell]]:
    pool = plan.plan.request.pool
    sessions = {s.key: s for s in plan.plan.sessions}
    found: list[list[Cell]] = []
    for key, said in plan.trained.items():
        now = sessions.get(key)
        was = json.loads(said.frozen) if said.frozen else {}
        lengths = was.get("lengths") if was else None
        planned = pool.exactly(now.lengths) if now else str(lengths or "")
        found.append([
            now.on.isoformat() if now else str(was.get("on", "")), plan.stored.id,
            now.week if now else None, f"session {key}",
            now.focus if now else str(was.get("focus", "")),
            planned, pool.unit, said.outcome, said.felt, said.note,
        ])  # fmt: skip
    return found


def pain_file(connection: sqlite3.Connection, swimmer: Swimmer) -> str:
    """pain.csv: what hurt, from when to when, newest first."""
    return write_rows(
        PAINS,
        ([p.part, p.noted_on, p.note, p.cleared_on, p.cleared_note]
         for p in pains.of_swimmer(connection, swimmer.id)),
    )  # fmt: skip
