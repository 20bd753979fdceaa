"""Two films held in step by keys alone: every frame shown is the one that belongs there."""

from __future__ import annotations

import random
import re
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
    expect(page.locator("[data-lane='0'] text").first).to_have_text("entry 0.13 s, 8 frames")
    expect(page.locator("[data-lane='1'] text").first).to_have_text("entry 0.33 s, 10 frames")
    page.keyboard.press("]")
    expect(page.locator("#cycle")).to_have_text("2 of 2 · 2 of 2")
    expect(page.locator("[data-film='0'] [data-show='frame']")).to_have_text("65")
    assert shown(page) == (65, 45, 45)
    # By hand: hold one, move the other, set.
    page.keyboard.press("h")
    expect(page.locator("#told")).to_contain_text("Shift with the arrows")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    expect(page.locator("[data-film='1'] [data-show='frame']")).to_have_text("48")
    page.keyboard.press("Enter")
    expect(page.locator("#told")).to_contain_text("Set.")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    assert shown(page) == (67, 49, 49)
    # Laid over each other, mirrored, and back to the phases.
    page.keyboard.press("o")
    expect(page.locator("#films")).to_have_attribute("data-laid", "over")
    page.keyboard.press("m")
    expect(page.get_by_role("button", name="mirror")).to_have_attribute("aria-pressed", "true")
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


def open_page(page: Page, server: Server, address: str) -> None:
    page.goto(f"{server.address}{address}")
    page.wait_for_selector('#beside[data-ready="true"]')


def click_at(page: Page, film: int, x: float, y: float) -> None:
    """Click a place of a film's picture, in source pixels."""
    at = page.evaluate(
        "([n, x, y]) => { const svg = document.querySelectorAll('.beside-drawn')[n];"
        " const p = new DOMPoint(x, y).matrixTransform(svg.getScreenCTM()); return [p.x, p.y]; }",
        [film, x, y],
    )
    page.mouse.click(*at)


def on_screen(page: Page, film: int, x: float, y: float) -> tuple[float, float]:
    """Where a place of a film's picture lies in its box, as shares of it."""
    found = page.evaluate(
        "([n, x, y]) => { const svg = document.querySelectorAll('.beside-drawn')[n];"
        " const box = svg.closest('.beside-picture').getBoundingClientRect();"
        " const p = new DOMPoint(x, y).matrixTransform(svg.getScreenCTM());"
        " return [(p.x - box.left) / box.width, (p.y - box.top) / box.height]; }",
        [film, x, y],
    )
    return found[0], found[1]


