"""The page that tells what really changed between two clips."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import marks, reviews
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.clips import numbered_clip
from tests.conftest import BroughtIn
from tests.web.judged import review

STRAIGHT, BENT = "100,100 300,100 500,120", "100,100 300,100 360,290"


@pytest.fixture(scope="module")
def films(tmp_path_factory: pytest.TempPathFactory) -> list[tuple[Path, dict[str, object]]]:
    folder = tmp_path_factory.mktemp("change")
    return [
        (
            numbered_clip(folder / f"{n}.mp4", [k / 30 for k in range(150 + n)]),
            {"filmed_on": day, "role": role, "swimmer_id": swimmer},
        )
        for n, (day, role, swimmer) in enumerate(
            (("2026-10-01", "before", 1), ("2026-11-20", "after", 1), ("2026-11-21", "before", 2))
        )
    ]


@pytest.fixture
def clips(
    client: FlaskClient,
    settings: Settings,
    films: list[tuple[Path, dict[str, object]]],
    brought_in: BroughtIn,
) -> list[int]:
    """Before: 24 frames a cycle and a straight arm; after: 18 and a bent one."""
    ids = brought_in(settings, [Swimmer("Tilde Vassholm"), Swimmer("Eirik Lundstrand")], *films)
    with connected(settings.database) as connection:
        # The bend of the elbow is seen from the front.
        connection.execute("UPDATE clips SET view = 'front-under'")
        for clip, frames in zip(ids, (24, 18, 18), strict=True):
            for begin in range(0, 6 * frames, frames):
                for event, share in (("entry", 0), ("catch", 0.3), ("press", 0.4), ("exit", 0.7)):
                    frame = begin + round(share * frames)
                    marks.place(connection, clip, None, frame, "arm", "right", event)
    for clip, points in ((ids[0], STRAIGHT), (ids[1], BENT)):
        for frame in (12, 50):
            client.post(f"/clips/{clip}/drawings/",
                        data={"kind": "measure", "name": "elbow-angle", "side": "right",
                              "frame": frame, "points": points})  # fmt: skip
    return ids


def test_what_changed_is_told_with_its_doubt(
    client: FlaskClient, clips: list[int], settings: Settings
) -> None:
    with connected(settings.database) as connection:
        held = reviews.id_of_clip(connection, clips[0])
        assert held is not None
        reviews.choose(connection, held, [("freestyle", "straight-arm")])
    page = client.get(f"/clips/{clips[1]}/change/").text
    assert "<b>1</b> better" in page
    assert "Elbow angle in the pull, right" in page
    assert "▲ better" in page
    assert "worked on" in page
    assert "● changed" in page  # the rate, which no band calls better
    assert page.index("▲ better") < page.index("● changed") < page.rindex("no real change")
    # The other way round it is the same pair: the earlier day stands first.
    assert "▲ better" in client.get(f"/clips/{clips[0]}/change/?with={clips[1]}").text
    assert f"/clips/{clips[1]}/change/" in client.get(review(client, clips[1])).text


def test_without_another_clip_it_says_how_to_have_one(
    client: FlaskClient, clips: list[int]
) -> None:
    assert "No other clip of this stroke" in client.get(f"/clips/{clips[2]}/change/").text
    assert client.get(f"/clips/{clips[2]}/change/?with={clips[0]}").status_code == 403
    assert client.get("/clips/99/change/").status_code == 404
