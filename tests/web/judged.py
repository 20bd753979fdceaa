"""A clip with marks, ticks and chosen points, for tests of what comes after judging."""

from __future__ import annotations

import sqlite3
from pathlib import Path

from flask.testing import FlaskClient

from norvik.settings import Settings
from norvik.store import marks, reviews
from norvik.store.connection import connected
from norvik.store.reviews import Review
from norvik.store.swimmers import Swimmer
from tests.clips import numbered_clip
from tests.conftest import BroughtIn

SWIMMER = Swimmer("Tilde Vassholm", kit=("fins", "buoy"), aim="400 m without a stop")


def films(folder: Path, *days: str) -> list[tuple[Path, dict[str, object]]]:
    return [
        (
            numbered_clip(folder / f"{n}.mp4", [k / 30 for k in range(150 + n)]),
            {"filmed_on": day, "pool_m": 25.0},
        )
        for n, day in enumerate(days)
    ]


def tick(client: FlaskClient, clip: int, *ticks: tuple[str, str]) -> None:
    """Ticks as (what, degree), or (what, "") to take one away."""
    for what, degree in ticks:
        client.post(f"/clips/{clip}/judge/seen", data={"what": what, "degree": degree})


def choose(client: FlaskClient, clip: int, *faults: str) -> None:
    for fault in faults:
        client.post(f"/clips/{clip}/judge/focus", data={"fault": fault})


def judged(
    client: FlaskClient, settings: Settings, brought_in: BroughtIn,
    made: list[tuple[Path, dict[str, object]]],
) -> list[int]:  # fmt: skip
    """Clips with three even cycles; on the first two points were found and chosen."""
    ids = brought_in(settings, [SWIMMER], *made)
    with connected(settings.database) as connection:
        for clip in ids:
            for begin in range(0, 120, 40):
                for event, at in (("entry", 0), ("catch", 10), ("press", 16), ("exit", 28)):
                    marks.place(connection, clip, None, begin + at, "arm", "right", event)
    tick(client, ids[0], ("head-forward", "clear"), ("back-arch", "slight"),
         ("quiet-head", "clear"), ("long-line", "clear"))  # fmt: skip
    choose(client, ids[0], "back-arch", "head-forward")
    return ids


def review(client: FlaskClient, clip: int) -> str:
    """Address of the review in which a clip is judged."""
    answer = client.get(f"/clips/{clip}/review/")
    assert answer.status_code == 302, answer.status_code
    return str(answer.location)


def review_stored(connection: sqlite3.Connection, clip: int) -> Review:
    """The stored review that holds a clip."""
    found = reviews.id_of_clip(connection, clip)
    assert found is not None
    return reviews.by_id(connection, found)
