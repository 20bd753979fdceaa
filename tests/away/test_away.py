"""Workers on other machines: jobs as data, films from the store, results kept by the house."""

from __future__ import annotations

import pickle
import threading
import time
from dataclasses import asdict, replace
from fractions import Fraction
from pathlib import Path

import av
import msgspec
import numpy as np
import pytest
import redis
from huey.registry import Message

from norvik.away import wire
from norvik.away.desk import AwayDesk
from norvik.away.worker import NoAnswerError
from norvik.core.errors import FootageError
from norvik.files.opened import footage_of
from norvik.footage import review_copy
from norvik.house.doctor import examine
from norvik.jobs import report as report_module
from norvik.jobs.queue import PlainSerializer
from norvik.jobs.recovery import recover
from norvik.jobs.report import Pulse
from norvik.jobs.runner import run_through
from norvik.model.dials import usual_swim
from norvik.model.film import Take, film
from norvik.model.wish import ModelWish
from norvik.reading.network import JOINTS
from norvik.store import clips, jobs, made_films, readings, recordings, tracks
from norvik.store.recordings import Recording
from norvik.store.trash import put as put_in_trash
from norvik.work.follow import Follow
from norvik.work.kinds import WORK
from norvik.work.report import Report
from norvik.work_names import FILM_MODEL, FOLLOW, PREPARE, READ
from norvik.workflow.review_judgement import review_of
from norvik.workflow.talk.films import ask_for, clip_wish
from tests.away.conftest import House, Wait
from tests.clips import numbered_clip, read_number

TAKE = Take(usual_swim("freestyle", 45, 3), seconds=4, fps=30)


