"""One swimmer from two sides: judged, remarked and chosen over both films, by keys and mouse."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from norvik.settings import Settings
from norvik.store import observations, remarks, reviews
from norvik.store.connection import connected
from norvik.store.observations import Sighting
from norvik.store.swimmers import Swimmer
from tests.browser.serving import Server
from tests.clips import numbered_clip
from tests.conftest import BroughtIn


@pytest.fixture(scope="session")
def two_films(tmp_path_factory: pytest.TempPathFactory) -> list[Path]:
    folder = tmp_path_factory.mktemp("two")
    return [numbered_clip(folder / f"{n}.mp4", [k / 30 for k in range(60 + n)]) for n in range(2)]


@pytest.fixture
def database(
    settings: Settings, brought_in: BroughtIn, two_films: list[Path]
) -> Iterator[sqlite3.Connection]:
    side, front = two_films
    day = {"filmed_on": "2026-11-20", "pool_m": 25.0}
    brought_in(settings, [Swimmer("Tilde Vassholm", kit=("fins", "buoy"))], (side, day),
               (front, {**day, "view": "front-under"}))  # fmt: skip
    with connected(settings.database) as connection:
        observations.put(connection, 2, Sighting("over-rotation", "", "clear", 20))
        yield connection


def ready(page: Page) -> None:
    page.wait_for_selector('#judge-stage[data-ready="true"]')


def test_the_sheet_is_searched_remarked_and_joined_with_the_other_film(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    page.goto(f"{server.address}/clips/1/judge/")
    ready(page)
    # Found by what other coaches call it, too; the first line found is under the keys.
    page.keyboard.press("/")
    page.keyboard.type("dropped el")
    expect(page.locator(".sheet-line:visible")).to_have_count(1)
    page.keyboard.press("Enter")
    page.keyboard.press("c")
    expect(page.locator("#verdict")).to_contain_text("Dropped elbow")
    expect(page.locator(".sheet-line:visible")).to_have_count(1)
    page.keyboard.press("/")
    page.keyboard.press("Escape")
    expect(page.locator("#sheet-search")).to_have_value("")
    # Own words: one key, type, Enter; the frame on the film goes with them.
    for _ in range(5):
        page.keyboard.press("ArrowRight")
    expect(page.locator("#frame-number")).to_have_text("5")
    page.keyboard.press("n")
    page.keyboard.type("+ never in a hurry")
    page.keyboard.press("Enter")
    expect(page.locator("#verdict")).to_contain_text("Never in a hurry.")
    (said,) = remarks.of_clip(database, 1)
    assert (said.kind, said.text, said.frame) == ("praise", "never in a hurry", 5)
    # The roll seen from in front stands before the elbow that it leads to.
    first = page.locator("#verdict ol > li").first
    expect(first).to_contain_text("Over-rotation")
    expect(first).to_contain_text("front, under water")
    first.get_by_role("button", name="Work on this").click()
    expect(first.get_by_role("button", name="Remove")).to_be_visible()
    (focus,) = reviews.by_id(database, 1).focuses
    assert (focus.stroke, focus.fault) == ("freestyle", "over-rotation")
    # To the other film and its own sheet; the judgement is the same.
    page.get_by_role("link", name="front, under water", exact=True).first.click()
    ready(page)
    assert page.url.endswith("/clips/2/judge/")
    expect(page.locator("#verdict ol > li").first).to_contain_text("1. Over-rotation")
    expect(page.get_by_role("button", name="Over-rotation left: not seen")).to_be_visible()


def test_a_remark_is_one_key_away_on_the_bench(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    page.goto(f"{server.address}/clips/1/?frame=7")
    page.wait_for_selector('#bench[data-ready="true"]')
    page.keyboard.press("Shift+N")
    page.keyboard.type("? does the elbow drop")
    page.locator("#remark").get_by_label("View that can answer").select_option("front-under")
    page.locator("#remark").get_by_role("button", name="Save").click()
    expect(page.locator("#toast")).to_contain_text("Doubt saved.")
    (said,) = remarks.of_clip(database, 1)
    assert (said.kind, said.frame, said.view) == ("doubt", 7, "front-under")
    page.goto(f"{server.address}/clips/2/judge/")
    expect(page.locator("#verdict")).to_contain_text("does the elbow drop")
    page.get_by_label("Answer to: does the elbow drop").fill("only the left one")
    page.get_by_role("button", name="Answer", exact=True).click()
    expect(page.locator("#verdict")).not_to_contain_text("does the elbow drop")
    assert remarks.of_clip(database, 1)[0].answer == "only the left one"
