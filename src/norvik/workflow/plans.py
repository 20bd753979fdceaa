"""Plans of a swimmer: made from a judged review, worked out from what is stored."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import msgspec

from norvik.core.errors import PlanError
from norvik.core.followup.refilm import Shot, refilm
from norvik.core.judging.coaching_model import Catalogue, Caution, Drill, Fault
from norvik.core.prescription.plan import Plan, PlanRequest, Session, build_plan
from norvik.core.prescription.plan.sets import FocusDrills
from norvik.core.prescription.pool_tests import offered_tests
from norvik.core.prescription.prescribe import effort_of, prescribe, topics_of, unsuitable
from norvik.core.strokes import STROKES
from norvik.core.strokes.names import StrokeName
from norvik.store import plans, review_clips, swimmers
from norvik.store.plans import StoredPlan, Trained
from norvik.store.swimmers import Swimmer
from norvik.workflow.clip_judgement import receiver_of
from norvik.workflow.own_catalogue import all_tables, tables_of
from norvik.workflow.remark import with_own_points
from norvik.workflow.review_judgement import ReviewJudgement


@dataclass(frozen=True)
class SwimmerPlan:
    """A stored plan worked out: its weeks, and what was done so far.

    addable: drills in the water that suit the swimmer now and feed nothing that was found, by name.
    """

    stored: StoredPlan
    swimmer: Swimmer
    catalogue: Catalogue
    works: tuple[FocusDrills, ...]
    plan: Plan
    trained: dict[str, Trained]
    views: tuple[str, ...]
    addable: tuple[Drill, ...]

    def fault(self, fault_id: str) -> Fault:
        return self.catalogue.faults[fault_id]

    def drill(self, drill_id: str) -> Drill:
        return self.catalogue.drills[drill_id]

    def work(self, fault_id: str) -> FocusDrills:
        for work in self.works:
            if work.fault.id == fault_id:
                return work
        raise PlanError("This point is no longer in the plan. Reload the page.")

    def drills_of(self, session: Session) -> list[Drill]:
        """Drills of a session with their instructions, those on land first, each once."""
        return [self.drill(d) for d in dict.fromkeys(_drills(session))]

    def cautions(self, session: Session | None = None) -> list[Caution]:
        """What has to be said once for a session, or for the whole plan."""
        sessions = self.plan.sessions if session is None else [session]
        topics = {"review"}
        for one in sessions:
            topics |= topics_of(
                self.fault(one.focus), self.drills_of(one), self.swimmer.level, self.swimmer.minor
            )
        return self.catalogue.cautions_for(topics)

    def film(self, session: Session) -> list[Shot]:
        """Views to film on this session's day; empty where it is none to film."""
        if not session.film:
            return []
        focus = self.fault(session.focus)
        return refilm([focus], [], self.views, self.catalogue, self.swimmer.schools)

    def word(self, fault_id: str) -> str:
        """One word for the hand."""
        return self.stored.words.get(fault_id) or self.fault(fault_id).word

    def left_out(self) -> list[str]:
        """Drills that are blocked for this swimmer now by pain, in words."""
        found = []
        for work in self.works:
            receiver = receiver_of(self.swimmer)
            given = prescribe(work.fault, self.catalogue, self.stored.found, receiver)
            found += [f"{x.drill.name} ({x.reason})" for x in given.left_out if x.pain]
        return list(dict.fromkeys(found))


def instead_of_drills(plan: SwimmerPlan) -> dict[str, str]:
    """What to do for each point that pain leaves without a drill, by fault."""
    found = {}
    for work in plan.works:
        if not work.drills:
            given = prescribe(
                work.fault, plan.catalogue, plan.stored.found, receiver_of(plan.swimmer)
            )
            if given.instead:
                found[work.fault.id] = given.instead
    return found


def plan_from(judgement: ReviewJudgement, request: PlanRequest, begins_at: str) -> StoredPlan:
    """A plan for the points that were chosen in a review, of whatever stroke, not stored yet."""
    chosen = {r.fault.id: section for section, r in judgement.focuses}
    unknown = [f.fault for f in request.focuses if f.fault not in chosen]
    if unknown:
        raise PlanError("A point of the plan is not chosen in this review. Reload the page.")
    first = chosen[request.focuses[0].fault]
    return StoredPlan(
        swimmer_id=judgement.swimmer.id,
        stroke=first.stroke,
        request=request,
        clip_id=first.clips[0].clip.id,
        review_id=judgement.review.id,
        found=tuple(dict.fromkeys(r.fault.id for s in judgement.strokes for r in s.ranked)),
        drills={f: tuple(d.id for d in s.drills(f)) for f, s in chosen.items()},
        begins_at=begins_at,
    )


