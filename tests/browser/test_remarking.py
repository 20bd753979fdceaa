"""Re-marking blind, the two plus-minus and the check of a lens, with keys and mouse."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from norvik.settings import Settings
from norvik.store import cameras, marked_again, marks
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.browser.serving import Server
from tests.browser.test_drawing import client_of, open_bench
from tests.clips import numbered_clip
from tests.conftest import BroughtIn


@pytest.fixture(scope="module")
def film(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return numbered_clip(tmp_path_factory.mktemp("again") / "f.mp4", [k / 30 for k in range(120)])


@pytest.fixture
def settings(tmp_path: Path, film: Path, brought_in: BroughtIn) -> Settings:
    made = Settings(tmp_path / "data")
    made.prepare()
    brought_in(made, [Swimmer("Tilde Vassholm")], (film, {"view": "side-under"}))
    return made


@pytest.fixture
def database(settings: Settings) -> Iterator[sqlite3.Connection]:
    with connected(settings.database) as connection:
        for begin in (2, 34, 66):
            for event, at in (("entry", 0), ("catch", 8), ("press", 13), ("exit", 24)):
                marks.place(connection, 1, None, begin + at, "arm", "right", event)
        yield connection


def test_marks_are_placed_anew_with_the_arrows_and_one_key(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    open_bench(page, server, 10)
    page.locator("#about-plus-minus summary").click()
    page.get_by_role("link", name="Re-mark blind").click()
    page.get_by_role("button", name="Re-mark", exact=True).click()
    page.wait_for_selector('#judge-stage[data-ready="true"]')
    known = {m.id: m for m in marks.of_clip(database, 1)}
    for n in range(12):
        expect(page.locator("#ask")).to_contain_text(f"{n + 1} of 12")
        asked = known[int(page.locator('#ask input[name="mark"]').get_attribute("value") or 0)]
        # Nothing on the page tells where the first mark lies.
        assert f"frame {asked.frame}" not in page.locator("#ask").inner_text()
        place = int(page.locator("#ask").get_attribute("data-place") or 0)
        page.wait_for_function("f => window.norvik.stage.shown === f", arg=place)
        to = asked.frame + 1
        for _ in range(abs(to - place)):
            page.keyboard.press("ArrowRight" if to > place else "ArrowLeft")
        page.wait_for_function("f => window.norvik.stage.shown === f", arg=to)
        page.keyboard.press("f")
    expect(page.get_by_role("heading", name="All 12 are re-marked")).to_be_visible()
    again = marked_again.of_clip(database, 1)
    assert [m.again_frame - m.first_frame for m in again] == [1] * 12
    page.get_by_role("link", name="How well the two agree").click()
    expect(page.get_by_role("region", name="Marks of Coach")).to_contain_text("+1.0")


def test_the_plus_minus_of_the_clip_and_of_the_swimmer(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    open_bench(page, server, 10)
    details = page.locator("#about-plus-minus")
    expect(details.locator("summary .of-clip")).to_be_visible()
    shown = page.locator(".rate .by-strokes").first
    of_clip = shown.inner_text()
    details.locator("summary").click()
    page.get_by_role("button", name="Show ± of the swimmer").click()
    expect(details.locator("summary .of-swimmer")).to_be_visible()
    assert shown.inner_text() != of_clip
    # It stays chosen on the next visit.
    open_bench(page, server, 10)
    expect(details.locator("summary .of-swimmer")).to_be_visible()


def test_a_lens_is_checked_by_clicks_along_a_rope(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    open_bench(page, server, 10)
    page.get_by_role("button", name="Measure").click()
    page.get_by_role("tab", name="Scale").click()
    page.get_by_label("or a new one").fill("Pole camera")
    page.get_by_role("button", name="Set camera").click()
    expect(page.locator("#drawing-said")).to_have_text("Filmed with Pole camera")
    page.get_by_label("Housing").select_option("dome")
    page.get_by_role("button", name="Set camera").click()
    page.get_by_role("button", name="Check with a straight line").click()
    # A rope that a wide lens bows upwards in its middle.
    for x, y in ((20, 60), (170, 44), (320, 38), (470, 44), (620, 60)):
        page.mouse.click(*client_of(page, x, y))
    page.keyboard.press("Enter")
    expect(page.locator("#drawing-said")).to_contain_text("The lens bends straight lines")
    (camera,) = cameras.every(database)
    assert (camera.name, camera.housing) == ("Pole camera", "dome")
    assert camera.k < -2 * camera.u_k < 0
    assert len(camera.lines) == 1
    # A line through the middle tells nothing, is said so, and is not kept.
    page.get_by_role("button", name="Check with a straight line").click()
    for x in (30, 320, 610):
        page.mouse.click(*client_of(page, x, 180))
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Forget the lines of the lens").click()
    expect(page.locator("#drawing-said")).to_have_text("The lens is no longer checked")
    assert cameras.every(database)[0].lines == ()
