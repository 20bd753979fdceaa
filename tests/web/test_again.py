"""Marking and ticking again, blind, and the page that says how well two looks agree."""

from __future__ import annotations

import csv
import io
import re
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.core.time.marker import DEFAULT_MARKER
from norvik.settings import Settings
from norvik.store import marked_again, marks, swimmers, users
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.workflow.marker import marker_of
from tests.uploading import upload


@pytest.fixture
def clip(client: FlaskClient, settings: Settings, small_clip: Path) -> int:
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))
    made = int(upload(client, small_clip, pool_m=25).json["clip"])
    with connected(settings.database) as connection:
        for begin in (2, 30, 58):
            for event, share in (("entry", 0), ("catch", 8), ("press", 12), ("exit", 22)):
                marks.place(connection, made, None, begin + share, "arm", "right", event)
            marks.place(connection, made, None, begin + 5, "leg", "left", "beat")
    return made


def test_it_begins_with_who_marks(client: FlaskClient, clip: int) -> None:
    page = client.get(f"/clips/{clip}/again/").text
    assert "Who placed the marks of this clip?" in page
    assert "Mark this frame" not in page


def asked_mark(page: str) -> int:
    found = re.search(r'name="mark" value="(\d+)"', page)
    assert found is not None
    return int(found[1])


def mark_all(client: FlaskClient, settings: Settings, clip: int, later: int, **who: str) -> int:
    """Places every mark that is asked for `later` frames after the first one."""
    page = client.get(f"/clips/{clip}/again/", query_string=who).text
    placed = 0
    while "Mark this frame" in page:
        asked = asked_mark(page)
        with connected(settings.database) as connection:
            first = next(m for m in marks.of_clip(connection, clip) if m.id == asked)
        # The film stands near the mark and says nothing of where it is.
        place = re.search(r'id="ask"[^>]*data-place="(\d+)"', page)
        assert place is not None
        assert abs(int(place[1]) - first.frame) <= 13
        page = client.post(
            f"/clips/{clip}/again/mark", data={"mark": asked, "frame": first.frame + later, **who}
        ).text
        placed += 1
        assert placed < 20
    assert "are re-marked" in page
    return placed


def test_marks_are_asked_for_one_by_one(client: FlaskClient, settings: Settings, clip: int) -> None:
    page = client.get(f"/clips/{clip}/again/?first=me").text
    assert "1 of 12" in page
    assert "kicks" not in page.lower().split("main")[0]
    assert mark_all(client, settings, clip, 1, first="me") == 12
    with connected(settings.database) as connection:
        again = marked_again.of_clip(connection, clip)
    assert {m.again_frame - m.first_frame for m in again} == {1}
    assert all(m.own for m in again)
    assert all(m.later_s == pytest.approx(1 / 30, rel=1e-3) for m in again)
    assert {m.event for m in again} >= {"entry", "beat"}
    # Another person begins anew.
    assert "1 of 12" in client.get(f"/clips/{clip}/again/?first=other&person=Guest").text


def test_agreement_of_a_second_person(client: FlaskClient, settings: Settings, clip: int) -> None:
    assert "Nobody has marked" in client.get(f"/clips/{clip}/again/agreement").text
    mark_all(client, settings, clip, 2, first="other", person="Guest")
    page = client.get(f"/clips/{clip}/again/agreement").text
    assert "Guest, against another&#39;s marks" in page
    rows = list(csv.DictReader(io.StringIO(
        client.get(f"/clips/{clip}/again/agreement.csv").text, newline="")))  # fmt: skip
    in_frames = [r for r in rows if r["unit"] == "frames"]
    assert in_frames
    for row in in_frames:
        assert float(row["bias"]) == 2
        assert (float(row["limit_low"]), float(row["limit_high"])) == (2, 2)
    client.post(f"/clips/{clip}/again/forget", data={"person": "Guest"})
    assert "Nobody has marked" in client.get(f"/clips/{clip}/again/agreement").text


