"""The ladder on the swimmer's page: points over the months, what comes next, open questions."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import swimmers
from norvik.store.connection import connected
from norvik.workflow.progress import Progress, progress_of
from tests.conftest import BroughtIn
from tests.web.judged import choose, films, judged, review, tick


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    return films(tmp_path_factory.mktemp("ladder"), "2026-09-20", "2026-10-20", "2026-11-20")


@pytest.fixture
def clips(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    made: list[tuple[Path, dict[str, object]]],
) -> list[int]:  # fmt: skip
    return judged(client, settings, brought_in, made)


def say(client: FlaskClient, clip: int, fault: str, answer: str) -> int:
    url = f"/clips/{clip}/judge/worked-on"
    return client.post(url, data={"fault": fault, "answer": answer}).status_code


def ladder(settings: Settings) -> Progress:
    with connected(settings.database) as connection:
        return progress_of(connection, swimmers.by_id(connection, 1))


def test_seen_points_are_followed_through_later_clips(
    client: FlaskClient, settings: Settings, clips: list[int]
) -> None:
    # The second clip still shows one; of the other nobody said anything, and that is no success.
    tick(client, clips[1], ("head-forward", "slight"))
    state = {r.fault: r.state for r in ladder(settings).rungs}
    assert state == {"head-forward": "still", "back-arch": "unclear"}
    asked = client.get(f"/clips/{clips[1]}/judge/").text
    assert "Focuses in training" in asked
    assert "Arched back in this review" in asked
    say(client, clips[1], "back-arch", "unseen")
    assert {r.fault: r.state for r in ladder(settings).rungs}["back-arch"] == "unclear"
    say(client, clips[1], "back-arch", "gone")
    assert {r.fault: r.state for r in ladder(settings).rungs}["back-arch"] == "gone"
    # What is gone is asked about no more; what was not in training cannot be answered.
    assert "Arched back in this review" not in client.get(f"/clips/{clips[2]}/judge/").text
    assert say(client, clips[2], "crossing", "gone") == 422
    assert say(client, clips[1], "back-arch", "vanished") == 422
    page = client.get("/swimmers/1").text
    assert "Still seen: try another drill" in page
    tick(client, clips[2], ("quiet-head", "clear"), ("kick-knees", "clear"))
    say(client, clips[2], "head-forward", "gone")
    found = ladder(settings)
    assert {r.fault: r.state for r in found.rungs} == {"head-forward": "gone",
                                                       "back-arch": "gone"}  # fmt: skip
    assert found.proposed is not None
    assert found.proposed[0].id == "kick-knees"
    assert "Next: <b>kicks from the knees</b>" in client.get("/swimmers/1").text
    choose(client, clips[2], "kick-knees")
    after = ladder(settings)
    assert after.rungs[-1].state == "working"
    # One point at a time: nothing new is proposed while one is in training.
    assert after.proposed is None


def test_a_point_that_is_stuck_gets_a_way_on(
    client: FlaskClient, settings: Settings, clips: list[int]
) -> None:
    tick(client, clips[1], ("head-forward", "slight"), ("back-arch", "clear"))
    assert ladder(settings).ways["freestyle", "back-arch"].exchange is None  # no plan yet
    form = {"weekday": ["1", "3"], "size": "2000", "by": "metres", "pool": "25", "unit": "m",
            "starts_on": "2026-11-30"}  # fmt: skip
    client.post(f"{review(client, clips[0])}plan", data=form)
    found = ladder(settings)
    way = found.ways["freestyle", "back-arch"]
    assert [f.id for f in way.upstream] == ["head-forward"]
    assert way.exchange is not None
    page = client.get("/swimmers/1").text
    now, instead = way.exchange.now, way.exchange.instead
    assert f"{instead.name} instead of {now.name.lower()}" in page
    assert "Likely cause, found on" in page
    other = client.post("/swimmers/new", data={"name": "Eirik Lundstrand", "level": "improver"})
    assert other.status_code == 302
    values = {"plan": way.plan_id, "fault": "back-arch", "drill": now.id}
    assert client.post("/swimmers/2/exchange", data=values).status_code == 404
    assert client.post("/swimmers/1/exchange", data=values).status_code == 302
    changed = ladder(settings).ways["freestyle", "back-arch"].exchange
    assert changed is not None
    assert changed.now.id == instead.id
    # Someone else had pressed first: what was shown is no longer true, and nothing changes.
    assert client.post("/swimmers/1/exchange", data=values).status_code == 422
    # Nothing to say of what is gone.
    say(client, clips[2], "back-arch", "gone")
    say(client, clips[2], "head-forward", "gone")
    assert ladder(settings).ways == {}


def test_what_the_coach_says_holds(
    client: FlaskClient, settings: Settings, clips: list[int]
) -> None:
    said = {"stroke": "freestyle", "fault": "head-forward", "state": "resting"}
    client.post("/swimmers/1/rungs", data=said)
    rung = next(r for r in ladder(settings).rungs if r.fault == "head-forward")
    assert rung.state == "resting"
    assert rung.ends_on is not None
    assert "Set aside." in client.get("/swimmers/1").text
    client.post("/swimmers/1/rungs", data={**said, "state": ""})
    assert all(r.ends_on is None for r in ladder(settings).rungs)
    wrong = client.post("/swimmers/1/rungs", data={**said, "stroke": "sidestroke"})
    assert wrong.status_code == 404


def test_an_open_question_travels_until_a_clip_answers_it(
    client: FlaskClient, settings: Settings, clips: list[int]
) -> None:
    client.post(f"/clips/{clips[0]}/drawings/",
                data={"kind": "obstacle", "name": "body-line", "text": "bubbles",
                      "frame": 3, "points": ""})  # fmt: skip
    questions = {q.fault.id: q for q in ladder(settings).questions}
    assert questions["legs-low"].answered_by is None
    assert "Open questions" in client.get("/swimmers/1").text
    client.post(f"/clips/{clips[1]}/drawings/",
                data={"kind": "measure", "name": "body-line", "side": "", "frame": 20,
                      "points": "100,100 400,110"})  # fmt: skip
    answered = {q.fault.id: q for q in ladder(settings).questions}["legs-low"]
    assert answered.answered_by is not None
    assert answered.answered_by.id == clips[1]
    assert not answered.found


def test_pain_is_noted_and_wrong_parts_are_refused(client: FlaskClient, clips: list[int]) -> None:
    client.post("/swimmers/1/pain", data={"part": "knee", "note": "after turns"})
    page = client.get("/swimmers/1").text
    assert "after turns" in page
    assert client.post("/swimmers/1/pain", data={"part": "ear"}).status_code == 404


def test_without_a_point_the_page_says_so(client: FlaskClient) -> None:
    client.post("/swimmers/new", data={"name": "Eirik Lundstrand", "level": "improver"})
    assert "No focus chosen yet" in client.get("/swimmers/1").text
