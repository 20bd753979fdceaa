"""Walls and passes: marked on the bench, drawn on their own rope, given as numbers."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from norvik.settings import Settings
from norvik.store.swimmers import Swimmer
from tests.clips import numbered_clip
from tests.conftest import BroughtIn


@pytest.fixture(scope="module")
def film(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("turn") / "turn.mp4"
    return numbered_clip(path, [n / 30 for n in range(300)], size=(320, 180))


@pytest.fixture
def clip(client: FlaskClient, settings: Settings, film: Path, brought_in: BroughtIn) -> int:
    """10 s at 30 frames/s in a pool of 25 m."""
    return brought_in(settings, [Swimmer("Ragna Stensvold")], (film, {"pool_m": 25}))[0]


def mark(client: FlaskClient, clip: int, frame: int, event: str, **more: object) -> TestResponse:
    lane = "course" if event == "pass" else "wall"
    form = {"frame": frame, "lane": lane, "side": "", "event": event, **more}
    return client.post(f"/clips/{clip}/marks", data=form)


def test_a_turn_is_timed_and_drawn(client: FlaskClient, clip: int) -> None:
    assert ">Wall<" not in client.get(f"/clips/{clip}/").text
    for frame, event, more in (
        (30, "pass", {"metres": "20"}), (75, "touch", {}), (99, "push", {}),
        (150, "pass", {"metres": "5"}), (180, "breakout", {}), (240, "pass", {"metres": "10,0"}),
    ):  # fmt: skip
        answer = mark(client, clip, frame, event, **more)
        assert answer.status_code == 200, event
    page = client.get(f"/clips/{clip}/").text
    assert ">Wall<" in page
    assert "20 m</text>" in page
    # By hand: 24 frames from touch to push; 81 from push to breakout; 120 from pass to pass;
    # the breakout lies a third of the way from 5 m (frame 150) to 10 m (frame 240).
    for name, value in (("Touch to push-off", "0.80"), ("Under water", "2.70"),
                        ("5 m in to 5 m out", "4.00"), ("Breakout distance", "6.7"),
                        ("Speed", "1.67")):  # fmt: skip
        at = page.rindex(f">{name}<")
        assert f">{value}</b>" in page[at : at + 600], name
    assert "Pass 20 m" in mark(client, clip, 31, "pass", metres=20).text


@pytest.mark.parametrize("metres", ["", "x", "-1", "26", "nan"])
def test_a_pass_needs_its_metres(client: FlaskClient, clip: int, metres: str) -> None:
    answer = mark(client, clip, 30, "pass", metres=metres)
    assert answer.status_code == 422
    assert "0 to 25 m" in answer.text
    assert mark(client, clip, 30, "push", side="left").status_code == 422
