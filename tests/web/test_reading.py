"""Reading a film through the pages: asked for, read by the job, shown as proposed, confirmed."""

from __future__ import annotations

import json
import math
import re
from pathlib import Path

import msgspec
import numpy as np
import pytest
from flask.testing import FlaskClient

from norvik.core.errors import ReadingError
from norvik.core.frame.geometry import Point
from norvik.jobs import read_clip
from norvik.jobs.idle_reading import read_when_idle
from norvik.jobs.queue import JobQueue
from norvik.jobs.runner import run_job
from norvik.model.dials import usual_swim
from norvik.model.film import Shot, Take, film
from norvik.model.schedule import schedule
from norvik.reading.network import JOINTS, LitePose
from norvik.settings import Settings
from norvik.store import clips, club, drawings, jobs, marks, readings
from norvik.store.connection import connected
from norvik.store.drawings import StoredDrawing
from norvik.store.readings import Reading
from norvik.store.swimmers import Swimmer
from norvik.work import read as job_module
from norvik.work.read import FilmRead, MeasureRead
from norvik.work.report import JobGivesWay
from norvik.work_names import PREPARE, READ
from norvik.workflow.first_answer import first_answer
from tests.conftest import BroughtIn
from tests.read_clips import body_lines, read

TAKE = Take(usual_swim("butterfly", 52, 3), seconds=6.5, fps=30)


