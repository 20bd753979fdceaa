"""Judging over HTTP: sixty findings, eight clips in a review, sixty clips of a swimmer, a squad."""

from __future__ import annotations

import sqlite3
import time
from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction
from pathlib import Path

from tests.browser.serving import Server
from tests.clips import numbered_clip

from bench.figures import line, percentiles
from bench.intake import Browser
from bench.people import add_coach
from norvik.catalogue import load
from norvik.core.prescription.plan import FocusRequest, PlanRequest, Pool
from norvik.intake.receive import receive
from norvik.jobs.runner import run_through
from norvik.model.dials import usual_swim
from norvik.model.schedule import Swim, schedule
from norvik.settings import Settings
from norvik.store import clips, cuts, marks, observations, plans, reviews, swimmers
from norvik.store.clips import Facts
from norvik.store.connection import connected
from norvik.store.observations import Sighting
from norvik.store.swimmers import Swimmer
from norvik.workflow import kept_judgements
from norvik.workflow.plans import plan_from, worked_out
from norvik.workflow.review_judgement import judge_review, judge_with

SECONDS, RATE = 20, 30
FINDINGS, WEEKS = 60, 26
#: Of a review that is judged; of a swimmer, and the reviews that they make.
GATHERED, CLIPS, REVIEWS = 8, 60, 12
_FORM = "application/x-www-form-urlencoded"
#: Marks of each gathered clip, about.
MARKS = 400


def _again(connection: sqlite3.Connection, clip_id: int, swimmer: int, day: date) -> None:
    """The same clip with its marks and ticks, of another swimmer and day, two points chosen."""
    clip = clips.by_id(connection, clip_id)
    part = cuts.add(
        connection, clip.recording.id, None, clip.first_frame, clip.last_frame, swimmer, clip.stroke
    )
    clips.change_facts(connection, [part], filmed_on=day.isoformat())
    for m in marks.of_clip(connection, clip_id):
        marks.place(connection, part, None, m.frame, m.lane, m.side, m.event, m.note)
    for tick in observations.of_clip(connection, clip_id):
        observations.put(connection, part, tick)
    judged = judge_with(connection, clips.by_id(connection, part))
    if not judged.review.focuses:
        ranked = judged.stroke(clip.stroke).ranked
        chosen = [(clip.stroke, r.fault.id) for r in ranked[:2]]
        reviews.choose(connection, judged.review.id, chosen)


def _eight_clips(connection: sqlite3.Connection, clip_id: int, coach: int) -> int:
    """A review of several clips of one day, each with hundreds of marks; its id."""
    clip = clips.by_id(connection, clip_id)
    swimmer = swimmers.add(connection, Swimmer("Swimmer 3", kit=("fins", "buoy")))
    for n in range(GATHERED):
        part = cuts.add(connection, clip.recording.id, None, clip.first_frame, clip.last_frame,
                        swimmer, clip.stroke)  # fmt: skip
        planned = schedule(replace(usual_swim("freestyle", 80, seed=n), beats=10), SECONDS)
        placed: set[tuple[int, str, str, str]] = set()
        for m in planned.marks(0, SECONDS - 0.1):
            at = round(m.time_s * RATE), m.lane, m.side, m.event
            if at not in placed and len(placed) < MARKS:
                marks.place(connection, part, coach, *at)
                placed.add(at)
        for tick in observations.of_clip(connection, clip_id)[n::GATHERED]:
            observations.put(connection, part, tick)
    judged = judge_with(connection, clips.by_id(connection, part))
    first = [("freestyle", r.fault.id) for r in judged.stroke("freestyle").ranked[:2]]
    reviews.choose(connection, judged.review.id, first)
    reviews.set_words(connection, judged.review.id, "Long and calm.", None)
    return judged.review.id


