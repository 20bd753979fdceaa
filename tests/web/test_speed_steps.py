"""The page of speed steps, the table of marks, and numbers that come when they are asked for."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import marks, swimmers
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.clips import numbered_clip
from tests.conftest import BroughtIn

CYCLES = {90: 40, 75: 32, 62: 25}  # pace in seconds: frames a cycle, at 30 frames/s


@pytest.fixture(scope="module")
def films(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    folder = tmp_path_factory.mktemp("steps")
    return [
        (
            numbered_clip(folder / f"{pace}.mp4", [k / 30 for k in range(130 + n)]),
            {"role": "speed-step", "pace_s": float(pace)},
        )
        for n, pace in enumerate(CYCLES)
    ]


@pytest.fixture
def steps(
    client: FlaskClient,
    settings: Settings,
    films: list[tuple[Path, dict[str, object]]],
    brought_in: BroughtIn,
) -> dict[int, int]:
    """A clip for each pace."""
    ids = brought_in(settings, [Swimmer("Tilde Vassholm")], *films)
    made = dict(zip(CYCLES, ids, strict=True))
    with connected(settings.database) as connection:
        for pace, frames in CYCLES.items():
            for begin in range(0, 3 * frames, frames):
                for event, share in (("entry", 0), ("catch", 0.3), ("press", 0.4), ("exit", 0.7)):
                    frame = begin + round(share * frames)
                    marks.place(connection, made[pace], None, frame, "arm", "right", event)
    return made


def test_every_quantity_against_speed(client: FlaskClient, steps: dict[int, int]) -> None:
    page = client.get("/swimmers/1/steps").text
    for speed in ("1.11 m/s", "1.33 m/s", "1.61 m/s"):
        assert speed in page
    assert "from the pace 1:30.00" in page
    assert page.index("Distance per cycle") < page.index("Stroke index") < page.index("Recovery")
    # 45 to 72 cycles/min; 1.48 to 1.34 m a cycle.
    assert "+25 %</b> rate, <b>−4 %" in page
    # Rate, distance and index are drawn; the shares hold, so they stand in the table alone.
    assert page.count("<figure") == 3
    assert "More strokes, less speed" not in page


def test_a_step_that_cannot_be_placed_says_why(
    client: FlaskClient, steps: dict[int, int], settings: Settings
) -> None:
    with connected(settings.database) as connection:
        connection.execute("UPDATE clips SET pace_s = NULL WHERE id = ?", (steps[75],))
        connection.execute("DELETE FROM marks WHERE clip_id = ?", (steps[62],))
    page = client.get("/swimmers/1/steps").text
    assert "neither its pace nor two passes are known" in page
    assert "no whole cycle is marked" in page
    assert "At least two steps with a rate and a speed are needed" in page


def test_without_steps_it_says_how_to_make_them(client: FlaskClient, settings: Settings) -> None:
    with connected(settings.database) as connection:
        swimmers.add(connection, Swimmer("Tilde Vassholm"))
    assert "No speed step yet" in client.get("/swimmers/1/steps").text
    assert client.get("/swimmers/9/steps").status_code == 404
    assert 'href="/swimmers/1/steps"' in client.get("/swimmers/1").text


def test_all_marks_as_a_table(
    client: FlaskClient, steps: dict[int, int], settings: Settings
) -> None:
    clip = steps[90]
    with connected(settings.database) as connection:
        marks.place(connection, clip, None, 3, "arm", "right", "entry")
    page = client.get(f"/clips/{clip}/files/marks").text
    assert page.count('<tr class="row">') == 13
    assert f'href="/clips/{clip}/?frame=12"' in page
    assert "a second hand entry of this arm within 0.4 s" in page
    assert f'href="/clips/{clip}/files/marks"' in client.get(f"/clips/{clip}/").text
    assert f'href="/clips/{clip}/files/marks"' in client.get(f"/clips/{clip}/facts").text


def test_after_a_mark_only_the_open_topic_is_written(
    client: FlaskClient, steps: dict[int, int]
) -> None:
    url = f"/clips/{steps[90]}"
    whole = client.get(f"{url}/").text
    assert "data-later" not in whole
    data = {"frame": 5, "lane": "leg", "side": "left", "event": "beat", "topic": "phases"}
    answer = client.post(f"{url}/marks", data=data).text
    assert answer.count("data-later") == 4
    assert "of the cycle" not in answer
    assert "Recovery" in answer
    # What the page has already is not sent again; what changed is.
    tags = [part.split('"')[0] for part in answer.split('data-tag="')[1:]]
    again = client.get(f"{url}/parts?frame=5&topic=phases&have={'+'.join(tags)}").text
    assert again.count("data-same") == len(tags) == 4
    assert 'class="tick' not in again
    changed = client.post(
        f"{url}/marks", data={**data, "frame": 9, "side": "right", "have": " ".join(tags)}
    ).text
    assert changed.count("data-same") == 3
    assert changed.count('class="tick') == 2


def test_next_means_what_the_server_expects(
    client: FlaskClient, steps: dict[int, int], settings: Settings
) -> None:
    url = f"/clips/{steps[90]}/marks"
    for frame, lane, side, named in (
        (121, "arm", "right", "Right hand entry"),
        (10, "breath", "left", "Left head turn"),
        (15, "breath", "left", "Left mouth out"),
        (22, "breath", "left", "Face back in"),
        (124, "wall", "", "Touch"),
    ):
        data = {"frame": frame, "lane": lane, "side": side, "event": "next"}
        answer = client.post(url, data=data)
        assert answer.status_code == 200, answer.text
        assert f"{named} marked on frame {frame}" in answer.text
