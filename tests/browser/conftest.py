"""A browser, a server with its own data folder, and a page on which nothing may go wrong unseen."""

from __future__ import annotations

import sqlite3
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from norvik.intake.receive import receive
from norvik.jobs.runner import run_through
from norvik.settings import Settings
from norvik.store import club, swimmers, users
from norvik.store.clips import Facts
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.browser.serving import Server, chromium, end, sign_in, start_worker
from tests.conftest import PASSWORD, PASSWORD_HASH

#: Tests wait for what they ask for; how long that may take on a busy machine is no part of them.
PATIENCE_MS = 45_000
expect.set_options(timeout=PATIENCE_MS)

EMAIL = "coach@kvarnholm.example"
SQUAD = ("Tilde Vassholm", "Eirik Lundstrand")


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with chromium() as started:
        yield started


@pytest.fixture
def database(settings: Settings) -> Iterator[sqlite3.Connection]:
    with connected(settings.database) as connection:
        users.add(connection, EMAIL, "Sunniva Kragholt", "head-coach", PASSWORD_HASH)
        # Reading by itself takes a processor, which these tests need for what they are about.
        club.set_reads_films(connection, False)
        yield connection


@pytest.fixture
def squad(database: sqlite3.Connection) -> list[int]:
    return [swimmers.add(database, Swimmer(name)) for name in SQUAD]


@pytest.fixture
def server(settings: Settings, database: sqlite3.Connection) -> Iterator[Server]:
    started = Server(settings)
    yield started
    started.stop()


@pytest.fixture
def worker(settings: Settings, server: Server) -> Iterator[None]:
    started = start_worker(settings)
    yield
    end(started)


def _no_fault(told: str) -> bool:
    """Whether a line of the console tells of no fault of the page's scripts.

    The browser itself tells of each refused or lost request; the page answers for them. A request
    that is given up, since a newer one replaces it or the page is left, is told by htmx in two
    lines; one that fails has "sendError" or "timeout" beside its "afterRequest".
    """
    return "Failed to load resource" in told or told.startswith(
        ("htmx:afterRequest,", "htmx:sendAbort,")
    )


@contextmanager
def opened(
    browser: Browser, server: Server, script: str | None = None, **context: object
) -> Iterator[Page]:
    """A signed-in page at 1280x800 whose script errors fail the test. script: runs before all."""
    made = browser.new_context(**{"viewport": {"width": 1280, "height": 800}, **context})  # type: ignore[arg-type]
    try:
        page = made.new_page()
        page.set_default_timeout(PATIENCE_MS)
        if script:
            page.add_init_script(script)
        faults: list[str] = []
        page.on("pageerror", lambda error: faults.append(str(error)))
        page.on(
            "console",
            lambda m: (
                faults.append(m.text) if m.type == "error" and not _no_fault(m.text) else None
            ),
        )
        sign_in(page, server.address, EMAIL, PASSWORD)
        yield page
        assert faults == []
    finally:
        made.close()


@pytest.fixture
def page(browser: Browser, server: Server) -> Iterator[Page]:
    with opened(browser, server) as made:
        yield made


def until(page: Page, holds: Callable[[], bool]) -> None:
    """Waits, while the page goes on, until something outside of it holds."""
    end = time.monotonic() + PATIENCE_MS / 1000
    while not holds():
        assert time.monotonic() < end, "it never came"
        page.wait_for_timeout(50)


def bring_in(
    settings: Settings, database: sqlite3.Connection, path: Path, swimmer_id: int | None
) -> int:
    """A clip that is ready, prepared in this process; gives its id."""
    with path.open("rb") as stream:
        facts = Facts(swimmer_id, filmed_on="2026-11-20")
        clip_id, job_id = receive(settings, database, stream, path.name, facts)
    run_through(settings, job_id)
    return clip_id
