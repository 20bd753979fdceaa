"""Makes the demo data: whole or not at all, through the same doors as a coach's own clips."""

from __future__ import annotations

import json
import os
import shutil
import sqlite3
import tempfile
from collections.abc import Callable
from datetime import date, timedelta
from pathlib import Path

from norvik.core.strokes.events import Mark
from norvik.demo.club import add_club, note_consents
from norvik.demo.measured import measure_alone, measure_clip
from norvik.demo.people import COACH, POOL_M, SIGN_IN, SQUAD, DemoClip, everything
from norvik.demo.swims import add_swim
from norvik.demo.training import add_plan
from norvik.intake.receive import receive
from norvik.jobs.runner import run_through
from norvik.model.film import Shot, Take, film, film_squad, write_beside
from norvik.model.schedule import schedule
from norvik.model.speed import swum_speed
from norvik.settings import Settings
from norvik.store import clips, marks, observations, recordings, reviews, swimmers, users
from norvik.store.clips import Facts
from norvik.store.connection import connected, migrate
from norvik.store.observations import Sighting
from norvik.workflow.clip_judgement import judge_clip
from norvik.workflow.passwords import hash_password
from norvik.workflow.review_judgement import judge_with

#: Films that come with the demo: made by scripts/make-demo-films.py from the takes in people.py.
SHIPPED = Path(__file__).with_name("films")


def make_demo_data(settings: Settings, told: Callable[[str], None]) -> None:
    """Fill an empty data folder with the demo; leaves a folder that holds data alone."""
    if settings.database.exists():
        return
    told("Making the demo, once ...")
    making = settings.data.with_name(settings.data.name + ".making")
    shutil.rmtree(making, ignore_errors=True)
    _fill(Settings(making), told)
    settings.data.mkdir(parents=True, exist_ok=True)
    for item in sorted(making.iterdir(), key=lambda p: p.name == settings.database.name):
        # The database goes last: only with it the folder counts as filled.
        os.replace(item, settings.data / item.name)
    making.rmdir()


def _fill(settings: Settings, told: Callable[[str], None]) -> None:
    settings.prepare()
    migrate(settings.database)
    with connected(settings.database) as connection:
        secret = hash_password(SIGN_IN[1])
        coach = users.add(connection, SIGN_IN[0], COACH, "head-coach", secret)
        for member in SQUAD:
            swimmer_id = swimmers.add(connection, member.swimmer)
            note_consents(connection, swimmer_id, member.swimmer, coach)
            for clip in (c for c in member.clips if c.at_once):
                told(f"  {member.swimmer.name}: {clip.name}")
                _add_clip(settings, connection, coach, swimmer_id, clip)
            if member is SQUAD[0]:
                add_swim(connection, swimmer_id, coach, POOL_M)
        add_club(connection, secret)
        # Everything has to be in the one file that is moved.
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def film_the_rest(settings: Settings) -> None:
    """Film what is still missing of the demo, one clip after the other; can be stopped any time."""
    with connected(settings.database) as connection:
        coach = users.by_email(connection, SIGN_IN[0])
        if coach is None:
            return  # not the demo's data
        there = {r.original_name for r in recordings.everyone(connection)}
        for member, clip in everything():
            if clip.at_once or clip.name in there:
                continue
            swimmer = swimmers.by_name(connection, member.name) if member else None
            if member is None or swimmer is not None:
                swimmer_id = swimmer.id if swimmer else None
                _add_clip(settings, connection, coach.id, swimmer_id, clip)


