"""The plan: focuses over weeks, sessions on days, film dates and pool tests."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

from norvik.core.errors import PlanError
from norvik.core.judging.coaching_model import Drill
from norvik.core.prescription.plan.request import LEAST_WEEKS, MOST_WEEKS, PlanRequest
from norvik.core.prescription.plan.sets import (
    ADDED,
    FocusDrills,
    Set,
    block,
    block_lengths,
    fitting,
    total,
)
from norvik.core.prescription.pool_tests import PoolTest

#: A pool test every four to six weeks, when rested (common practice).
LEAST_WEEKS_APART, MOST_WEEKS_APART = 4, 6


@dataclass(frozen=True, slots=True)
class Session:
    """key: stays the same when other things change. focus: fault id. land: ids of land drills.

    film: film again on this day. moved: by the coach.
    """

    key: str
    week: int
    on: date
    focus: str
    sets: tuple[Set, ...]
    land: tuple[str, ...] = ()
    film: bool = False
    test: PoolTest | None = None
    moved: bool = False

    @property
    def lengths(self) -> int:
        return total(self.sets)


@dataclass(frozen=True, slots=True)
class Week:
    """monday: its first day. focus: None where all earlier ones are kept alive in turn."""

    number: int
    monday: date
    focus: str | None
    sessions: tuple[Session, ...]


@dataclass(frozen=True)
class Plan:
    """waiting: focuses for which there is no time before the aim."""

    request: PlanRequest
    weeks: tuple[Week, ...]
    session_lengths: int
    waiting: tuple[str, ...]

    @property
    def sessions(self) -> list[Session]:
        return [s for w in self.weeks for s in w.sessions]

    def session(self, key: str) -> Session:
        """Raises PlanError for a key that is not in this plan."""
        for session in self.sessions:
            if session.key == key:
                return session
        raise PlanError("This session is no longer in the plan. Reload the page.")

    def spans(self) -> list[tuple[str, int, int]]:
        """Fault id, first and last week of each focus, in their order."""
        found: list[tuple[str, int, int]] = []
        for week in self.weeks:
            if week.focus is None:
                continue
            if found and found[-1][0] == week.focus:
                found[-1] = (week.focus, found[-1][1], week.number)
            else:
                found.append((week.focus, week.number, week.number))
        return found


def build_plan(
    request: PlanRequest,
    works: Sequence[FocusDrills],
    tests: Sequence[PoolTest] = (),
    drills: Mapping[str, Drill] | None = None,
) -> Plan:
    """Lay out a plan.

    works: the focuses with their drills, in the order of the request. drills: those that suit the
    swimmer now, by id; sets that were added with another one rest.

    A focus whose every drill is blocked still gets its weeks with swim-offs alone. Raises
    PlanError when the works do not belong to the request or fixed sets do not fit.
    """
    if [w.fault.id for w in works] != [f.fault for f in request.focuses]:
        raise PlanError("The points of this plan have changed. Reload the page.")
    lengths = request.session_lengths
    size = block_lengths(lengths, request.pool)
    # Of each focus: no longer than its drills can fill.
    sizes = [fitting(size, lengths, request.pool, work) for work in works]
    shares, waiting = _shares(request)
    focus_of: list[int | None] = [n for n, weeks in enumerate(shares) for _ in range(weeks)]
    known = len(focus_of)
    in_all = request.weeks_until_aim or known
    focus_of = (focus_of + [None] * in_all)[:in_all]
    weeks = []
    last_test = -MOST_WEEKS_APART
    tested = 0
    for number, focus in enumerate(focus_of):
        begins = number == 0 or focus_of[number - 1] != focus
        since = number - last_test
        test = None
        if tests and ((begins and since >= LEAST_WEEKS_APART) or since >= MOST_WEEKS_APART):
            test = tests[tested % len(tests)]
            tested, last_test = tested + 1, number
        earlier = list(range(len(shares) if focus is None else focus))
        week = _week_of(focus_of, number)
        weeks.append(_week(request, works, number, focus, week, earlier, sizes, test, drills or {}))
    return Plan(request, tuple(_with_film(weeks)), lengths, waiting)


def _shares(request: PlanRequest) -> tuple[list[int], tuple[str, ...]]:
    """Weeks of each focus, and the focuses that have to wait.

    Three weeks each where there is time, two where there is not; what the coach set stays.
    """
    in_all = request.weeks_to_train
    if in_all is None:
        return [f.weeks or MOST_WEEKS for f in request.focuses], ()
    shares: list[int] = []
    for n, focus in enumerate(request.focuses):
        left = in_all - sum(shares)
        others = [f.weeks or LEAST_WEEKS for f in request.focuses[n + 1 :]]
        wanted = focus.weeks
        if wanted is None:
            wanted = MOST_WEEKS if left >= MOST_WEEKS + sum(others) else LEAST_WEEKS
        if wanted > left:
            # The first focus always has what there is: better a short block than none.
            if shares:
                break
            wanted = left
        shares.append(wanted)
    return shares, tuple(f.fault for f in request.focuses[len(shares) :])


def _week_of(focus_of: Sequence[int | None], number: int) -> int:
    """Which week of its focus this is, from 0."""
    at = number
    while at and focus_of[at - 1] == focus_of[number]:
        at -= 1
    return number - at


def _week(
    request: PlanRequest, works: Sequence[FocusDrills], number: int, focus: int | None, week: int,
    earlier: list[int], sizes: list[int], test: PoolTest | None, drills: Mapping[str, Drill],
) -> Week:  # fmt: skip
    monday = request.monday + timedelta(weeks=number)
    days = _days(request, number)
    sessions: list[Session] = []
    for n, (key, on) in enumerate(days):
        # With no focus of its own a week keeps the earlier ones alive, session by session.
        own = focus if focus is not None else earlier[(number + n) % len(earlier)]
        # One set a week for an earlier focus, in the week's last session.
        keep = None
        older = [e for e in earlier if e != own and works[e].in_water]
        if older and n == len(days) - 1:
            keep = works[older[number % len(older)]]
        work = works[own]
        added = [
            (ADDED + at, drills[drill], repeats)
            for at, (drill, repeats) in enumerate(request.added.get(key, ()))
            if drill in drills
        ]
        sets = block(sizes[own], request.pool, work, week, keep, request.repeats.get(key), added,
                     turn=week * len(days) + n)  # fmt: skip
        land = tuple(d.id for d in work.on_the_spot)
        sessions.append(
            Session(key, number + 1, on, work.fault.id, tuple(sets), land,
                    test=test if not sessions else None, moved=key in request.moves)
        )  # fmt: skip
    sessions.sort(key=lambda s: s.on)
    return Week(number + 1, monday, works[focus].fault.id if focus is not None else None,
                tuple(sessions))  # fmt: skip


def _days(request: PlanRequest, number: int) -> list[tuple[str, date]]:
    """Keys and days of a week's sessions: where they were moved to, else inside the plan alone."""
    monday = request.monday + timedelta(weeks=number)
    found = []
    for n, weekday in enumerate(sorted(set(request.weekdays))):
        key, day = f"{number + 1}-{n + 1}", monday + timedelta(days=weekday)
        if key in request.moves:
            found.append((key, request.moves[key]))
        elif day >= request.starts_on and (request.aim_on is None or day < request.aim_on):
            found.append((key, day))
    return found


def _with_film(weeks: list[Week]) -> list[Week]:
    """The last session of each focus is the one to film; its last week may have none."""
    last: dict[str, Session] = {}
    for week in weeks:
        if week.focus is not None and week.sessions:
            newest = max(week.sessions, key=lambda s: s.on)
            before = last.get(week.focus)
            last[week.focus] = newest if before is None or newest.on > before.on else before
    keys = {s.key for s in last.values()}
    return [
        replace(w, sessions=tuple(replace(s, film=s.key in keys) for s in w.sessions))
        for w in weeks
    ]
