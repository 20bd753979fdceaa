"""Side by side: which clip is proposed, which frame belongs to which, and what cannot be done."""

from __future__ import annotations

import json
import re
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.model.stance import STEPS, events_of
from norvik.settings import Settings
from norvik.store import clips, marks
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.clips import numbered_clip
from tests.conftest import BroughtIn

JSON = {"Accept": "application/json"}
#: The frame of each event of a cycle, at 30 and at 60 frames a second.
SLOW = {"entry": 0, "catch": 10, "press": 16, "exit": 28}
FAST = {"entry": 0, "catch": 8, "press": 20, "exit": 40}


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    folder = tmp_path_factory.mktemp("beside")
    slow = numbered_clip(folder / "slow.mp4", [k / 30 for k in range(150)])
    fast = numbered_clip(folder / "fast.mp4", [k / 60 for k in range(220)])
    front = numbered_clip(folder / "front.mp4", [k / 30 for k in range(60)])
    return [
        (slow, {"filmed_on": "2026-11-20"}),
        (fast, {"filmed_on": "2026-11-27"}),
        (front, {"filmed_on": "2026-11-27", "view": "front-under"}),
    ]


@pytest.fixture
def pair(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    made: list[tuple[Path, dict[str, object]]],
) -> list[int]:  # fmt: skip
    ids = brought_in(settings, [Swimmer("Tilde Vassholm"), Swimmer("Eirik Lundstrand")], *made)
    with connected(settings.database) as connection:
        for clip, events, length in ((ids[0], SLOW, 40), (ids[1], FAST, 60)):
            for begin in (5, 5 + length, 5 + 2 * length):
                for event, at in events.items():
                    marks.place(connection, clip, None, begin + at, "arm", "right", event)
    return ids


def frames(client: FlaskClient, one: int, other: int, **wish: object) -> dict[str, object]:
    answer = client.get(f"/clips/{one}/beside/frames.json", query_string={"with": other, **wish})
    assert answer.status_code == 200, answer.text
    state: dict[str, object] = answer.json
    # What is said of the first film, and of the second one in step with it.
    found: dict[str, object] = state["others"][0]  # type: ignore[index]
    return {**state, **found}


def test_the_newest_earlier_clip_of_the_same_view_is_proposed(
    client: FlaskClient, pair: list[int]
) -> None:
    page = client.get(f"/clips/{pair[1]}/beside/").text
    assert re.search(rf'data-with="{pair[0]}"', page)
    options = re.findall(r'<option value="(\d+)"', page)
    assert [int(o) for o in options[:3]] == [pair[0], pair[2], pair[1]]
    # The model swimmer and the figure, well and with every fault of the stroke.
    assert 'value="model:straight-arm"' in page
    assert 'value="figure:straight-arm"' in page
    assert "this clip: the other arm" in page
    assert f"/clips/{pair[1]}/beside/?with={pair[0]}" in client.get(
        f"/clips/{pair[1]}/change/"
    ).text.replace("&amp;", "&")


def test_every_event_meets_its_own_and_no_frame_is_stepped_over(
    client: FlaskClient, pair: list[int]
) -> None:
    state = frames(client, pair[0], pair[1], way="phase")
    assert (state["cannot"], state["begin"], state["first"]) == ("", 5, 0)
    table = state["frames"]
    assert isinstance(table, list)
    assert len(table) == 150
    for n in range(2):
        for event, at in SLOW.items():
            assert table[5 + 40 * n + at] == 5 + 60 * n + FAST[event], (n, event)
    assert table == sorted(table)
    # Between two events each frame lies within half a frame of where it belongs.
    for k in range(10):
        assert abs(table[5 + k] - (5 + 8 * k / 10)) <= 0.5 + 1e-9
    # The next cycle beside the first one.
    assert frames(client, pair[0], pair[1], way="phase", n=0, m=1)["frames"][5] == 65  # type: ignore[index]


