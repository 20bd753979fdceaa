"""A film that is read while its page is open: proposals come by themselves, answers are kept."""

from __future__ import annotations

import sqlite3
from dataclasses import replace
from pathlib import Path

from playwright.sync_api import Page, expect

from norvik.model.dials import usual_swim
from norvik.model.film import Take, film
from norvik.settings import Settings
from norvik.store import clips, marks
from norvik.store.connection import connected
from tests.browser.conftest import bring_in
from tests.browser.serving import Server
from tests.read_clips import read


def test_proposals_come_to_the_open_page(
    page: Page, server: Server, worker: None, settings: Settings, database: sqlite3.Connection,
    squad: list[int], tmp_path: Path,
) -> None:  # fmt: skip
    path = tmp_path / "tilde side fly.mp4"
    film(Take(usual_swim("butterfly", 52, 3), seconds=5, fps=30), path)
    clip = bring_in(settings, database, path, squad[0])
    facts = clips.by_id(database, clip).facts
    clips.set_facts(database, clip, replace(facts, stroke="butterfly", view="side-under"))
    page.goto(f"{server.address}/clips/{clip}/")
    page.wait_for_selector('#bench[data-ready="true"]')
    page.get_by_role("button", name="Read film").click()
    card = page.locator("#reading")
    expect(card).to_contain_text("From the film, not confirmed", timeout=120_000)
    # The timeline has them without a reload.
    expect(page.locator("#rope .pale").first).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.locator("#told")).to_contain_text("Enter confirms")
    page.keyboard.press("Control+Enter")
    expect(page.locator("#rope .tick")).not_to_have_count(0)
    page.keyboard.press("z")
    expect(page.locator("#rope .tick")).to_have_count(0)
    page.keyboard.press("Control+Shift+Enter")
    expect(page.locator("#told")).to_contain_text("of this clip confirmed")
    expect(page.locator("#rope .pale")).to_have_count(0)


def test_answers_work_after_a_mark_and_least_sure_comes_first(
    page: Page, server: Server, settings: Settings, database: sqlite3.Connection, squad: list[int],
    small_clip: Path,
) -> None:  # fmt: skip
    clip = bring_in(settings, database, small_clip, squad[0])
    clips.set_facts(database, clip, replace(clips.by_id(database, clip).facts, view="side-under"))
    with connected(settings.database) as connection:
        read(connection, clip_id=clip)
    page.goto(f"{server.address}/clips/{clip}/")
    page.wait_for_selector('#bench[data-ready="true"]')
    for said in ("Enter confirms", "catch here?"):
        page.keyboard.press("Enter")
        expect(page.locator("#told")).to_contain_text(said)
    with connected(settings.database) as connection:
        assert [m.event for m in marks.of_clip(connection, clip)] == ["entry"]
    answer = page.locator("#reading").get_by_role("button", name="Not sure").first
    answer.click()
    expect(answer).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Shift+O")
    expect(page.locator('[data-do="doubt-first"]')).to_have_attribute("aria-pressed", "true")
