"""A model swim marked on the page gives the page the numbers that the swim was made from."""

from __future__ import annotations

import re
from dataclasses import replace
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.model.dials import usual_swim
from norvik.model.film import Take, film
from norvik.model.schedule import schedule
from norvik.settings import Settings
from norvik.store import clips, marks, swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.workflow.clip_judgement import judge_clip
from norvik.workflow.clip_timing import time_clip
from tests.uploading import upload


def filmed(client: FlaskClient, settings: Settings, folder: Path, take: Take) -> int:
    """Film a take, bring it in through the page, and mark every event on its nearest frame."""
    path = folder / "swim.mp4"
    plan = film(take, path)
    with connected(settings.database) as connection:
        swimmer = swimmers.add(connection, Swimmer("Tilde Vassholm", level="improver"))
    answer = upload(client, path, swimmer_id=swimmer, stroke=take.swim.stroke, stretch=take.stretch)
    clip_id = int(answer.json["clip"])
    with connected(settings.database) as connection:
        clip = clips.by_id(connection, clip_id)
        base = clips.time_base(connection, clip)
        for m in plan.marks(0.0, base.duration_s):
            frame = base.frame_nearest(m.time_s)
            marks.place(connection, clip_id, 1, frame, m.lane, m.side, m.event)
    return clip_id


@pytest.mark.parametrize(
    ("stroke", "more"),
    [
        ("freestyle", {"stored_fps": 15}),  # slow motion stored in the file
        ("backstroke", {"jitter": 0.4}),  # variable frame rate
        ("breaststroke", {}),
    ],
)
def test_the_rate_on_the_page_is_that_of_the_swim(
    client: FlaskClient, settings: Settings, tmp_path: Path, stroke: str, more: dict[str, float]
) -> None:
    swim = replace(usual_swim(stroke, 40, seed=7), variation=0.0)
    take = Take(swim, seconds=6, fps=30, **more)  # type: ignore[arg-type]
    clip_id = filmed(client, settings, tmp_path, take)
    page = client.get(f"/clips/{clip_id}/").text
    shown = re.search(r'<b class="text-5xl[^"]*">([\d.]+)</b>', page)
    assert shown
    per_cycle = 2 if stroke in ("freestyle", "backstroke") else 1
    assert float(shown.group(1)) == pytest.approx(40 * per_cycle, rel=0.01)
    with connected(settings.database) as connection:
        timed = time_clip(connection, clips.by_id(connection, clip_id))
    u = timed.timing.rate.u_cycles_per_min
    assert u is not None
    assert timed.timing.rate.cycles_per_min == pytest.approx(40, abs=3 * u)
    expected = schedule(swim, 6).marks(0, timed.time_base.duration_s)
    assert len(timed.marks) == len(expected)


def test_a_dial_of_timing_becomes_a_finding(
    client: FlaskClient, settings: Settings, tmp_path: Path
) -> None:
    swim = replace(usual_swim("freestyle", seed=7), variation=0.0, return_s=-0.15, breath_every=2)
    clip_id = filmed(client, settings, tmp_path, Take(swim, seconds=9, fps=30))
    with connected(settings.database) as connection:
        judgement = judge_clip(connection, clips.by_id(connection, clip_id))
    found = {f.id: f for f in judgement.findings if f.kind != "absent"}
    assert found["late-breath"].kind == "fault"
    (judged,) = found["late-breath"].judged
    assert judged.reading.value == pytest.approx(-0.15, abs=0.03)
    assert "breath-held" not in found
