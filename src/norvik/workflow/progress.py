"""A swimmer's progress: every point over the months, what comes next, and what is still open."""

from __future__ import annotations

import sqlite3
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date

from norvik.core.errors import PlanError
from norvik.core.followup.change import ComparableValue, compare
from norvik.core.followup.comparable import shown_by
from norvik.core.followup.focus_status import STUCK, FocusStatus, Later, next_point, status_of
from norvik.core.frame.choices import CHOICES
from norvik.core.judging.coaching_model import Fault
from norvik.core.judging.ranking import upstream
from norvik.store import focus_answers, focus_status, plans, reviews
from norvik.store.clips import Clip
from norvik.store.plans import StoredPlan
from norvik.store.swimmers import Swimmer
from norvik.workflow.change_plan import Exchange, exchange_for
from norvik.workflow.clip_change import known_of
from norvik.workflow.clip_judgement import ClipJudgement
from norvik.workflow.plans import worked_out
from norvik.workflow.review_judgement import StrokeJudgement, judge_review

#: Own choice: so many of the newest reviews of a stroke are looked at.
MOST_REVIEWS = 12


@dataclass(frozen=True, slots=True)
class Question:
    """Something that a clip left open. answered_by: a later clip that told, with what it found."""

    fault: Fault
    clip: Clip
    answered_by: Clip | None
    found: bool


@dataclass(frozen=True, slots=True)
class NextStep:
    """A way on for a point that is stuck. plan_id: of the running plan that works on it, if any.

    exchange: another drill there. clip: the one that says so. upstream: faults that it shows, too,
    and that feed the point.
    """

    plan_id: int | None
    exchange: Exchange | None
    upstream: tuple[Fault, ...]
    clip: Clip


@dataclass(frozen=True)
class Progress:
    """How a swimmer gets on.

    faults: by id. numbers: of each fault that a number shows, its id. proposed: the next point and
    the clip whose order says so. ways: by stroke and fault, of the points that are stuck.
    """

    rungs: tuple[FocusStatus, ...]
    faults: dict[str, Fault]
    proposed: tuple[Fault, Clip] | None
    questions: tuple[Question, ...]
    ways: dict[tuple[str, str], NextStep]
    numbers: dict[str, str]


@dataclass(frozen=True, slots=True)
class _JudgedReview:
    """One stroke of a judged review, and what the coach said of each focus in it."""

    judgement: StrokeJudgement
    answers: dict[str, str]

    @property
    def clip(self) -> Clip:
        """The clip by which it is called up: the first one of the stroke."""
        return self.judgement.clips[0].clip

    @property
    def on(self) -> date:
        return date.fromisoformat(self.judgement.review.filmed_on)

    def tells(self, only: Collection[str]) -> bool:
        """Does any of its clips show those quantities, measures or choices?"""
        return any(_known(c, only) for c in self.judgement.clips)

    def kind(self, fault_id: str) -> str:
        """Of the findings with that id, the gravest; empty without one."""
        kinds = {f.kind for f in self.judgement.faults if f.id == fault_id}
        return next((k for k in ("fault", "open", "watch") if k in kinds), "")


def progress_of(connection: sqlite3.Connection, swimmer: Swimmer) -> Progress:
    """Work out the progress from stored clips, reviews and what the coach said."""
    told = _judged_reviews(connection, swimmer)
    said = focus_status.of_swimmer(connection, swimmer.id)
    made: list[FocusStatus] = []
    faults: dict[str, Fault] = {}
    numbers: dict[str, str] = {}
    for stroke in dict.fromkeys(t.clip.stroke for t in told):
        of_stroke = [t for t in told if t.clip.stroke == stroke]
        begun: dict[str, _JudgedReview] = {}
        for t in of_stroke:
            for focus in t.judgement.stored_focuses:
                if focus.fault in t.judgement.catalogue.faults:
                    begun.setdefault(focus.fault, t)
        for fault_id, first in begun.items():
            fault = first.judgement.catalogue.faults[fault_id]
            faults[fault_id] = fault
            if (
                shown := shown_by(fault, first.judgement.catalogue, swimmer.schools)
                - CHOICES.keys()
            ):
                numbers[fault_id] = min(shown)
            later = [_later(fault, first, t, swimmer) for t in of_stroke if t.on > first.on]
            word = said.get((stroke, fault_id))
            made.append(
                status_of(stroke, fault_id, first.on, first.clip.id, later,
                     word.state if word else "",
                     date.fromisoformat(word.said_on) if word else None)
            )  # fmt: skip
    made.sort(key=lambda r: (r.begun_on, r.fault))
    return Progress(
        tuple(made),
        faults,
        _proposed(told, made),
        tuple(_questions(told, swimmer)),
        _next_steps(connection, swimmer, told, made, faults),
        numbers,
    )


