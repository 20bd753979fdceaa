"""The library with ten thousand clips, and the pages of a house twice as large, over HTTP."""

from __future__ import annotations

import random
import time
from pathlib import Path

from tests.browser.serving import Server
from tests.uploading import add_recording

from bench.figures import line, percentiles
from bench.intake import Browser
from bench.people import add_coach
from norvik.core.strokes import STROKES
from norvik.files.footage import COPIES, ORIGINALS
from norvik.settings import Settings
from norvik.store import clips, reviews, swimmers
from norvik.store.clips import ROLES, VIEWS, Facts
from norvik.store.connection import connected, transaction
from norvik.store.swimmers import Swimmer

CLIPS, SWIMMERS = 10_000, 60
LARGE_CLIPS, LARGE_SWIMMERS = 20_000, 1_000


def run(room: Path) -> None:
    settings = Settings(room / "library")
    coach = add_coach(settings)
    _fill(settings, coach, CLIPS, SWIMMERS)
    server = Server(settings)
    try:
        browser = Browser(server)
        asked = ["", "?page=7", "?page=199", "?swimmer=7", "?stroke=butterfly&view=side-under",
                 "?state=waiting", "?state=reviewed", "?state=to-sort", "?words=swimmer+12",
                 "?words=nothing+like+it", "?session=2026-03", "?role=race&words=back"]  # fmt: skip
        for name, headers in (("page", {}), ("list for a filter", {"HX_Request": "true"})):
            times = []
            for _ in range(12):
                for query in asked:
                    began = time.perf_counter()
                    status, _, _ = browser.send("GET", f"/library/{query}", b"", **headers)
                    times.append(1000 * (time.perf_counter() - began))
                    assert status == 200, status
            goal = "p95 under 150" if name == "page" else ""
            line(f"library {name}, {CLIPS:,} clips", percentiles(times), goal)
    finally:
        server.stop()


def run_large(room: Path) -> None:
    """What is opened every day, where there are very many."""
    settings = Settings(room / "large")
    coach = add_coach(settings)
    _fill(settings, coach, LARGE_CLIPS, LARGE_SWIMMERS)
    server = Server(settings)
    try:
        browser = Browser(server)
        pages = {
            "Today": "/", "Library": "/library/", "Library, last page": "/library/?page=399",
            "search": "/library/?words=swimmer+12", "Swimmers": "/swimmers/",
            "a swimmer": "/swimmers/7", "Squads": "/squads/",
            "Storage": "/storage/",
        }  # fmt: skip
        _put_films(settings)
        began = time.perf_counter()
        browser.send("GET", "/storage/", b"")
        first = 1000 * (time.perf_counter() - began)
        line(f"Storage, first look at {2 * LARGE_CLIPS:,} files", f"{first:.0f} ms", "")
        for name, path in pages.items():
            times = []
            for _ in range(25):
                began = time.perf_counter()
                status, _, _ = browser.send("GET", path, b"")
                times.append(1000 * (time.perf_counter() - began))
                assert status == 200, (path, status)
            line(f"{name}, {LARGE_CLIPS:,} clips of {LARGE_SWIMMERS:,}", percentiles(times),
                 "p95 under 200")  # fmt: skip
    finally:
        server.stop()


def _put_films(settings: Settings) -> None:
    """An original and a review copy of every recording, as far as their size is asked for."""
    with connected(settings.database) as connection:
        numbers = [row["id"] for row in connection.execute("SELECT id FROM recordings")]
        connection.execute(
            "UPDATE recordings SET original_path = ? || '/' || id || '.mp4'", (ORIGINALS,)
        )
    for folder in (ORIGINALS, COPIES):
        (settings.files / folder).mkdir(parents=True, exist_ok=True)
        for number in numbers:
            (settings.files / folder / f"{number}.mp4").write_bytes(b"film")


def _fill(settings: Settings, coach: int, count: int, people: int) -> None:
    rng = random.Random(11)
    with connected(settings.database) as connection, transaction(connection):
        squad = [swimmers.add(connection, Swimmer(f"Swimmer {n}")) for n in range(people)]
        for n in range(count):
            recording = add_recording(connection, f"clip-{n}.mp4")
            facts = Facts(
                rng.choice([*squad, None]),
                stroke=rng.choice(tuple(STROKES)),
                view=rng.choice(VIEWS),
                role=rng.choice(ROLES),
                filmed_on=f"2026-{rng.randint(1, 11):02}-{rng.randint(1, 28):02}",
            )
            clip = clips.add(connection, recording, facts, coach)
            if rng.random() < 0.6:
                held = reviews.id_of_clip(connection, clip)
                if held is not None:
                    reviews.set_done(connection, held, True)
        connection.execute("UPDATE recordings SET state = 'ready', frames = 2400")
