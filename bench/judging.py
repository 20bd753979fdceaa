"""The judge page with sixty findings, over HTTP, and a plan of half a year."""

from __future__ import annotations

import sqlite3
import time
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
from norvik.model.schedule import Swim, schedule
from norvik.settings import Settings
from norvik.store import clips, cuts, marks, observations, plans, reviews, swimmers
from norvik.store.clips import Facts
from norvik.store.connection import connected
from norvik.store.observations import Sighting
from norvik.store.swimmers import Swimmer
from norvik.workflow.clip_judgement import judge_clip
from norvik.workflow.plans import plan_from, worked_out

SECONDS, RATE = 20, 30
FINDINGS, WEEKS, CLIPS = 60, 26, 12


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
    ranked = judge_clip(connection, clips.by_id(connection, part)).ranked
    reviews.choose(connection, part, [r.fault.id for r in ranked[:2]])


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
        judgement = judge_clip(connection, clips.by_id(connection, clip_id))
        found = [f for f in judgement.findings if f.kind != "strength"]
        assert len(found) >= FINDINGS, len(found)
        reviews.choose(connection, clip_id, [r.fault.id for r in judgement.ranked[:3]])
        chosen = judge_clip(connection, clips.by_id(connection, clip_id))
        starts = date(2026, 11, 30)
        request = PlanRequest(
            starts, (0, 1, 2, 3, 4), Pool(Fraction(25)),
            tuple(FocusRequest(f.fault.id) for f in chosen.focuses), metres=4000,
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
            _again(connection, clip_id, followed, starts - timedelta(weeks=4 * n))
    server = Server(settings)
    try:
        browser = Browser(server)
        for name, path, goal in (
            (f"judge page, {len(found)} findings", f"/clips/{clip_id}/judge/", "p95 under 120"),
            ("causes, the same clip", f"/clips/{clip_id}/causes/", ""),
            (f"page of the plan of {WEEKS} weeks", f"/plans/{stored.id}/", ""),
            ("swimmer's page, one judged clip", f"/swimmers/{swimmer}", ""),
            (f"  the same with {CLIPS} judged clips", f"/swimmers/{followed}", "p95 under 120"),
        ):
            times = []
            for _ in range(60):
                began = time.perf_counter()
                status, _, _ = browser.send("GET", path, b"")
                times.append(1000 * (time.perf_counter() - began))
                assert status == 200, status
            line(name, percentiles(times), goal)
    finally:
        server.stop()