def test_by_event_and_by_clock_real_time_runs(client: FlaskClient, pair: list[int]) -> None:
    table = frames(client, pair[0], pair[1], way="event", event="entry")["frames"]
    assert isinstance(table, list)
    # Twice the frames a second: two frames for one, until the other film's next entry.
    assert table[5:9] == [5, 7, 9, 11]
    assert table[5 + 40] == 65
    assert table[5 + 35] == 65
    table = frames(client, pair[0], pair[1], way="clock", one_frame=10, other_frame=50)["frames"]
    assert isinstance(table, list)
    assert table[9:12] == [48, 50, 52]
    assert table[-1] == 219


@pytest.mark.parametrize(
    ("wish", "words"),
    [
        ({"way": "phase", "side": "left"}, "has no whole cycle of this arm"),
        ({"way": "event", "event": "shoulder"}, "mark one, or step by clock"),
        ({"way": "phase", "n": 9}, "no longer marked"),
    ],
)
def test_what_the_marks_do_not_allow_is_said_and_goes_by_clock(
    client: FlaskClient, pair: list[int], wish: dict[str, object], words: str
) -> None:
    state = frames(client, pair[0], pair[1], **wish)
    assert words in str(state["cannot"])
    assert state["way"] == "clock"
    assert len(state["frames"]) == 150  # type: ignore[arg-type]


def test_two_strokes_go_by_clock_and_two_swimmers_not_at_all(
    client: FlaskClient, pair: list[int], settings: Settings
) -> None:
    with connected(settings.database) as connection:
        clips.change_facts(connection, [pair[1]], stroke="butterfly")
    assert "no phases in common" in str(frames(client, pair[0], pair[1])["cannot"])
    with connected(settings.database) as connection:
        clips.change_facts(connection, [pair[1]], swimmer_id=2)
    refused = client.get(f"/clips/{pair[0]}/beside/?with={pair[1]}", headers=JSON)
    assert refused.status_code == 403
    assert "nobody has allowed it" in json.dumps(refused.json)
    bad = client.get(f"/clips/{pair[0]}/beside/?way=sideways", headers=JSON)
    assert bad.status_code == 422


def test_the_figure_stands_at_the_same_phase(client: FlaskClient, pair: list[int]) -> None:
    page = client.get(f"/clips/{pair[0]}/beside/?with=figure:dropped-elbow").text
    state = json.loads(re.search(r'id="beside-state">(.*?)</script>', page).group(1))  # type: ignore[union-attr]
    assert page.count("data-stance=") == STEPS
    assert "With the fault: dropped elbow" in page
    for n in range(2):
        for event, share in events_of("freestyle").items():
            if event in SLOW:
                frame = 5 + 40 * n + SLOW[event]
                assert state["others"][0]["frames"][frame] == round(STEPS * share) % STEPS, (
                    n,
                    event,
                )
    # Before the first marked cycle it waits; without one it says what to mark.
    assert state["others"][0]["frames"][0] == 0
    said = client.get(f"/clips/{pair[2]}/beside/?with=figure").text
    assert "has no whole cycle" in said


def test_the_strip_of_instants_says_how_many_frames_each_phase_took(
    client: FlaskClient, pair: list[int]
) -> None:
    url = f"/clips/{pair[0]}/beside/strip"
    svg = client.get(f"{url}.svg", query_string={"with": pair[1], "m": 1}).text
    # Entry, catch, pull, exit and the next entry, in both columns.
    assert svg.count("<image ") == 10
    words = re.findall(r">([^<]+)</text>", svg)
    assert "catch: 0.33 s, 10 frames after" in words
    assert "catch: 0.13 s, 8 frames after" in words
    assert sum("next hand entry" in w for w in words) == 2
    png = client.get(f"{url}.png", query_string={"with": pair[1]}).data
    assert png.startswith(b"\x89PNG")
    refused = client.get(f"{url}.svg", query_string={"with": pair[2]}, headers=JSON)
    assert refused.status_code == 422
    assert "whole cycle in every film" in refused.json["sentence"]