def make_plan(
    connection: sqlite3.Connection, judgement: ReviewJudgement, request: PlanRequest,
    begins_at: str = "",
) -> int:  # fmt: skip
    """Store a plan for the points chosen in a review; its id. Raises PlanError for what cannot be.

    begins_at: time of day of its sessions, as in 18:30, or empty.
    """
    wanted = plan_from(judgement, request, begins_at)
    worked_out(connection, wanted, strict=True)
    return plans.add(connection, wanted).id


def strokes_of(plan: SwimmerPlan) -> list[StrokeName]:
    """The plan's stroke, and those of its points that are of another one."""
    found = [plan.stored.stroke]
    for work in plan.works:
        if plan.stored.stroke not in work.fault.strokes:
            found += work.fault.strokes
    return list(dict.fromkeys(found))


def plan_tables(connection: sqlite3.Connection, stored: StoredPlan) -> Catalogue:
    """The tables of the plan's stroke, or of all strokes where its points are of several."""
    own = with_own_points(
        connection, tables_of(connection, stored.stroke), stored.swimmer_id, stored.stroke
    )
    if all(f.fault in own.faults for f in stored.request.focuses):
        return own
    tables = all_tables(connection)
    for stroke in STROKES:
        tables = with_own_points(connection, tables, stored.swimmer_id, stroke)
    return tables


def worked_out(
    connection: sqlite3.Connection, stored: StoredPlan, strict: bool = False
) -> SwimmerPlan:
    """The plan as it is today: with the swimmer's pain, kit and schools, and the coach's drills.

    Repeats that were fixed for drills that are given no more may not fit those of today: then they
    are let go. strict: raise PlanError instead, for a change that is just being made.
    """
    swimmer = swimmers.by_id(connection, stored.swimmer_id)
    catalogue = plan_tables(connection, stored).for_level(swimmer.level)
    gone = [f.fault for f in stored.request.focuses if f.fault not in catalogue.faults]
    if gone:
        raise PlanError(f"The tables have no “{gone[0]}” any more: make a new plan.")
    works = tuple(
        _work(stored, catalogue.faults[f.fault], catalogue, swimmer) for f in stored.request.focuses
    )
    tests = offered_tests(stored.stroke, stored.request.pool, swimmer.kit, swimmer.pain)
    addable = _addable(catalogue, stored.found, swimmer)
    drills = {d.id: d for d in addable}
    try:
        plan = build_plan(stored.request, works, tests, drills)
    except PlanError:
        if strict or not (stored.request.repeats or stored.request.added):
            raise
        plan = build_plan(replace(stored.request, repeats={}, added={}), works, tests)
    views = review_clips.views(connection, stored.review_id) if stored.review_id else ()
    done = plans.trained(connection, stored.id) if stored.id else {}
    plan = _with_frozen(plan, done, catalogue)
    return SwimmerPlan(stored, swimmer, catalogue, works, plan, done, views, addable)


def freeze(session: Session) -> str:
    """A session as it stands, to be kept with what was done of it."""
    return msgspec.json.encode(session).decode()


def _with_frozen(plan: Plan, done: dict[str, Trained], catalogue: Catalogue) -> Plan:
    """The plan with the sessions that were noted as they were then.

    What is changed later, or hurts later, changes nothing of what was swum.
    """

    def kept(session: Session) -> Session:
        trained = done.get(session.key)
        if trained is None or not trained.frozen:
            return session
        was = msgspec.json.decode(trained.frozen, type=Session)
        known = was.focus in catalogue.faults and all(d in catalogue.drills for d in _drills(was))
        return replace(was, week=session.week, on=session.on) if known else session

    return replace(
        plan,
        weeks=tuple(replace(w, sessions=tuple(map(kept, w.sessions))) for w in plan.weeks),
    )


def _drills(session: Session) -> list[str]:
    return [*session.land, *(s.drill for s in session.sets if s.drill)]


def _work(stored: StoredPlan, fault: Fault, catalogue: Catalogue, swimmer: Swimmer) -> FocusDrills:
    """What the coach kept, as far as it still suits; else as prescribed now."""
    receiver = receiver_of(swimmer)
    kept = [
        catalogue.drills[d]
        for d in stored.drills.get(fault.id, ())
        if d in catalogue.drills
        and unsuitable(catalogue.drills[d], catalogue, stored.found, receiver) is None
    ]
    drills = tuple(kept) or prescribe(fault, catalogue, stored.found, receiver).drills
    return FocusDrills(fault, drills, lambda d: effort_of(d, catalogue, swimmer.schools))


def _addable(catalogue: Catalogue, found: Sequence[str], swimmer: Swimmer) -> tuple[Drill, ...]:
    receiver = receiver_of(swimmer)
    suitable = (
        d
        for d in catalogue.drills.values()
        if d.in_lengths and unsuitable(d, catalogue, found, receiver) is None
    )
    return tuple(sorted(suitable, key=lambda d: d.name))
