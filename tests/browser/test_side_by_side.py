"""Two films held in step by keys alone: every frame shown is the one that belongs there."""

from __future__ import annotations

import random
import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from norvik.settings import Settings
from norvik.store import marks
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.browser.serving import READ_NUMBER, Server
from tests.clips import numbered_clip
from tests.conftest import BroughtIn

WIDTH = 640
#: The same of the second film.
READ_SECOND = READ_NUMBER.replace("window.norvik.stage", "window.norvik.other")


@pytest.fixture(scope="session")
def two_rates(tmp_path_factory: pytest.TempPathFactory) -> list[Path]:
    folder = tmp_path_factory.mktemp("rates")
    return [
        numbered_clip(folder / "slow.mp4", [k / 30 for k in range(150)]),
        numbered_clip(folder / "fast.mp4", [k / 60 for k in range(220)]),
    ]


@pytest.fixture
def database(
    settings: Settings, brought_in: BroughtIn, two_rates: list[Path]
) -> Iterator[sqlite3.Connection]:
    before, after = two_rates
    brought_in(settings, [Swimmer("Tilde Vassholm")], (before, {"filmed_on": "2026-11-20"}),
               (after, {"filmed_on": "2026-11-27"}))  # fmt: skip
    with connected(settings.database) as connection:
        for clip, length, events in ((1, 40, (0, 10, 16, 28)), (2, 60, (0, 8, 20, 40))):
            for begin in (5, 5 + length, 5 + 2 * length):
                for event, at in zip(("entry", "catch", "press", "exit"), events, strict=True):
                    marks.place(connection, clip, None, begin + at, "arm", "right", event)
        yield connection


def shown(page: Page) -> tuple[int, int, int]:
    """(frame of the first film, of the second, the second one that belongs to the first)."""
    found = page.evaluate(
        "async () => { const n = window.norvik; await n.stage.settled(); await n.other.settled();"
        " return [n.stage.shown, n.other.shown, n.pairOf(n.stage.shown)]; }"
    )
    return tuple(found)  # type: ignore[return-value]


def test_both_films_go_in_step_by_keys_alone(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    page.goto(f"{server.address}/clips/2/beside/")
    page.wait_for_selector('#beside[data-ready="true"]')
    assert shown(page) == (5, 5, 5)
    for _ in range(8):
        page.keyboard.press("ArrowRight")
    # From entry to catch: eight frames of the one, ten of the other.
    assert shown(page) == (13, 15, 15)
    expect(page.locator("[data-bar='0'] span").first).to_contain_text("8 frames")
    expect(page.locator("[data-bar='1'] span").first).to_contain_text("10 frames")
    page.keyboard.press("]")
    expect(page.locator("#cycle")).to_have_text("2 of 2 · 2 of 2")
    expect(page.locator("[data-film='one'] [data-show='frame']")).to_have_text("65")
    assert shown(page) == (65, 45, 45)
    # By hand: hold one, move the other, set.
    page.keyboard.press("h")
    expect(page.locator("#told")).to_contain_text("Shift with the arrows")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    expect(page.locator("[data-film='other'] [data-show='frame']")).to_have_text("48")
    page.keyboard.press("Enter")
    expect(page.locator("#told")).to_contain_text("Set.")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    assert shown(page) == (67, 49, 49)
    # Laid over each other, mirrored, and back to the phases.
    page.keyboard.press("o")
    expect(page.locator("#films")).to_have_attribute("data-laid", "over")
    page.keyboard.press("m")
    expect(page.get_by_role("button", name="Mirror second")).to_have_attribute(
        "aria-pressed", "true"
    )
    page.keyboard.press("p")
    expect(page.get_by_role("button", name="by phase")).to_have_attribute("aria-pressed", "true")


def test_no_pair_is_wrong_on_the_screen(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    page.goto(f"{server.address}/clips/2/beside/")
    page.wait_for_selector('#beside[data-ready="true"]')
    chance = random.Random(5)
    wrong = []
    for _ in range(120):
        frame = chance.randrange(220)
        page.evaluate("(n) => window.norvik.stage.goto(n)", frame)
        _, _, wanted = shown(page)
        # Read out of the pictures themselves.
        seen = page.evaluate(READ_NUMBER, WIDTH), page.evaluate(READ_SECOND, WIDTH)
        if seen != (frame, wanted):
            wrong.append((frame, wanted, seen))
    assert not wrong