def _judged_reviews(connection: sqlite3.Connection, swimmer: Swimmer) -> list[_JudgedReview]:
    """What the reviews say of each stroke, oldest first; those that say nothing are left out."""
    found: list[_JudgedReview] = []
    counts: dict[str, int] = {}
    for review in reviews.of_swimmer(connection, swimmer.id):
        for section in judge_review(connection, review).strokes:
            says = section.stored_focuses or any(c.timed.marks or c.seen for c in section.clips)
            if not section.clips or not says or counts.get(section.stroke, 0) >= MOST_REVIEWS:
                continue
            counts[section.stroke] = counts.get(section.stroke, 0) + 1
            said = focus_answers.of_review(connection, review.id, section.stroke)
            found.append(_JudgedReview(section, said))
    return found[::-1]


def _known(clip: ClipJudgement, only: Collection[str]) -> list[ComparableValue]:
    """A clip's values of those quantities, measures and choices, to compare with another's."""
    return known_of(clip.timed, clip.catalogue, clip.swimmer.schools, clip.taken, only=only)


def _counterpart(clip: ClipJudgement, among: Sequence[ClipJudgement]) -> ClipJudgement | None:
    """The clip to hold this one against.

    Of the same view where there is one, swum with the same kit, and at no other pace as far as is
    known.
    """
    own = clip.for_review
    alike = [
        c for c in among
        if c.clip.facts.kit == clip.clip.facts.kit and not c.for_review.pace.surely_other(own.pace)
    ]  # fmt: skip
    return min(alike, key=lambda c: c.clip.view != clip.clip.view, default=None)


def _later(fault: Fault, first: _JudgedReview, then: _JudgedReview, swimmer: Swimmer) -> Later:
    shown = shown_by(fault, then.judgement.catalogue, swimmer.schools)
    changes = [
        change
        for clip in then.judgement.clips
        if (before := _counterpart(clip, first.judgement.clips)) is not None
        for change in compare(_known(before, shown), _known(clip, shown), shown)
    ]
    return Later(
        clip=then.clip.id,
        on=then.on,
        # One value alone says nothing about the swimmer.
        verdicts=tuple(c.verdict for c in changes if c.verdict != "unknown"),
        kind=then.kind(fault.id),
        answer=then.answers.get(fault.id, ""),
    )


def _next_steps(
    connection: sqlite3.Connection,
    swimmer: Swimmer,
    told: list[_JudgedReview],
    made: list[FocusStatus],
    faults: dict[str, Fault],
) -> dict[tuple[str, str], NextStep]:
    stuck = [r for r in made if r.state in STUCK]
    if not stuck:
        return {}
    running = [p for p in plans.of_swimmer(connection, swimmer.id) if not p.ended_on]
    found: dict[tuple[str, str], NextStep] = {}
    for r in stuck:
        # The clip that says so: a later one that can't tell of the point says nothing of causes.
        telling_clip = [s.clip for s in r.steps if s.state != "unclear"][-1]
        newest = next(t for t in told if t.clip.id == telling_clip)
        tables = newest.judgement.catalogue
        ranked = [x.fault.id for x in newest.judgement.ranked]
        causes = tuple(tables.faults[f] for f in upstream(r.fault, ranked, tables))
        plan = next(
            (
                p
                for p in running
                if r.fault in {f.fault for f in p.request.focuses}
                and (p.stroke == r.stroke or p.stroke not in faults[r.fault].strokes)
            ),
            None,
        )
        exchange = _exchange(connection, plan, r.fault) if plan else None
        found[r.stroke, r.fault] = NextStep(
            plan.id if plan else None, exchange, causes, newest.clip
        )
    return found


def _exchange(connection: sqlite3.Connection, plan: StoredPlan, fault: str) -> Exchange | None:
    try:
        return exchange_for(worked_out(connection, plan), fault)
    except PlanError:
        return None  # the plan's own page says what is wrong with it


def _proposed(told: list[_JudgedReview], made: list[FocusStatus]) -> tuple[Fault, Clip] | None:
    """By the order of work of the newest clip; only when no point is still being worked on."""
    if not told or any(r.state in ("working", "better") for r in made):
        return None
    newest = told[-1]
    order = [r.fault.id for r in newest.judgement.ranked]
    proposed = next_point(order, [r for r in made if r.stroke == newest.clip.stroke])
    return (newest.judgement.catalogue.faults[proposed], newest.clip) if proposed else None


def _questions(told: list[_JudgedReview], swimmer: Swimmer) -> list[Question]:
    """The newest time that each question was left open, and the clip that answered it since."""
    found: dict[tuple[str, str], Question] = {}
    for n, t in enumerate(told):
        for finding in t.judgement.faults:
            if finding.kind != "open":
                continue
            fault = t.judgement.catalogue.faults.get(finding.id)
            if fault is None:
                continue
            shown = shown_by(fault, t.judgement.catalogue, swimmer.schools)
            answer = next(
                (
                    x
                    for x in told[n + 1 :]
                    if x.clip.stroke == t.clip.stroke
                    and x.kind(fault.id) != "open"
                    and (
                        x.kind(fault.id)
                        or x.tells(shown)
                        or x.answers.get(fault.id) in ("gone", "better", "still")
                    )
                ),
                None,
            )
            found[t.clip.stroke, fault.id] = Question(
                fault, t.clip, answer.clip if answer else None,
                answer is not None
                and (answer.kind(fault.id) == "fault" or answer.answers.get(fault.id) == "still"),
            )  # fmt: skip
    return list(found.values())