@pytest.fixture(scope="module")
def swum(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("reading") / "butterfly.mp4"
    film(TAKE, path)
    return path


@pytest.fixture
def clip(client: FlaskClient, settings: Settings, swum: Path, brought_in: BroughtIn) -> int:
    facts = {"view": "side-under", "stroke": "butterfly"}
    return brought_in(settings, [Swimmer("Tilde Vassholm")], (swum, facts))[0]


#: What was read of the film, once for all tests that only need the answer.
_READ: list[tuple[Reading, readings.Poses | None]] = []


@pytest.fixture
def told(client: FlaskClient, clip: int, settings: Settings) -> Reading:
    """The clip's reading, as its job left it."""
    with connected(settings.database) as connection:
        if not _READ:
            client.post("/clips/1/reading/")
            found = readings.of_clip(connection, 1)
            assert found is not None
            _READ.append((found, readings.poses_of(connection, 1, 1 + 3 * len(JOINTS))))
        readings.put(connection, 1, *_READ[0])
    return _READ[0][0]


def no_network() -> LitePose:
    raise ReadingError("The package ai-edge-litert is not installed.")


def true_events() -> list[tuple[str, float]]:
    return [(m.event, m.time_s) for m in schedule(TAKE.swim, 6.5).marks(0, 6.5) if m.lane == "arm"]


def test_a_film_is_read_shown_and_confirmed(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    """From the button to marks that lie where the model truly was."""
    page = client.get("/clips/1/").text
    assert "Norvik can read this film" in page
    card = client.post("/clips/1/reading/").text
    assert "From the film, not confirmed" in card
    rate = float(re.search(r">([\d.]+)</b> <span>cycles/min", card).group(1))  # type: ignore[union-attr]
    assert rate == pytest.approx(52, abs=1.0)
    page = client.get("/clips/1/").text
    assert 'class="pale"' in page
    assert "No marks" not in card
    with connected(settings.database) as connection:
        assert marks.of_clip(connection, 1) == []
    answer = client.post("/clips/1/reading/take", data={"what": "clip", "frame": 0}).text
    assert re.search(r"\d+ marks of this clip confirmed", answer)
    assert "From the film" not in answer
    with connected(settings.database) as connection:
        placed = [(m.event, m.frame / 30) for m in marks.of_clip(connection, 1) if m.lane == "arm"]
    true = true_events()
    near = [min(abs(t - at) for e, t in true if e == event) <= 0.1 for event, at in placed]
    assert len(placed) >= 0.8 * len(true)
    assert np.mean(near) >= 0.85


def test_places_of_the_joints_are_kept_in_pixels_of_the_source(
    told: Reading, settings: Settings
) -> None:
    with connected(settings.database) as connection:
        rows = readings.poses_of(connection, 1, 1 + 3 * len(JOINTS))
    assert rows is not None
    assert len(rows) > 150
    assert set(np.diff(rows[:, 0])) >= {1.0}
    assert 300 < np.median(rows[:, 1]) < 1280
    assert ((rows[:, 3::3] >= 0) & (rows[:, 3::3] <= 1)).all()


def test_the_library_and_the_cutting_page_know_what_was_read(
    client: FlaskClient, told: Reading, settings: Settings
) -> None:
    assert re.search(r"≈ 5[123] cycles/min", client.get("/library/").text)
    page = client.get("/recordings/1/cut/").text
    assert "Somebody swims here" in page
    assert "looks like butterfly" in page
    first, last = (
        int(v)
        for v in re.search(r'data-first="(\d+)" data-last="(\d+)"', page).groups()  # type: ignore[union-attr]
    )
    assert last - first > 120
    cut = client.post(
        "/recordings/1/cut/parts", data={"first": first, "last": last, "stroke": "butterfly"}
    ).text
    assert "Part cut out" in cut
    assert "Somebody swims here" not in cut


def test_a_wrong_stroke_is_asked_about(
    client: FlaskClient, told: Reading, settings: Settings
) -> None:
    assert "This looks like" not in client.get("/clips/1/").text
    wrong = msgspec.structs.replace(told.read_as, stroke="freestyle")
    with connected(settings.database) as connection:
        connection.execute("UPDATE clips SET stroke = 'freestyle'")
        readings.put(connection, 1, msgspec.structs.replace(told, read_as=wrong), None)
    assert "This looks like butterfly." in client.get("/clips/1/").text


def test_the_swimmer_who_is_shown_is_read_from_that_frame_on(
    client: FlaskClient, clip: int, settings: Settings
) -> None:
    shot = Shot(TAKE)
    head, hips = (shot.camera.project(shot.joints[j][40]) for j in ("crown", "pelvis"))
    points = f"{head[0]:.0f},{head[1]:.0f} {hips[0]:.0f},{hips[1]:.0f}"
    client.post("/clips/1/reading/", data={"frame": 40, "points": points})
    with connected(settings.database) as connection:
        rows = readings.poses_of(connection, 1, 1 + 3 * len(JOINTS))
        found = readings.of_clip(connection, 1)
    assert rows is not None
    assert rows[0, 0] == 40
    assert found is not None
    assert found.seen > 0.8
    refused = client.post("/clips/1/reading/", data={"frame": 9999, "points": points})
    assert refused.status_code in (404, 422)
    assert (
        client.post("/clips/1/reading/", data={"frame": 40, "points": "9999,1 2,2"}).status_code
        == 422
    )


def test_a_wrong_click_loses_no_proposal(
    client: FlaskClient, told: Reading, settings: Settings
) -> None:
    """Where nobody swims nobody is followed, and what was read before stays."""
    card = client.post("/clips/1/reading/", data={"frame": 40, "points": "1200,690 1270,700"}).text
    assert "could not be followed. The proposals from before are kept." in card
    assert "From the film, not confirmed" in card
    with connected(settings.database) as connection:
        assert readings.of_clip(connection, 1) == told


def test_a_film_from_the_front_tells_its_rate_on_the_page(
    client: FlaskClient, settings: Settings, tmp_path: Path, brought_in: BroughtIn
) -> None:
    """No event can be told from there; the rate can, and the library shows it, too."""
    take = Take(usual_swim("butterfly", 48, 5), seconds=5, fps=30, view="front-under")
    film(take, tmp_path / "front.mp4")
    facts = {"view": "front-under", "stroke": "butterfly"}
    brought_in(settings, [Swimmer("Tilde Vassholm")], (tmp_path / "front.mp4", facts))
    assert "Norvik can read this film" in client.get("/clips/1/").text
    client.post("/clips/1/reading/")
    with connected(settings.database) as connection:
        found = readings.of_clip(connection, 1)
        assert found is not None
        assert found.cycle is not None
        assert found.cycle.seconds == pytest.approx(60 / 48, rel=0.02)
        # By itself it is read once, not again and again.
        assert read_when_idle(settings, JobQueue(settings, run_job, immediate=True)) is None
    card = client.get("/clips/1/reading/").text
    assert "From the film, not confirmed" in card
    assert re.search(r">4[78]\.\d</b> <span>cycles/min", card)
    assert "Can't tell events" in card


def test_without_the_package_the_clip_works_and_says_why(
    client: FlaskClient, clip: int, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(job_module, "LitePose", no_network)
    assert "ai-edge-litert is not installed" in client.post("/clips/1/reading/").text
    assert client.get("/clips/1/").status_code == 200


def test_reading_lets_a_review_copy_go_first(
    client: FlaskClient, clip: int, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    with connected(settings.database) as connection:
        job = jobs.add(connection, READ, {"clip_id": 1}, None)
        waiting = jobs.add(connection, PREPARE, {"recording_id": 1}, 1)
        assert run_job(settings, job) == job
        assert jobs.by_id(connection, job).state == "queued"
        jobs.ask_cancel(connection, waiting)
        monkeypatch.setattr(job_module, "LitePose", no_network)
        assert run_job(settings, job) is None
        assert jobs.by_id(connection, job).state == "done"
    assert issubclass(JobGivesWay, Exception)


def test_an_idle_machine_reads_what_was_never_read_once(
    client: FlaskClient, clip: int, settings: Settings, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(job_module, "LitePose", no_network)
    queue = JobQueue(settings, run_job, immediate=True)
    with connected(settings.database) as connection:
        club.set_reads_films(connection, False)
        assert read_when_idle(settings, queue) is None
        club.set_reads_films(connection, True)
        other = jobs.add(connection, PREPARE, {"recording_id": 1}, 1)
        assert read_when_idle(settings, queue) is None
        jobs.ask_cancel(connection, other)
        job = read_when_idle(settings, queue)
        assert job is not None
        assert jobs.by_id(connection, job).state == "done"
        assert read_when_idle(settings, queue) is None
        # What was stopped is not begun again by itself.
        connection.execute("DELETE FROM readings")
        connection.execute("UPDATE jobs SET state = 'cancelled' WHERE id = ?", (job,))
        assert read_when_idle(settings, queue) is None


def test_yes_no_and_not_sure_are_kept(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn, small_clip: Path
) -> None:
    brought_in(settings, [Swimmer("Tilde Vassholm")], (small_clip, {"view": "side-under"}))
    with connected(settings.database) as connection:
        timed = read(connection)
        first = first_answer(connection, timed)
    assert first is not None
    what, side = first.look[0].finding.id, first.look[0].finding.side
    page = client.get("/clips/1/").text
    assert "Look at first" in page
    assert first.look[0].finding.title in page
    said = client.post(
        "/clips/1/reading/answer", data={"what": what, "side": side, "said": "unsure"}
    ).text
    assert len(re.findall(r'aria-pressed="true" [^>]*>Not sure', said)) == 1
    wrong = client.post("/clips/1/reading/answer", data={"what": what, "said": "perhaps"})
    assert wrong.status_code == 422


def test_least_sure_first_is_an_order_of_the_same_proposals(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn, small_clip: Path
) -> None:
    brought_in(settings, [Swimmer("Tilde Vassholm")], (small_clip, {"view": "side-under"}))
    with connected(settings.database) as connection:
        read(connection)
        found = readings.of_clip(connection, 1)
        assert found is not None
        events = [
            msgspec.structs.replace(e, confidence=0.2 if n == 9 else 0.9)
            for n, e in enumerate(found.events)
        ]
        readings.put(connection, 1, msgspec.structs.replace(found, events=tuple(events)), None)

    def proposed(address: str) -> list[list[object]]:
        text = client.get(address).text
        state = re.search(r'data-part="state">(.*?)</script>', text)
        assert state is not None
        return list(json.loads(state.group(1))["proposals"])

    in_time, by_doubt = proposed("/clips/1/rope"), proposed("/clips/1/rope?order=doubt")
    assert by_doubt[0][4] == 0.2
    assert sorted(map(str, in_time)) == sorted(map(str, by_doubt))
    assert [p[0] for p in in_time] == sorted(p[0] for p in in_time)


def test_the_club_switches_reading_off(client: FlaskClient, clip: int, settings: Settings) -> None:
    client.post("/club/reading", data={})
    with connected(settings.database) as connection:
        assert not club.reads_films(connection)
    client.post("/club/reading", data={"wanted": "yes"})
    with connected(settings.database) as connection:
        assert club.reads_films(connection)
    assert "Read new films" in client.get("/club/").text


def test_measures_that_were_off_too_often_are_switched_off(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn, small_clip: Path
) -> None:
    """The club sees how far they were off; the next film is read without them and says why."""
    facts = {"view": "side-under", "stroke": "freestyle"}
    brought_in(settings, [Swimmer("Tilde Vassholm")], (small_clip, facts))
    proposals = body_lines(*range(2, 90, 10))
    ankle = 60 + 100 * math.tan(math.radians(25))
    with connected(settings.database) as connection:
        read(connection, measures=proposals)
        for one in proposals[:8]:
            points = (Point(180, 60), Point(80, ankle), Point(80, ankle))
            drawings.add(connection, 1, None, StoredDrawing(
                0, "measure", "body-line", "", one.frame, one.frame, one.frame, points
            ))  # fmt: skip
        clip = clips.by_id(connection, 1)
        job = jobs.by_id(connection, jobs.add(connection, READ, {"clip_id": 1}, None))
        again = FilmRead(
            1.0, None, (), {}, None, (), None,
            (MeasureRead(8, "body-line", "", proposals[0].points, 1.4),),
        )  # fmt: skip
        read_clip.keep(connection, settings, job, again)
        found = readings.of_clip(connection, clip.id)
        assert found is not None
        assert found.measures == ()
        assert "switched off" in found.reasons["body line from the horizontal"]
        # The tally rests on what was proposed: back with it, for what the club sees.
        read(connection, measures=proposals)
    page = client.get("/club/").text
    assert "How far proposed measures were off" in page
    assert "switched off" in page
    table = client.get("/club/reading-measures.csv").text.splitlines()
    assert table[0] == "view,measure,unit,corrections,bias,spread,outside_u95,proposed"
    assert table[1].startswith("side-under,body-line,°,8,11.0")
    assert table[1].endswith(",no")
