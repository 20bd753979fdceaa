"""Drawing, measuring blind, following and keeping stills with mouse, finger and keys."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Browser, Page, expect

from norvik.model.dials import usual_swim
from norvik.model.film import Take, film
from norvik.settings import Settings
from norvik.store import drawings, references, stills, tracks
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from tests.browser.conftest import opened
from tests.browser.serving import Server
from tests.conftest import BroughtIn


@pytest.fixture(scope="module")
def swum(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("drawing") / "dots.mp4"
    film(Take(usual_swim("freestyle", 42, 4), seconds=2, fps=60, dots=True), path)
    return path


@pytest.fixture
def settings(tmp_path: Path, swum: Path, brought_in: BroughtIn) -> Settings:
    made = Settings(tmp_path / "data")
    made.prepare()
    brought_in(made, [Swimmer("Tilde Vassholm")], (swum, {"view": "side-under"}))
    return made


@pytest.fixture
def database(settings: Settings) -> Iterator[sqlite3.Connection]:
    with connected(settings.database) as connection:
        yield connection


def open_bench(page: Page, server: Server, frame: int) -> None:
    page.goto(f"{server.address}/clips/1/?frame={frame}")
    page.wait_for_selector('#bench[data-ready="true"]')


def client_of(page: Page, x: float, y: float) -> tuple[float, float]:
    """Where a source pixel is on the screen."""
    place = page.evaluate(
        "([x, y]) => { const p = new DOMPoint(x, y).matrixTransform("
        "document.getElementById('overlay').getScreenCTM()); return [p.x, p.y]; }",
        [x, y],
    )
    return place[0], place[1]


def click(page: Page, *places: tuple[float, float]) -> None:
    for place in places:
        page.mouse.click(*client_of(page, *place))


def draw(page: Page, way: str) -> None:
    page.locator(f'[data-do="draw"][data-way="{way}"]').click()


def said(page: Page, words: str) -> None:
    expect(page.locator("#drawing-said")).to_have_text(words)


def all_sent(page: Page) -> None:
    """Waits until the server has everything that was done on the page."""
    page.wait_for_function("() => !window.norvik.drawing.outbox.items.length")


def test_lines_are_drawn_moved_extended_and_taken_back(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    open_bench(page, server, 30)
    page.keyboard.press("Shift+D")
    draw(page, "slope")
    click(page, (200, 300), (400, 300))
    said(page, "Line")
    # As many corners as the hand likes; Backspace takes the last one back, Enter ends it.
    draw(page, "polyline")
    click(page, (500, 300), (600, 350), (650, 500))
    page.keyboard.press("Backspace")
    page.keyboard.press("Enter")
    said(page, "Chain of joints")
    page.get_by_role("button", name="Continue from its end").click()
    click(page, (700, 300))
    page.keyboard.press("Enter")
    expect(page.locator('#overlay circle.handle[data-point="2"]')).to_have_count(1)
    line, corners = drawings.of_clip(database, 1)
    assert len(corners.points) == 3
    # In one move of the hand.
    draw(page, "freehand")
    page.mouse.move(*client_of(page, 200, 500))
    page.mouse.down()
    page.mouse.move(*client_of(page, 300, 450), steps=8)
    page.mouse.move(*client_of(page, 400, 500), steps=8)
    page.mouse.up()
    said(page, "Line by hand")
    # The whole line is moved by taking hold of it anywhere.
    page.mouse.move(*client_of(page, 300, 300))
    page.mouse.down()
    page.mouse.move(*client_of(page, 300, 340), steps=4)
    page.mouse.up()
    expect(page.locator("#overlay text")).to_have_text(["0°"])
    all_sent(page)
    moved = drawings.by_id(database, 1, line.id)
    assert [p.y for p in moved.points] == pytest.approx([340, 340], abs=1.5)
    page.get_by_role("button", name="fault", exact=True).click()
    expect(page.locator(f'#overlay g.fault[data-drawing="{line.id}"]')).to_have_count(1)
    # Show on the whole clip, and copied to another frame.
    page.get_by_role("button", name="the whole clip").click()
    page.keyboard.press("ArrowRight")
    expect(page.locator("#overlay g.drawing")).to_have_count(1)
    page.locator('[data-do="drawing-copy"]').click()
    expect(page.locator("#overlay g.drawing")).to_have_count(2)
    for _ in range(3):
        page.keyboard.press("z")
    all_sent(page)
    said(page, "Line is as it was")
    page.keyboard.press("ArrowLeft")
    expect(page.locator("#overlay g.drawing")).to_have_count(3)
    assert drawings.by_id(database, 1, line.id).style == "neutral"


def test_a_finger_draws_under_a_magnifier(
    browser: Browser, server: Server, database: sqlite3.Connection
) -> None:
    with opened(browser, server, has_touch=True) as page:
        open_bench(page, server, 30)
        page.keyboard.press("Shift+D")
        page.locator('[data-do="draw"][data-way="arrow"]').tap()
        x, y = client_of(page, 300, 400)
        page.touchscreen.tap(x, y)
        cdp = page.context.new_cdp_session(page)
        x, y = client_of(page, 500, 420)
        touch = [{"x": x, "y": y - 20}]
        cdp.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": touch})
        glass = page.locator(".magnifier")
        expect(glass).to_be_visible()
        box = glass.bounding_box()
        assert box is not None
        assert box["y"] + box["height"] < y  # above the finger
        moved = [{"x": x, "y": y}]
        cdp.send("Input.dispatchTouchEvent", {"type": "touchMove", "touchPoints": moved})
        cdp.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
        said(page, "Direction")
        expect(glass).to_be_hidden()
    (arrow,) = drawings.of_clip(database, 1)
    assert arrow.points[1] == pytest.approx((500, 420), abs=2)


def test_measures_are_taken_again_without_seeing_the_first(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    # The bend of the elbow is seen from the front.
    database.execute("UPDATE clips SET view = 'front-under'")
    open_bench(page, server, 30)
    page.keyboard.press("Shift+M")
    for shift in (0, 40):
        page.locator('[data-do="take-measure"][data-name="elbow-angle"]').click()
        click(page, (300, 300), (500, 300 + shift), (500, 450))
        expect(page.locator("#overlay text")).to_have_count(1 + shift // 40)
    page.get_by_role("button", name="Re-measure blind").click()
    for n in range(2):
        expect(page.locator("#told")).to_contain_text("shoulder")
        expect(page.locator("#overlay g.drawing")).to_have_count(0)
        click(page, (300, 300), (500, 310), (500, 450))
        expect(page.locator("#measure")).to_contain_text(f"{n + 1} repeat")
        expect(page.get_by_text("Elbow angle in the pull").first).to_be_visible(visible=n == 1)
    expect(page.locator("#told")).to_contain_text("All re-measured")
    expect(page.locator("#measure")).to_contain_text("typical error")
    expect(page.locator("#overlay g.drawing")).to_have_count(2)
    assert {k: len(v) for k, v in drawings.repeats_of_clip(database, 1).items()} == {1: 1, 2: 1}


def test_a_joint_is_followed_charted_and_its_events_confirmed(
    page: Page, server: Server, worker: None, database: sqlite3.Connection, swum: Path
) -> None:
    import json

    truth = json.loads(swum.with_suffix(".truth.json").read_text())["joints_px"]
    open_bench(page, server, 20)
    page.keyboard.press("Shift+M")
    page.get_by_role("tab", name="Scale").click()
    page.locator('[data-do="set-reference"][data-kind="water"]').click()
    click(page, (20, 163), (1200, 163))
    said(page, "Water line set for this clip")
    assert references.of_clip(database, 1).water
    page.get_by_role("tab", name="Track").click()
    page.select_option("#follow-point", "wrist")
    page.locator('[data-do="follow"]').click()
    click(page, tuple(truth["right_wrist"][20]))
    figure = page.locator("figure", has_text="right wrist height")
    expect(figure).to_be_visible(timeout=30_000)
    followed = [p for p in tracks.points_of(database, 1) if p.x is not None and p.y is not None]
    assert len(followed) > 50
    away = [np.hypot(p.x - truth["right_wrist"][p.frame][0], p.y - truth["right_wrist"][p.frame][1])
            for p in followed if p.x is not None and p.y is not None]  # fmt: skip
    assert np.median(away) < 3
    expect(page.locator("#overlay .spot").first).to_be_visible()
    # A press on the chart goes to its instant; the playhead stands there in every chart.
    chart = figure.locator("svg")
    chart.scroll_into_view_if_needed()
    box = chart.bounding_box()
    assert box is not None
    page.mouse.click(box["x"] + 0.6 * box["width"], box["y"] + box["height"] / 2)
    page.wait_for_function("() => window.norvik.stage.wish > 40")
    frame = page.evaluate("() => window.norvik.stage.settled()")
    at = float(chart.locator(".at").get_attribute("x1") or 0)
    assert at == pytest.approx(40 + 296 * frame / 119, abs=1.5)
    # What crosses the surface is proposed, and Enter confirms it.
    expect(page.locator("#tracks")).to_contain_text("proposed from here")
    page.keyboard.press("Enter")
    expect(page.locator("#told")).to_contain_text("Enter confirms")
    expect(page.locator(".rope .tick")).to_have_count(0)
    page.keyboard.press("Enter")
    expect(page.locator(".rope .tick")).to_have_count(1)
    assert database.execute("SELECT count(*) FROM marks").fetchone()[0] == 1


def test_one_key_keeps_a_still(page: Page, server: Server, database: sqlite3.Connection) -> None:
    open_bench(page, server, 33)
    page.keyboard.press("Shift+P")
    expect(page.locator("#told")).to_contain_text("Frame 33 added to the review")
    assert [s.frame for s in stills.of_clip(database, 1)] == [33]
    page.goto(f"{server.address}/clips/1/review/")
    still = page.locator("#stills img")
    expect(still).to_be_visible()
    assert still.evaluate("e => e.decode().then(() => e.naturalWidth)") == 960
