"""Drills of the coach's own: added, changed, hidden, prescribed, out and in as a file."""

from __future__ import annotations

import gzip
import io
import json
from dataclasses import replace
from xml.etree import ElementTree

import pytest
from flask.testing import FlaskClient

from norvik.catalogue.loader import everything
from norvik.core.prescription.prescribe import SwimmerProfile, prescribe
from norvik.model.drills.loop import drill_loop
from norvik.settings import Settings
from norvik.store.connection import connected
from norvik.web.draw.drill_figure import drill_loop_image, drill_strip, strip_document
from norvik.workflow.own_catalogue import tables_of

FORM = {"name": "Paper boat", "purpose": "A hand that lands soft.",
        "how": "Swim easily.\nLand each hand as if on paper.", "cue": "Do not wet the paper.",
        "progression": "At pace.", "slot": "main", "place": "water", "least": "4", "most": "6",
        "metres": "25", "effort": "2", "works_on": ["entry-slap"]}  # fmt: skip


def given(settings: Settings, fault: str) -> list[str]:
    with connected(settings.database) as connection:
        tables = tables_of(connection, "freestyle")
    receiver = SwimmerProfile("improver", ("fins", "buoy"))
    return [d.id for d in prescribe(tables.faults[fault], tables, {fault}, receiver).drills]


def test_every_drill_has_its_page(client: FlaskClient) -> None:
    # Every third: what differs between them, their figures, has tests of its own.
    for drill in list(everything().drills.values())[::3]:
        page = client.get(f"/drills/{drill.id}")
        assert page.status_code == 200, drill.id
    assert "Never hold the breath" in client.get("/drills/streamline-six").text
    assert client.get("/drills/nothing").status_code == 404
    found = client.get("/drills/?stroke=butterfly&words=knee").text
    assert "Dolphins on the side" in found
    assert "Catch-up" not in found
    assert "No drills match" in client.get("/drills/?words=zzz").text


def test_an_own_drill_is_prescribed_first_and_can_be_hidden(
    client: FlaskClient, settings: Settings
) -> None:
    answer = client.post("/drills/new", data=FORM)
    assert answer.location.endswith("/drills/own-paper-boat")
    assert "own-paper-boat" in given(settings, "entry-slap")
    assert "yours" in client.get("/drills/").text
    client.post("/drills/own-paper-boat/state", data={"what": "hide"})
    assert "own-paper-boat" not in given(settings, "entry-slap")
    assert "Hidden" in client.get("/drills/own-paper-boat").text
    client.post("/drills/own-paper-boat/state", data={"what": "show"})
    assert "own-paper-boat" in given(settings, "entry-slap")
    # The same name again is another drill.
    assert client.post("/drills/new", data=FORM).location.endswith("own-paper-boat-2")
    client.post("/drills/own-paper-boat/state", data={"what": "shipped"})
    assert client.get("/drills/own-paper-boat").status_code == 404


def test_an_own_version_of_a_shipped_drill_and_back(
    client: FlaskClient, settings: Settings
) -> None:
    page = client.get("/drills/letterbox-entry/edit").text
    assert "Fingertips, wrist and elbow" in page
    mine = {**FORM, "name": "Letterbox", "works_on": ["entry-slap", "crossing"]}
    client.post("/drills/letterbox-entry/edit", data=mine)
    shown = client.get("/drills/letterbox-entry").text
    assert "Do not wet the paper." in shown
    # It no longer works on that, so it is not given for it.
    assert "letterbox-entry" not in given(settings, "thumb-first")
    assert "letterbox-entry" in given(settings, "crossing")
    client.post("/drills/letterbox-entry/state", data={"what": "shipped"})
    assert "letterbox-entry" in given(settings, "thumb-first")
    assert "Post the letter." in client.get("/drills/letterbox-entry").text


@pytest.mark.parametrize(
    ("change", "word"),
    [
        ({"name": ""}, "Give the drill a name"),
        ({"works_on": []}, "names no fault that it works on"),
        ({"least": "8"}, "repeats from a lower to a higher number"),
        ({"metres": ""}, "neither metres nor seconds"),
        ({"effort": "9"}, "between 1 and 6"),
        ({"how": "Hold your breath to the wall."}, "can kill"),
        ({"name": "Hypoxic ladder"}, "can kill"),
        ({"how": "No hurry: hold your breath to the wall."}, "can kill"),
        ({"how": "Swim 25 m under water. Breathe every 9 strokes."}, "can kill"),
        ({"feeds": ["entry-slap"]}, "works on and feeds"),
    ],
)
def test_a_wrong_drill_is_refused_and_nothing_stays(
    client: FlaskClient, change: dict[str, object], word: str
) -> None:
    answer = client.post("/drills/new", data={**FORM, **change})
    assert answer.status_code == 422
    assert word in answer.text
    assert json.loads(client.get("/drills/own.json").text)["drills"] == []


