"""Today: what waits for the coach."""

from __future__ import annotations

import sqlite3
import time
from dataclasses import dataclass
from datetime import date

from flask import Blueprint, render_template, url_for
from flask.typing import ResponseReturnValue

from norvik.store import (
    clips,
    jobs,
    library,
    readings,
    remarks,
    review_links,
    reviews,
    swimmers,
)
from norvik.store.library import ClipFilter
from norvik.web.shared import asked
from norvik.web.shared.database import database
from norvik.workflow.backup_due import backup_due
from norvik.workflow.consent import WORDS as CONSENT_WORDS
from norvik.workflow.consent import running_out
from norvik.workflow.due import due
from norvik.workflow.review_lines import ReviewLine, review_lines

blueprint = Blueprint("today", __name__)


#: Own choice, from counted presses: minutes that a clip takes to assign, to mark, to judge.
_ASSIGN_MIN, _MARK_MIN, _JUDGE_MIN = 0.3, 5.0, 3.0


@dataclass(frozen=True, slots=True)
class TodayJob:
    """So many clips that wait for one kind of work. minutes: about how long that takes."""

    name: str
    count: int
    minutes: int
    address: str


@dataclass(frozen=True, slots=True)
class FirstStep:
    """address: where it is done; empty while an earlier step is open."""

    name: str
    hint: str
    address: str
    done: bool


#: More than these are looked for in the library.
_SHOWN = 30


@blueprint.get("/")
def show() -> ResponseReturnValue:
    today = date.today()
    return render_template(
        "today/page.html",
        due=due(database(), today, asked.within()),
        today=today,
        consents=running_out(database(), today, asked.within()),
        consent_words=CONSENT_WORDS,
        backup=backup_due(database(), time.time()) if asked.may("lead") else "",
        answers=review_links.unseen(database(), asked.within()),
        **context(),
    )


@blueprint.get("/today/list")
def listing() -> ResponseReturnValue:
    """The list alone, asked for again while clips are being prepared."""
    return render_template("today/_list.html", **context())


def _jobs(counts: dict[str, int], marked: int) -> list[TodayJob]:
    """What there is to do by kind of work, with the time that it takes."""
    unassigned, waiting = counts["to-sort"], counts["waiting"]
    left = max(0, waiting - unassigned - marked)
    kinds = (
        ("Assign", unassigned, "to-sort", _ASSIGN_MIN),
        ("Mark", left, "waiting", _MARK_MIN),
        ("Judge", marked, "marked", _JUDGE_MIN),
    )
    return [
        TodayJob(name, n, max(1, round(n * each)), url_for("library.show", state=state))
        for name, n, state, each in kinds
        if n
    ]


def _by_swimmer(waiting: list[ReviewLine]) -> list[tuple[str, int | None, list[ReviewLine]]]:
    """Name, id and reviews of each swimmer who waits, in the order of the newest review."""
    found: dict[int | None, list[ReviewLine]] = {}
    for line in waiting:
        found.setdefault(line.review.swimmer_id, []).append(line)
    return [(of_one[0].swimmer_name, swimmer_id, of_one) for swimmer_id, of_one in found.items()]


def _first_steps(connection: sqlite3.Connection) -> list[FirstStep]:
    """What an empty club does first; empty once all of it is done."""
    clip = library.first_ready(connection, asked.within())
    steps = [
        FirstStep("Add a swimmer", "A name is enough.", url_for("swimmers.new"),
                  swimmers.any_there(connection, asked.within())),
        FirstStep("Add a clip", "A side view under water shows most.", url_for("intake.new"),
                  clip is not None),
        FirstStep("Mark one stroke cycle", "From one hand entry to the next: F marks what comes.",
                  url_for("bench.show", clip_id=clip) if clip else "",
                  library.any_marks(connection)),
    ]  # fmt: skip
    return [] if all(s.done for s in steps) else steps


def context() -> dict[str, object]:
    """What the page and its list show."""
    connection, within = database(), asked.within()
    found = {
        state: library.find(connection, ClipFilter(state=state), within=within)
        for state in ("failed", "preparing", "to-sort", "waiting")
    }
    unsorted = {c.id for c in found["to-sort"].clips}
    preparing = found["preparing"].clips[:_SHOWN]
    # A few more than are shown: some hold no clip any more.
    begun = reviews.in_work(connection, 2 * _SHOWN, within)
    lines = [x for x in review_lines(connection, begun) if x.clips]
    in_review = reviews.clips_in_work(connection, [c.id for c in found["waiting"].clips])
    apart = [
        c for c in found["waiting"].clips
        if c.id not in unsorted and c.id not in in_review and c.watchable
    ]  # fmt: skip
    finished = review_lines(connection, reviews.finished(connection, _SHOWN, within))
    counts = {state: f.count for state, f in found.items()}
    counts |= {
        state: library.count_of(connection, ClipFilter(state=state), within)
        for state in ("reviewed", "marked")
    }
    return {
        "failed": found["failed"].clips[:_SHOWN],
        "preparing": preparing,
        "jobs": {c.id: jobs.newest_of(connection, c.recording.id) for c in preparing},
        "to_sort": [c for c in found["to-sort"].clips if c.watchable][:_SHOWN],
        "waiting": _by_swimmer(lines[:_SHOWN]),
        "apart": apart[:_SHOWN],
        "read_cycles": readings.cycle_seconds(connection, [c.id for c in apart[:_SHOWN]]),
        "doubts": [
            (d, clips.by_ids(connection, [d.clip_id])[0])
            for d in remarks.open_doubts(connection, within=within)
        ],
        "to_do": _jobs(counts, counts["marked"]),
        "reviewed": [line for line in finished if line.clips],
        "counts": counts,
        "shown": _SHOWN,
        "first_steps": _first_steps(connection),
    }
