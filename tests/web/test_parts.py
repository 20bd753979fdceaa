"""Cutting into parts, the time base panel, loops and places: what the bench asks for."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from norvik.settings import Settings
from norvik.store import clips, cuts, library, marks
from norvik.store.clips import Clip
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.conftest import BroughtIn
from tests.web.judged import review

UNSURE = re.compile(r"slow-motion setting (of this clip )?may be wrong", re.IGNORECASE)
HTMX = {"HX-Request": "true"}


@pytest.fixture
def whole(client: FlaskClient, settings: Settings, small_clip: Path, brought_in: BroughtIn) -> int:
    """The clip of a recording of the whole squad: 90 frames at 30 frames/s, nobody named."""
    squad = [Swimmer("Tilde Vassholm"), Swimmer("Eirik Lundstrand")]
    return brought_in(settings, squad, (small_clip, {"swimmer_id": None, "pool_m": 25}))[0]


def cut(client: FlaskClient, first: int, last: int, swimmer: object = 1, stroke: str = "freestyle"
) -> TestResponse:  # fmt: skip
    form = {"first": first, "last": last, "swimmer_id": swimmer, "stroke": stroke}
    return client.post("/recordings/1/cut/parts", data=form)


def parts(settings: Settings) -> list[tuple[int, int, int | None, str]]:
    with connected(settings.database) as connection:
        found = cuts.parts(connection, 1)
    return [(c.first_frame, c.last_frame, c.swimmer_id, c.stroke) for c in found]


def clip_of(settings: Settings, clip_id: int) -> Clip:
    with connected(settings.database) as connection:
        return clips.by_id(connection, clip_id)


def test_parts_are_references_and_every_change_is_undone(
    client: FlaskClient, settings: Settings, whole: int
) -> None:
    files = sorted(settings.data.rglob("*.mp4"))
    cut(client, 0, 29)
    cut(client, 30, 74, 2, "butterfly")
    both = [(0, 29, 1, "freestyle"), (30, 74, 2, "butterfly")]
    assert parts(settings) == both
    assert sorted(settings.data.rglob("*.mp4")) == files
    second = whole + 2
    client.post(f"/recordings/1/cut/parts/{second}", data={"last": 89})
    client.post(f"/recordings/1/cut/parts/{second}", data={"swimmer_id": ""})
    client.post(f"/recordings/1/cut/parts/{whole + 1}", data={"gone": 1})
    assert parts(settings) == [(30, 89, None, "butterfly")]
    steps = [
        [(0, 29, 1, "freestyle"), (30, 89, None, "butterfly")],
        [(0, 29, 1, "freestyle"), (30, 89, 2, "butterfly")],
        both,
        both[:1],
        [],
    ]
    for step in steps:
        client.post("/recordings/1/cut/undo")
        assert parts(settings) == step
    assert "Nothing to undo" in client.post("/recordings/1/cut/undo").text
    for step in [*reversed(steps[:-1]), [(30, 89, None, "butterfly")]]:
        client.post("/recordings/1/cut/redo")
        assert parts(settings) == step
    assert "Nothing to redo" in client.post("/recordings/1/cut/redo").text


@pytest.mark.parametrize(
    ("first", "last", "more"),
    [(-1, 20, {}), (5, 90, {}), (5, 5, {}), (20, 10, {}), (0, 9, {"swimmer": 9}),
     (0, 9, {"stroke": "dog paddle"}), ("x", 9, {})],
)  # fmt: skip
def test_parts_that_cannot_be(
    client: FlaskClient, settings: Settings, whole: int, first: int, last: int, more: dict[str, str]
) -> None:
    assert cut(client, first, last, **more).status_code in (404, 422)
    assert parts(settings) == []


def test_a_part_behaves_as_a_clip(client: FlaskClient, settings: Settings, whole: int) -> None:
    cut(client, 30, 74)
    part = whole + 1
    assert clip_of(settings, part).facts.pool_m == 25  # the rest is what the recording is
    frames = client.get(f"/clips/{part}/frames.json").json
    assert (frames["first"], frames["last"]) == (30, 74)

    def mark(frame: int) -> TestResponse:
        data = {"frame": frame, "lane": "arm", "side": "right", "event": "entry"}
        return client.post(f"/clips/{part}/marks", data=data, headers=HTMX)

    assert mark(29).status_code == 422
    assert mark(75).status_code == 422
    assert mark(30).status_code == 200
    assert mark(60).status_code == 200
    page = client.get(f"/clips/{part}/").text
    assert "120.0" in page  # one cycle of 1.00 s: 60 cycles, 120 strokes a minute
    for address in (f"/clips/{part}/judge/", f"/clips/{part}/review/", f"/clips/{part}/poster.jpg"):
        with client.get(address, follow_redirects=True) as answer:
            assert answer.status_code == 200, address
    with connected(settings.database) as connection:
        assert marks.of_clip(connection, whole) == []
    # An edge that moves past marks says so; the marks stay where they are.
    answer = client.post(f"/recordings/1/cut/parts/{part}", data={"first": 40})
    assert "1 mark is outside" in answer.text
    with connected(settings.database) as connection:
        assert [m.frame for m in marks.of_clip(connection, part)] == [30, 60]
    client.post("/recordings/1/cut/undo")
    assert "120.0" in client.get(f"/clips/{part}/").text
    # A cut recording is not to be reviewed as a whole any more.
    with connected(settings.database) as connection:
        assert library.counts(connection)["to-sort"] == 0


def test_the_time_check_says_by_how_much_and_marks_the_numbers(
    client: FlaskClient, settings: Settings, whole: int
) -> None:
    client.post("/library/describe", data={"ids": whole, "swimmer_id": 1})
    for frame in (0, 45):
        client.post(
            f"/clips/{whole}/marks",
            data={"frame": frame, "lane": "arm", "side": "right", "event": "entry"},
        )
    assert not UNSURE.search(client.get(f"/clips/{whole}/").text)
    url = f"/clips/{whole}/time"
    # 60 frames last 2 s in the file; the clock at the pool says 1 s.
    answer = client.post(f"{url}/check", data={"first": 0, "last": 60, "true_s": "1,0"})
    assert answer.headers["HX-Trigger"] == "timebase-changed"
    assert "100 %" in answer.text
    assert clip_of(settings, whole).unsure
    for address in (
        f"/clips/{whole}/",
        f"/clips/{whole}/judge/",
        review(client, whole),
        "/library/",
    ):
        assert UNSURE.search(client.get(address).text), address
    client.post(f"{url}/check/use")
    clip = clip_of(settings, whole)
    assert clip.recording.stretches[0].factor == 2.0
    assert not clip.unsure
    client.post(f"{url}/check/forget")
    assert clip_of(settings, whole).recording.check is None


def test_ramps_are_declared_by_segment(client: FlaskClient, settings: Settings, whole: int) -> None:
    url = f"/clips/{whole}/time"
    client.post(f"{url}/stretch", data={"from_frame": 30, "factor": "8"})
    client.post(f"{url}/stretch", data={"from_frame": 60, "factor": "1"})
    assert [s.factor for s in clip_of(settings, whole).recording.stretches] == [1, 8, 1]
    answer = client.post(f"{url}/check", data={"first": 20, "last": 40, "true_s": "9"})
    assert answer.status_code == 200
    answer = client.post(f"{url}/check/use")
    assert answer.status_code == 422
    assert "both sides" in answer.text
    client.post(f"{url}/stretch/remove", data={"from_frame": 30})
    assert [s.factor for s in clip_of(settings, whole).recording.stretches] == [1]
    assert client.post(f"{url}/stretch/remove", data={"from_frame": 0}).status_code == 422
    for wrong in ({"first": 0, "last": 0, "true_s": 1}, {"first": 0, "last": 400, "true_s": 1},
                  {"first": 0, "last": 60, "true_s": "soon"}, {"first": 0}):  # fmt: skip
        assert client.post(f"{url}/check", data=wrong).status_code == 422


def test_loops_and_places_are_kept(client: FlaskClient, settings: Settings, whole: int) -> None:
    url = f"/clips/{whole}/loops"
    assert "best hold" in client.post(url, data={"name": "best hold", "from": 10, "to": 25}).text
    # The same name again is the same loop, moved.
    client.post(url, data={"name": "best hold", "from": 12, "to": 25})
    assert client.get(f"/clips/{whole}/").text.count(">best hold<") == 1
    for wrong in ({"name": "", "from": 1, "to": 9}, {"name": "x", "from": 9, "to": 9},
                  {"name": "x", "from": 1, "to": 400}):  # fmt: skip
        assert client.post(url, data=wrong).status_code == 422
    client.post(f"/clips/{whole}/place", data={"frame": 44})
    assert 'data-place="44"' in client.get(f"/clips/{whole}/").text