def test_what_is_found_is_in_the_plus_minus(
    client: FlaskClient, settings: Settings, clip: int
) -> None:
    def u() -> float:
        text = client.get(f"/clips/{clip}/files/numbers.csv").text
        return float(next(csv.DictReader(io.StringIO(text, newline="")))["u_clip"])

    before = u()
    with connected(settings.database) as connection:
        for n in range(9):
            later = (-1) ** n * 3
            marked_again.add(connection, marked_again.MarkedAgain(
                clip, "Coach", True, "arm", "right", "entry", 10, 10 + later, later / 30, 1 / 30
            ))  # fmt: skip
    # Three frames apart each time: 0.1 s over root two, where 23 ms were taken for granted.
    assert u() == pytest.approx(before * (0.1 / 2**0.5) / 0.0252, rel=0.1)


def test_each_coach_has_their_own_error(client: FlaskClient, settings: Settings, clip: int) -> None:
    """What the one who marked a clip showed goes before what all show together."""
    with connected(settings.database) as connection:
        careful, rough = (
            users.add(connection, f"{name}@club.example", name.title(), "head-coach", "x")
            for name in ("careful", "rough")
        )
        for person, apart in (("Careful", 1), ("Rough", 6)):
            for n in range(9):
                later = (-1) ** n * apart
                marked_again.add(connection, marked_again.MarkedAgain(
                    clip, person, True, "arm", "right", "entry", 50, 50 + later, later / 30, 1 / 30
                ))  # fmt: skip
        club = marker_of(connection, clip).of_event("entry").spread_ms
        marks.place(connection, clip, rough, 80, "arm", "left", "entry")
        hers = marker_of(connection, clip).of_event("entry").spread_ms
        for frame in (81, 82):
            marks.place(connection, clip, careful, frame, "arm", "left", "entry")
        his = marker_of(connection, clip).of_event("entry").spread_ms
        # A family that nobody marked twice keeps the club's setting.
        assert marker_of(connection, clip).of_event("beat") == DEFAULT_MARKER.of_event("beat")
    grid = 1000 / 30 / 12**0.5
    assert hers == pytest.approx((18 * (1000 / 30) ** 2 - grid**2) ** 0.5)
    assert his == pytest.approx((0.5 * (1000 / 30) ** 2 - grid**2) ** 0.5)
    # Nobody who is signed in placed a mark: all pairs together.
    assert club == pytest.approx((18.5 / 2 * (1000 / 30) ** 2 - grid**2) ** 0.5)
    page = client.get("/club/").text
    assert "Rough" in page
    assert "141 ms (9 pairs)" in page
    assert "22 ms (9 pairs)" in page


def test_ticks_are_compared(client: FlaskClient, clip: int) -> None:
    seen = {"what": "head-forward", "side": "", "degree": "clear", "frame": 3}
    client.post(f"/clips/{clip}/judge/seen", data=seen)
    page = client.get(f"/clips/{clip}/again/ticks?first=other").text
    assert "Head up" in page
    assert "checked" not in page.split("<form", 1)[1].replace('type="checkbox"', "")
    items = re.findall(r'name="tick" value="([^"]+)"', page)
    assert "head-forward|" in items
    ticked = {"person": "Guest", "first": "other", "tick": ["head-forward|", "no-such|"]}
    client.post(f"/clips/{clip}/again/ticks", data=ticked)
    page = client.get(f"/clips/{clip}/again/agreement").text
    assert f"100 % of {len(items)} alike" in page
    assert re.search("kappa <b>1.00</b>", page)


def test_measures_taken_again_have_an_icc(client: FlaskClient, clip: int) -> None:
    shapes = ("50,10 200,80 300,120", "50,10 200,40 300,120", "50,10 200,20 300,120",
              "50,10 200,120 300,120")  # fmt: skip
    for n, points in enumerate(shapes, 1):
        client.post(f"/clips/{clip}/drawings/", data={
            "kind": "measure", "name": "high-elbow", "side": "left", "frame": 10 + n,
            "points": points})  # fmt: skip
        client.post(f"/clips/{clip}/drawings/{n}/again",
                    data={"points": points.replace("200,", "202,")})  # fmt: skip
    page = client.get(f"/clips/{clip}/again/agreement").text
    assert "Measures taken again" in page
    assert "ICC(2,1)" in page


def test_refusals(client: FlaskClient, clip: int) -> None:
    gone = client.post(f"/clips/{clip}/again/mark", data={"mark": 9999, "frame": 3})
    assert gone.status_code == 422
    assert client.get("/clips/77/again/").status_code == 404