def _judge_anew(connection: sqlite3.Connection, review_id: int) -> None:
    """As after a change of one clip, and as after a start, when nothing is kept."""
    review = reviews.by_id(connection, review_id)
    count = sum(c.marks for c in clips.by_ids(connection, review.clip_ids))
    name = f"review of {GATHERED} clips, {count // GATHERED} marks each"
    for what, goal in (("one clip changed", "p95 under 150"), ("nothing kept", "")):
        times = []
        for n in range(40):
            if what == "nothing kept":
                kept_judgements.forget()
            else:
                clip_id = review.clip_ids[n % GATHERED]
                degree = observations.DEGREES[n // GATHERED % 2]
                observations.put(connection, clip_id, Sighting("crossing", "left", degree, 9))
            began = time.perf_counter()
            judged = judge_review(connection, reviews.by_id(connection, review_id))
            assert judged.stroke("freestyle").ranked
            times.append(1000 * (time.perf_counter() - began))
        line(f"judging a {name}: {what}", percentiles(times), goal)


def _squad_ticks(browser: Browser, clip_id: int) -> None:
    """A tick on the squad sheet until the server has said that it is kept."""
    times = []
    for n in range(60):
        degree = ("clear", "slight", "")[n % 3]
        form = f"clip={clip_id}&what=crossing&side=left&degree={degree}&frame=9".encode()
        began = time.perf_counter()
        status, _, _ = browser.send("POST", "/recordings/1/squad/tick", form, Content_Type=_FORM)
        times.append(1000 * (time.perf_counter() - began))
        assert status == 200, status
    line("squad sheet: a tick acknowledged", percentiles(times), "p95 under 60")


def run(room: Path) -> None:
    settings = Settings(room / "judging")
    coach = add_coach(settings)
    with connected(settings.database) as connection:
        swimmer = swimmers.add(connection, Swimmer("Swimmer 1", kit=("fins", "buoy")))
        film = numbered_clip(room / "judged.mp4", [n / RATE for n in range(SECONDS * RATE)])
        with film.open("rb") as stream:
            clip_id, job = receive(settings, connection, stream, film.name,
                                   Facts(swimmer, filmed_on="2026-11-20"), stretch=1)  # fmt: skip
        run_through(settings, job)
        for m in schedule(Swim(seed=2), SECONDS).marks(0, SECONDS - 0.1):
            marks.place(connection, clip_id, coach, round(m.time_s * RATE), m.lane, m.side, m.event)
        tables = load("freestyle")
        for n, name in enumerate([*tables.faults, *tables.strengths]):
            point = tables.faults.get(name) or tables.strengths[name]
            for side in ("left", "right") if point.sided and n % 2 else ("",):
                observations.put(connection, clip_id, Sighting(name, side, "clear", 10 * n % 500))
        whole = judge_with(connection, clips.by_id(connection, clip_id))
        judgement = whole.stroke("freestyle")
        found = [f for f in judgement.findings if f.kind != "strength"]
        assert len(found) >= FINDINGS, len(found)
        first = [("freestyle", r.fault.id) for r in judgement.ranked[:3]]
        reviews.choose(connection, whole.review.id, first)
        chosen = judge_with(connection, clips.by_id(connection, clip_id))
        starts = date(2026, 11, 30)
        request = PlanRequest(
            starts, (0, 1, 2, 3, 4), Pool(Fraction(25)),
            tuple(FocusRequest(r.fault.id) for _, r in chosen.focuses), metres=4000,
            aim_on=starts + timedelta(weeks=WEEKS, days=-1),
        )  # fmt: skip
        stored = plans.add(connection, plan_from(chosen, request, "18:30"))
        times = []
        for _ in range(60):
            began = time.perf_counter()
            made = worked_out(connection, stored)
            times.append(1000 * (time.perf_counter() - began))
        assert len(made.plan.weeks) == WEEKS
        sessions = len(made.plan.sessions)
        line(f"plan of {WEEKS} weeks, {sessions} sessions", percentiles(times), "under 50")
        followed = swimmers.add(connection, Swimmer("Swimmer 2", kit=("fins", "buoy")))
        for n in range(CLIPS):
            day = starts - timedelta(weeks=4 * (n * REVIEWS // CLIPS))
            _again(connection, clip_id, followed, day)
        gathered = _eight_clips(connection, clip_id, coach)
        _judge_anew(connection, gathered)
    server = Server(settings)
    try:
        browser = Browser(server)
        for name, path, goal in (
            (f"judge page, {len(found)} findings", f"/clips/{clip_id}/judge/", "p95 under 120"),
            ("causes, the same clip", f"/clips/{clip_id}/causes/", ""),
            (f"page of the plan of {WEEKS} weeks", f"/plans/{stored.id}/", ""),
            ("review page of eight clips", f"/reviews/{gathered}/", "p95 under 200"),
            ("swimmer's page, one judged clip", f"/swimmers/{swimmer}", ""),
            (
                f"  the same, {CLIPS} clips in {REVIEWS} reviews",
                f"/swimmers/{followed}",
                "p95 under 150",
            ),
        ):
            times = []
            for _ in range(60):
                began = time.perf_counter()
                status, _, _ = browser.send("GET", path, b"")
                times.append(1000 * (time.perf_counter() - began))
                assert status == 200, status
            line(name, percentiles(times), goal)
        _squad_ticks(browser, clip_id)
    finally:
        server.stop()