def test_own_cues_stand_everywhere(client: FlaskClient, settings: Settings) -> None:
    client.post("/drills/cues", data={"fault": "entry-slap", "cue": "Whisper it in."})
    with connected(settings.database) as connection:
        assert tables_of(connection, "freestyle").faults["entry-slap"].cue == "Whisper it in."
    assert "Whisper it in." in client.get("/drills/cues").text
    client.post("/drills/cues", data={"fault": "entry-slap", "cue": ""})
    assert "Whisper" not in client.get("/drills/cues").text
    assert client.post("/drills/cues", data={"fault": "no", "cue": "x"}).status_code == 404
    long = client.post("/drills/cues", data={"fault": "entry-slap", "cue": "x" * 130})
    assert long.status_code == 422


def test_out_and_in_as_a_file_all_or_nothing(client: FlaskClient, settings: Settings) -> None:
    client.post("/drills/new", data=FORM)
    client.post("/drills/catch-up/state", data={"what": "hide"})
    client.post("/drills/cues", data={"fault": "entry-slap", "cue": "Whisper it in."})
    text = client.get("/drills/own.json").text
    for drill in ("own-paper-boat", "catch-up"):
        client.post(f"/drills/{drill}/state", data={"what": "shipped"})
    client.post("/drills/cues", data={"fault": "entry-slap", "cue": ""})

    def bring_in(data: str | bytes) -> int:
        raw = data.encode() if isinstance(data, str) else data
        return client.post(
            "/drills/import", data={"file": (io.BytesIO(raw), "drills.json")}
        ).status_code

    said = json.loads(text)
    said["drills"].append({**said["drills"][0], "id": "bad", "works_on": ["nothing"]})
    empty = json.loads(client.get("/drills/own.json").text)
    for wrong in (json.dumps(said), "{}", b"\xff\xfe", '{"norvik_drills": 9, "drills": [], '
                  '"hidden": [], "cues": {}}', ""):  # fmt: skip
        assert bring_in(wrong) == 422
        assert json.loads(client.get("/drills/own.json").text) == empty
    assert bring_in(text) == 302
    assert client.get("/drills/own.json").text == text


def test_a_drill_is_shown_as_it_is_done(client: FlaskClient) -> None:
    """Its page has the loop, lists have one instant, and own drills have none."""
    assert "/drills/catch-up/loop.svg" in client.get("/drills/catch-up").text
    assert "/drills/catch-up/still.svg" in client.get("/drills/").text
    answer = client.get("/drills/catch-up/loop.svg")
    assert answer.mimetype == "image/svg+xml"
    assert answer.headers["Content-Encoding"] == "gzip"
    drawn = ElementTree.fromstring(gzip.decompress(answer.data))
    shown = drill_loop("catch-up")
    assert shown is not None
    inside = "{http://www.w3.org/2000/svg}g"
    frames = drawn.findall(f"{inside}/{inside}")
    assert len(frames) == len(shown.frames)
    # Frame by frame one picture's height further down; the picture steps through them.
    height = int(drawn.attrib["viewBox"].split()[3])
    assert frames[3].attrib["transform"] == f"translate(0 {3 * height})"
    style = drawn.findtext("{http://www.w3.org/2000/svg}style") or ""
    assert f"steps({len(frames)})" in style
    assert f"translateY(-{len(frames) * height}px)" in style
    assert "prefers-reduced-motion" in style
    still = gzip.decompress(client.get("/drills/catch-up/still.svg").data)
    ElementTree.fromstring(still)
    # A figure of one instant stays small; it goes to many places.
    assert len(still) < 30_000
    client.post("/drills/new", data=FORM)
    assert "loop.svg" not in client.get("/drills/own-paper-boat").text
    assert client.get("/drills/own-paper-boat/loop.svg").status_code == 404


def test_an_own_version_of_a_drill_keeps_its_figure(client: FlaskClient) -> None:
    client.post("/drills/catch-up/edit", data={**FORM, "name": "My catch-up"})
    assert "/drills/catch-up/loop.svg" in client.get("/drills/catch-up").text


def test_a_strip_is_a_drawing_that_paper_takes(client: FlaskClient) -> None:
    for drill in ("catch-up", "heel-snap", "start-line", "back-rope-pull", "bench-paddle-1"):
        strip = strip_document(drill)
        assert strip is not None
        assert len(ElementTree.fromstring(strip)) == 4, drill
    with client.application.test_request_context():
        boat = replace(everything().drills["catch-up"], id="own-boat")
        assert drill_strip(boat) == ""
        assert drill_loop_image(boat) == ""
        sent = drill_loop_image(everything().drills["catch-up"], inside=True)
        assert 'src="data:image/svg+xml,' in sent
        assert sent.count('"') % 2 == 0