def test_trunk_on_trunk_lays_shoulder_and_hip_on_each_other(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    """The second swimmer is half as large and swims the other way."""
    open_page(page, server, "/clips/2/beside/")
    page.keyboard.press("y")
    expect(page.locator("#told")).to_contain_text("press T")
    page.keyboard.press("t")
    for film, what, x, y in ((0, "first", 400, 100), (0, "first", 300, 110),
                             (1, "second", 200, 150), (1, "second", 250, 155)):  # fmt: skip
        expect(page.locator("#told")).to_contain_text(f"in the {what} film")
        click_at(page, film, x, y)
        page.wait_for_timeout(150)
    expect(page.locator("#told")).to_contain_text("Y lays trunk on trunk")
    page.keyboard.press("y")
    expect(page.get_by_role("button", name="trunk on trunk")).to_have_attribute(
        "aria-pressed", "true"
    )
    for mine, theirs in (((400, 100), (200, 150)), ((300, 110), (250, 155))):
        assert on_screen(page, 1, *theirs) == pytest.approx(on_screen(page, 0, *mine), abs=0.006)
    # Below the hip stays below it.
    assert on_screen(page, 1, 250, 200)[1] > on_screen(page, 1, 250, 155)[1]
    # Enlarged, both are, around the same place.
    page.keyboard.press(".")
    assert on_screen(page, 1, 200, 150) == pytest.approx(on_screen(page, 0, 400, 100), abs=0.006)
    page.keyboard.press("0")
    # The page proposes the mirror by itself from now on.
    open_page(page, server, "/clips/2/beside/")
    expect(page.locator("#told")).to_contain_text("opposite directions")
    expect(page.locator("[data-film='1']")).to_have_class(re.compile("mirrored"))


def test_each_film_keeps_its_own_place_or_all_move_together(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    open_page(page, server, "/clips/2/beside/")

    def scales() -> list[float]:
        found: list[float] = page.evaluate("() => window.norvik.places.looks.map((l) => l.scale)")
        return found

    page.keyboard.press(".")
    assert scales() == [1.25, 1.25]
    page.keyboard.press("b")
    page.keyboard.press(".")
    assert scales() == pytest.approx([1.5625, 1.25])
    page.keyboard.press("b")
    assert scales() == pytest.approx([1.5625, 1.5625])


def test_a_pair_goes_into_the_review_by_keys(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    open_page(page, server, "/clips/2/beside/")
    for _ in range(8):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("k")
    page.keyboard.type("Catch with a high elbow")
    page.keyboard.press("Enter")
    expect(page.locator("#told")).to_contain_text("Pair added to the review.")
    page.get_by_role("link", name="See it in the review").click()
    expect(page.locator("#pairs")).to_contain_text("Catch with a high elbow")
    assert page.locator("#pairs img").count() == 2


def test_films_are_chosen_by_keys_and_a_third_goes_along(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    open_page(page, server, "/clips/2/beside/")
    page.keyboard.press("f")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Escape")
    expect(page.locator("[name=with]")).to_have_value("1")
    page.keyboard.press("f")
    # Arrows pass by others: nothing is loaded before Enter.
    page.keyboard.press("ArrowDown")
    page.keyboard.type("this clip")
    assert "with=" not in page.url
    page.keyboard.press("Enter")
    page.wait_for_url("**with=2*")
    expect(page.locator("#told")).to_contain_text("no whole cycle of this arm")
    open_page(page, server, "/clips/2/beside/?with=1&third=2&third_side=right&k=1")
    assert page.locator(".beside-lane").count() == 3
    found = page.evaluate(
        "async () => { const n = window.norvik; await n.third.settled();"
        " return [n.stage.shown, n.other.shown, n.third.shown]; }"
    )
    assert found == [5, 5, 65]


def test_a_phase_is_repeated(page: Page, server: Server, database: sqlite3.Connection) -> None:
    open_page(page, server, "/clips/2/beside/")
    for _ in range(10):
        page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+L")
    assert page.evaluate("() => window.norvik.stage.loop") == {"from": 13, "to": 25}
    page.keyboard.press("l")
    assert page.evaluate("() => window.norvik.stage.loop") == {"from": 5, "to": 65}
    page.keyboard.press("l")
    assert page.evaluate("() => window.norvik.stage.loop") == {"from": None, "to": None}


def test_two_cameras_are_tied_and_a_mark_is_in_both(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    open_page(page, server, "/clips/2/beside/")
    page.keyboard.press("h")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    expect(page.locator("[data-film='1'] [data-show='frame']")).to_have_text("8")
    page.keyboard.press("x")
    expect(page.locator("#told")).to_contain_text("Tied: both run by one clock.")
    page.get_by_text("Two cameras: tied").click()
    expect(page.get_by_text("a mark in one film is a mark in both")).to_be_visible()
    before = len(marks.of_clip(database, 1))
    open_page_of_bench(page, server, 2, 45)
    page.keyboard.press("r")
    page.keyboard.press("f")
    expect(page.locator("#told")).to_contain_text("marked on frame 45")
    assert len(marks.of_clip(database, 1)) == before + 1


def open_page_of_bench(page: Page, server: Server, clip: int, frame: int) -> None:
    page.goto(f"{server.address}/clips/{clip}/?frame={frame}")
    page.wait_for_selector('#bench[data-ready="true"]')


def test_several_wait_for_frames_at_once_and_all_come(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    """One waits to show a frame while others have it made ready: nobody waits for ever."""
    open_page(page, server, "/clips/2/beside/")
    came = page.evaluate(
        "() => { const d = window.norvik.other.decoder; if (!d) return null;"
        " return Promise.all([100, 20, 100, 140, 20].map((n) => d.ready(n))).then(() => true); }"
    )
    assert came in (True, None)
    page.evaluate("() => { window.norvik.stage.goto(150); window.norvik.player.toggle(); }")
    page.wait_for_function("() => window.norvik.stage.shown > 155")
    page.evaluate("() => window.norvik.player.stop()")