@pytest.fixture(scope="module")
def swum(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("away") / "freestyle.mp4"
    film(TAKE, path)
    return path


@pytest.fixture(autouse=True)
def _whole_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(review_copy, "FIRST_STRETCH_S", 1000.0)


def state(house: House, job_id: int) -> str:
    return jobs.by_id(house.connection, job_id).state


def test_a_recording_is_prepared_away_as_it_is_at_home(
    house: House, small_clip: Path, until: Wait
) -> None:
    clip_id, job_id = house.bring_in(small_clip)
    house.worker().run(job_id)
    until(lambda: state(house, job_id) == "done", "the result was not kept")
    clip = clips.by_id(house.connection, clip_id)
    assert (clip.state, clip.recording.frames) == ("ready", 90)
    assert clips.time_base(house.connection, clip).frames == 90
    footage = footage_of(house.settings)
    with av.open(str(footage.at_hand(str(clip.recording.review_path)))) as copy:
        numbers = [read_number(f.to_ndarray(format="bgr24")) for f in copy.decode(video=0)]
    assert numbers == list(range(90))
    assert footage.has("pictures/poster-1.jpg")
    assert footage.has("pictures/strip-1.jpg")
    # What the worker touched: films, and its own scratch folder, which is empty again.
    assert not list(house.away.data.rglob("*sqlite*"))
    assert list(house.away.work.iterdir()) == []
    assert recordings.by_id(house.connection, 1) == _prepared_at_home(house, job_id)


def _prepared_at_home(house: House, job_id: int) -> Recording:
    house.connection.execute("UPDATE recordings SET state = 'waiting', frames = 0, width = NULL")
    again = jobs.add(house.connection, PREPARE, jobs.by_id(house.connection, job_id).args, 1)
    run_through(house.settings, again)
    return recordings.by_id(house.connection, 1)


@pytest.mark.parametrize("footage_at", ["folder"], indirect=True)
def test_points_are_followed_films_read_and_made_away_as_they_are_at_home(
    house: House, swum: Path, until: Wait
) -> None:
    clip_id, job_id = house.bring_in(swum)
    connection, worker = house.connection, house.worker()

    def both(kind: str, args: dict[str, object], told) -> list[object]:  # type: ignore[no-untyped-def]
        """What is kept of a job done away, and of the same job done at home."""
        kept = []
        away = jobs.add(connection, kind, args, None)
        worker.run(away)
        until(lambda: state(house, away) != "running", f"{kind} was not kept")
        assert jobs.by_id(connection, away).failure is None
        kept.append(told())
        home = jobs.add(connection, kind, args, None)
        run_through(house.settings, home)
        return [*kept, told()]

    worker.run(job_id)
    until(lambda: clips.by_id(connection, clip_id).state == "ready", "not prepared")
    track = tracks.open_track(connection, clip_id, None, "elbow", "right")
    tracks.set_anchor(connection, track, 10, *_joint(swum, "right_elbow", 10))
    args = {"clip_id": clip_id, "track_id": track, "frame": 10, "to": 60}
    one, other = both(FOLLOW, args, lambda: tracks.points_of(connection, track))
    assert len(one) > 20
    assert one == other
    one, other = both(READ, {"clip_id": clip_id}, lambda: readings.of_clip(connection, clip_id))
    assert one.events
    assert one == other
    poses = readings.poses_of(connection, clip_id, 1 + 3 * len(JOINTS))
    assert poses is not None
    assert len(poses) > 100
    wish = ModelWish("freestyle", "side-under", "", 79, 30)
    both(FILM_MODEL, asdict(wish), lambda: None)
    assert footage_of(house.settings).has(f"model-films/{wish.name}.mp4")
    clip = clips.by_id(connection, clip_id)
    review = review_of(connection, clip)
    wanted = clip_wish(connection, review.id, clip, "clip", "wide", 0) | {"what": "drill"}
    job = ask_for(connection, wanted)
    assert job is not None
    worker.run(job)
    until(lambda: state(house, job) != "running", "no film")
    assert jobs.by_id(connection, job).failure is None
    found = made_films.find(connection, wanted)
    assert found is not None
    with av.open(str(footage_of(house.settings).at_hand(found.path))) as sent:
        assert sum(1 for _ in sent.decode(video=0)) > 100
    assert footage_of(house.away).at_hand(found.path).stat().st_size == found.bytes


def _joint(path: Path, joint: str, frame: int) -> tuple[float, float]:
    told = msgspec.json.decode(path.with_suffix(".truth.json").read_bytes())
    x, y = told["joints_px"][joint][frame]
    return x, y


def test_a_long_recording_opens_at_once_and_its_rest_is_put_into_the_queue(
    house: House, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, until: Wait
) -> None:
    monkeypatch.setattr(review_copy, "FIRST_STRETCH_S", 0.0)
    monkeypatch.setattr(review_copy, "NEXT_STRETCH_S", 0.0)
    clip_id, job_id = house.bring_in(
        numbered_clip(tmp_path / "long.mp4", [n / 60 for n in range(200)])
    )
    worker = house.worker()
    worker.run(job_id)
    until(lambda: clips.by_id(house.connection, clip_id).state == "opening", "it did not open")
    until(lambda: house.queue.waiting() == 1, "the rest is not asked for")
    worker.run(job_id + 1)
    until(lambda: clips.by_id(house.connection, clip_id).state == "ready", "not whole")
    assert clips.by_id(house.connection, clip_id).recording.frames == 200


def test_a_film_that_cannot_be_read_fails_with_its_sentence_and_leaves_nothing(
    house: House, small_clip: Path, until: Wait
) -> None:
    clip_id, job_id = house.bring_in(small_clip)
    recording = clips.by_id(house.connection, clip_id).recording
    footage_of(house.settings).remove(str(recording.original_path))
    house.worker().run(job_id)
    until(lambda: state(house, job_id) == "failed", "not ended")
    assert clips.by_id(house.connection, clip_id).state == "failed"
    assert "There is no file" in str(jobs.by_id(house.connection, job_id).failure)
    assert list(footage_of(house.settings).listed("copies/")) == []


def test_stop_is_heard_away(
    house: House, small_clip: Path, monkeypatch: pytest.MonkeyPatch, until: Wait
) -> None:
    monkeypatch.setattr(report_module, "EVERY_S", 0.0)
    clip_id, job_id = house.bring_in(small_clip)
    begun, go = threading.Event(), threading.Event()
    _slowly(monkeypatch, begun, go)
    thread = threading.Thread(target=house.worker().run, args=(job_id,))
    thread.start()
    assert begun.wait(30)
    house.rounds.go()
    time.sleep(0.6)
    house.rounds.go()
    running = jobs.by_id(house.connection, job_id)
    assert (running.state, running.doing) == ("running", "Making the review copy")
    jobs.ask_cancel(house.connection, job_id)
    time.sleep(0.6)
    house.rounds.go()
    go.set()
    thread.join(30)
    until(lambda: state(house, job_id) == "cancelled", "not stopped")
    assert clips.by_id(house.connection, clip_id).state == "failed"


def _slowly(monkeypatch: pytest.MonkeyPatch, begun: threading.Event, go: threading.Event) -> None:
    """Preparing waits in its middle."""
    work = WORK["open-recording"]

    def do(order: object, place: object, report: Report) -> object:
        report("Making the review copy", 1, 90)
        begun.set()
        assert go.wait(30)
        return work.do(order, place, report)  # type: ignore[arg-type]

    monkeypatch.setitem(WORK, "open-recording", replace(work, do=do))


def test_a_job_that_was_given_to_another_meanwhile_is_kept_once(
    house: House, small_clip: Path, monkeypatch: pytest.MonkeyPatch, until: Wait
) -> None:
    """The first worker slept, the second did the work. What the first says late is not heard."""
    _, job_id = house.bring_in(small_clip)
    begun, go = threading.Event(), threading.Event()
    with monkeypatch.context() as slow:
        _slowly(slow, begun, go)
        slow.setattr(report_module, "EVERY_S", 1000.0)
        first = threading.Thread(target=house.worker().run, args=(job_id,))
        first.start()
        assert begun.wait(30)
    # In this process it is known to live; another machine knows of its beats alone.
    monkeypatch.setattr(Pulse, "alive", set())
    jobs.age(house.connection, 60)
    assert recover(house.settings, house.queue) == 1
    house.worker().run(job_id)
    until(lambda: state(house, job_id) == "done", "the second one's result was not kept")
    before = recordings.by_id(house.connection, 1)
    go.set()
    first.join(30)
    time.sleep(0.5)
    assert state(house, job_id) == "done"
    assert jobs.by_id(house.connection, job_id).attempts == 2
    assert recordings.by_id(house.connection, 1) == before
    assert house.queue.waiting() == 1  # only what recovery had put there


def test_a_worker_that_beats_is_never_taken_for_dead(house: House, small_clip: Path) -> None:
    _, job_id = house.bring_in(small_clip)
    jobs.claim(house.connection, job_id, time.time() - 3600, "token")
    board = house.worker().board
    board.beat(job_id, "token", wire.Pulse("reading", 0.25))
    time.sleep(0.6)
    house.rounds.go()
    assert recover(house.settings, house.queue) == 0
    found = jobs.by_id(house.connection, job_id)
    assert (found.doing, found.progress) == ("reading", 0.25)
    # With another word it is somebody else's, and that one hears so.
    board.beat(job_id, "other", wire.Pulse("reading", 0.5))
    time.sleep(0.6)
    house.rounds.go()
    assert board.told_to_stop("other") == "lost"
    assert board.told_to_stop("token") == "go on"
    assert jobs.by_id(house.connection, job_id).progress == 0.25


def test_a_worker_told_to_stop_hands_its_job_back(
    house: House, small_clip: Path, monkeypatch: pytest.MonkeyPatch, until: Wait
) -> None:
    _, job_id = house.bring_in(small_clip)
    begun, go = threading.Event(), threading.Event()
    _slowly(monkeypatch, begun, go)
    worker = house.worker()
    thread = threading.Thread(target=worker.run, args=(job_id,))
    thread.start()
    assert begun.wait(30)
    worker.hand_back()
    until(lambda: state(house, job_id) == "queued", "not handed back")
    assert jobs.by_id(house.connection, job_id).attempts == 0
    until(lambda: house.queue.waiting() == 1, "not sent again")
    go.set()
    thread.join(30)
    time.sleep(0.3)
    assert state(house, job_id) == "queued"


def test_reading_away_lets_a_review_copy_go_first(house: House, swum: Path, until: Wait) -> None:
    clip_id, job_id = house.bring_in(swum)
    worker = house.worker()
    worker.run(job_id)
    until(lambda: clips.by_id(house.connection, clip_id).state == "ready", "not prepared")
    reading = jobs.add(house.connection, READ, {"clip_id": clip_id}, None)
    jobs.add(house.connection, PREPARE, {"recording_id": 1}, 1)
    time.sleep(0.6)
    house.rounds.go()
    worker.run(reading)
    until(lambda: state(house, reading) == "queued", "it did not give way")
    assert readings.of_clip(house.connection, clip_id) is None


def test_a_worker_that_does_not_see_the_films_of_the_house_takes_no_job(
    house: House, small_clip: Path, tmp_path: Path
) -> None:
    """A folder that is not mounted looks like an empty one."""
    clip_id, job_id = house.bring_in(small_clip)
    house.away = replace(house.away, footage=str(tmp_path / "not-mounted"))
    worker = house.worker()
    with pytest.raises(FootageError, match="do not lie in"):
        worker.check_store()
    with pytest.raises(NoAnswerError):
        worker.run(job_id)
    assert state(house, job_id) == "queued"
    assert clips.by_id(house.connection, clip_id).state == "waiting"
    with redis.Redis.from_url(house.settings.queue_at) as client:
        client.flushall()
    with pytest.raises(FootageError, match="has not reported yet"):
        worker.check_store()


def test_a_clip_that_is_deleted_while_it_is_read_is_no_matter(
    house: House, swum: Path, until: Wait
) -> None:
    clip_id, job_id = house.bring_in(swum)
    worker = house.worker()
    worker.run(job_id)
    until(lambda: clips.by_id(house.connection, clip_id).state == "ready", "not prepared")
    reading = jobs.add(house.connection, READ, {"clip_id": clip_id}, None)
    token = "a-token"
    worker._send(wire.Ask(reading, token, "one"))
    assert worker.board.wait_for_answer(token, 20) is not None
    put_in_trash(house.connection, [clip_id])
    house.connection.execute("DELETE FROM clips WHERE id = ?", (clip_id,))
    AwayDesk(worker.board, worker._send, reading, token).done(_empty_reading())
    until(lambda: state(house, reading) == "failed", "not ended")


def _empty_reading() -> object:
    from norvik.work.read import nothing_read

    return nothing_read({})


def test_nonsense_from_the_queue_is_left_and_the_next_message_heard(
    house: House, small_clip: Path, until: Wait
) -> None:
    clip_id, job_id = house.bring_in(small_clip)
    worker = house.worker()
    token = "a-token"
    worker._send(wire.Ask(job_id, token, "one"))
    assert worker.board.wait_for_answer(token, 20) is not None
    for message in (wire.Done(job_id, "another", b"x"), wire.Done(999, token, b"x"),
                    wire.Ended(999, "", "failed", "no")):  # fmt: skip
        worker._send(message)
    worker._send(wire.Done(job_id, token, wire.pack({"film": "copies/2.mp4"})))
    until(lambda: state(house, job_id) == "failed", "an unreadable result was not ended")
    assert "went wrong in Norvik" in str(jobs.by_id(house.connection, job_id).failure)
    assert clips.by_id(house.connection, clip_id).state == "failed"


def test_nothing_that_travels_is_a_program() -> None:
    """Whoever can write into the queue could make a worker run anything with pickled messages."""
    plain = PlainSerializer()
    packed = plain.serialize(Message("1", "run_job", args=(7,), kwargs={}))
    assert plain.deserialize(packed).args == [7]
    with pytest.raises(msgspec.MsgspecError):
        plain.deserialize(pickle.dumps({"a": 1}))
    sent = wire.pack(Follow("copies/1.mp4", Fraction(30), 1, 9, None, 1.5, 2.5, 0.03, 3.0, {}))
    assert wire.unpack(sent, Follow).rate == Fraction(30)
    with pytest.raises(msgspec.ValidationError):
        wire.unpack(wire.pack({"film": 1}), Follow)
    array = wire.pack(np.arange(3, dtype=object))
    with pytest.raises((ValueError, msgspec.MsgspecError)):
        wire.unpack(array, np.ndarray)


def test_the_doctor_looks_at_store_and_queue(house: House) -> None:
    says = {c.name: (c.state, c.says) for c in examine(house.settings)}
    assert says["Footage"][0] == "well"
    assert says["Queue"] == ("look", "The queue on 127.0.0.1 answers; no worker away shows itself.")
    worker = house.worker()
    worker.board.here(worker.name)
    says = {c.name: (c.state, c.says) for c in examine(house.settings)}
    assert says["Queue"][0] == "well"
    assert worker.name in says["Queue"][1]
    assert list(footage_of(house.settings).listed("pictures/doctor-")) == []
    gone = replace(house.settings, queue_at="redis://127.0.0.1:9", footage="/proc/nowhere")
    says = {c.name: (c.state, c.says) for c in examine(gone)}
    assert (says["Queue"][0], says["Footage"][0]) == ("broken", "broken")