def _add_clip(
    settings: Settings,
    connection: sqlite3.Connection,
    coach: int,
    swimmer_id: int | None,
    clip: DemoClip,
) -> None:
    filmed_on = (date.today() - timedelta(days=clip.days_ago)).isoformat()
    first = clip.takes[0]
    with tempfile.TemporaryDirectory(dir=settings.incoming) as folder:
        path = Path(folder) / clip.name
        shipped = SHIPPED / clip.name
        if len(clip.takes) > 1:
            film_squad(clip.takes, path)
        elif shipped.is_file():
            shutil.copyfile(shipped, path)
            write_beside(Shot(first), path)
        else:
            film(first, path)
        beside = path.with_suffix(".truth.json")
        truth = json.loads(beside.read_bytes()) if clip.reviewed or clip.measures else None
        facts = Facts(
            swimmer_id,
            stroke=clip.stroke,
            view=first.view,
            role=clip.role,
            filmed_on=filmed_on,
            pool_m=POOL_M,
            pace_s=round(100 / _speed(first), 1) if clip.pace else None,
        )
        with path.open("rb") as stream:
            clip_id, job_id = receive(
                settings, connection, stream, clip.name, facts, stretch=first.stretch,
                created_by=coach,
            )  # fmt: skip
    run_through(settings, job_id)
    if clip.reviewed or clip.marked:
        stored = clips.by_id(connection, clip_id)
        base = clips.time_base(connection, stored)
        planned = schedule(first.swim, first.seconds).marks(
            0.0, base.duration_s, with_shoulder=False
        )
        for m in _from_first_breath(planned):
            frame = base.frame_nearest(m.time_s)
            marks.place(connection, clip_id, coach, frame, m.lane, m.side, m.event)
        if clip.reviewed and truth is not None:
            measure_clip(settings, connection, coach, clip_id, first, truth)
            _review(connection, clip_id)
    if clip.measures and truth is not None:
        measure_alone(connection, coach, clip_id, first, truth, clip.measures)
    _tick(connection, clip_id, clip)


def _tick(connection: sqlite3.Connection, clip_id: int, clip: DemoClip) -> None:
    """Ticks a third into the film; a side where the fault has one."""
    stored = clips.by_id(connection, clip_id)
    frame = stored.first_frame + (stored.last_frame - stored.first_frame) // 3
    for what, side, degree in clip.seen:
        observations.put(connection, clip_id, Sighting(what, side, degree, frame))


def _speed(take: Take) -> float:
    return swum_speed(take.swim.stroke, take.build, schedule(take.swim, take.seconds))


def _from_first_breath(planned: list[Mark]) -> list[Mark]:
    """Without the end of a breath or of bubbles that began before the clip."""
    begun = {"down": "turn", "bubbles-off": "bubbles-on"}
    seen: set[str] = set()
    kept = []
    for m in planned:
        if m.event in begun and begun[m.event] not in seen:
            continue
        seen.add(m.event)
        kept.append(m)
    return kept


def _review(connection: sqlite3.Connection, clip_id: int) -> None:
    """What the coach of the demo ticked, chose and wrote."""
    clip = clips.by_id(connection, clip_id)
    timed = judge_clip(connection, clip).timed
    presses = {
        side: [timed.frame_of(p.time_s) for p in timed.timing.resolved.marks_of("press", side)]
        for side in ("left", "right")
    }
    entries = [timed.frame_of(p.time_s) for p in timed.timing.resolved.openings("right")]
    for seen in (
        Sighting("quiet-head", "", "clear", entries[1]),
        Sighting("loose-recovery", "right", "clear", entries[2]),
        Sighting("short-finish", "right", "slight", presses["right"][1]),
    ):
        observations.put(connection, clip_id, seen)
    judged = judge_with(connection, clip)
    review_id, stroke = judged.review.id, clip.stroke
    found = {r.fault.id for r in judged.stroke(stroke).ranked}
    wanted = [(stroke, f) for f in ("overglide", "late-breath") if f in found]
    reviews.choose(connection, review_id, wanted)
    if "overglide" in found:
        reviews.set_reason(connection, review_id, stroke, "overglide", "ready for it")
    again = date.fromisoformat(clip.filmed_on) + timedelta(weeks=6)
    reviews.set_words(
        connection,
        review_id,
        "You have a lovely long reach. Now let the hands talk to each other: when one lets go, "
        "the other already holds. Only this for three weeks.",
        again.isoformat(),
    )
    reviews.set_done(connection, review_id, True)
    add_plan(connection, clip_id)
