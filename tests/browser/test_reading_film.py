"""A film that is read while its page is open: proposals come by themselves, answers are kept."""

from __future__ import annotations

import sqlite3
from dataclasses import replace
from pathlib import Path

from playwright.sync_api import Page, expect

from norvik.model.dials import usual_swim
from norvik.model.film import Take, film
from norvik.settings import Settings
from norvik.store import clips, drawings, marks
from norvik.store.connection import connected
from tests.browser.conftest import bring_in
from tests.browser.serving import Server
from tests.read_clips import body_lines, read


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


def open_read_clip(
    page: Page, server: Server, settings: Settings, database: sqlite3.Connection, swimmer: int,
    film: Path, *measured: int,
) -> int:  # fmt: skip
    """The bench of a clip that was read from the side; measured: frames with a body line."""
    clip = bring_in(settings, database, film, swimmer)
    clips.set_facts(database, clip, replace(clips.by_id(database, clip).facts, view="side-under"))
    with connected(settings.database) as connection:
        read(connection, clip_id=clip, measures=body_lines(*measured))
    page.goto(f"{server.address}/clips/{clip}/")
    page.wait_for_selector('#bench[data-ready="true"]')
    return clip


def test_answers_work_after_a_mark_and_least_sure_comes_first(
    page: Page, server: Server, settings: Settings, database: sqlite3.Connection, squad: list[int],
    small_clip: Path,
) -> None:  # fmt: skip
    clip = open_read_clip(page, server, settings, database, squad[0], small_clip)
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


def test_proposed_measures_are_looked_at_moved_and_confirmed(
    page: Page, server: Server, settings: Settings, database: sqlite3.Connection, squad: list[int],
    small_clip: Path,
) -> None:  # fmt: skip
    """Each on its frame with handles; nothing is kept before Enter; a skipped one stays unkept."""
    clip = open_read_clip(page, server, settings, database, squad[0], small_clip, 8, 38, 68)
    card, told = page.locator("#reading"), page.locator("#told")
    expect(card).to_contain_text("3 measures proposed")
    card.get_by_role("button", name="Check measures").click()
    expect(told).to_contain_text("Body line from the horizontal: 14.0 ± 2.7°")
    expect(page.locator("#measure")).to_contain_text("From the film, not confirmed")
    handles = page.locator('#overlay .handle[data-drawing="0"]')
    expect(handles).to_have_count(3)
    # An ankle is put lower; the number follows, and nothing is kept yet.
    box = handles.nth(2).bounding_box()
    assert box is not None
    x, y = box["x"], box["y"]
    page.mouse.move(x + 3, y + 3)
    page.mouse.down()
    page.mouse.move(x + 3, y + 23, steps=4)
    page.mouse.up()
    expect(page.locator('#overlay [data-drawing="0"] text')).not_to_contain_text("14.0")
    with connected(settings.database) as connection:
        assert drawings.of_clip(connection, clip) == []
    page.keyboard.press("Enter")
    expect(card).to_contain_text("2 measures proposed")
    # Without keys: beside the name of the measure.
    beside = page.locator('[data-while-checking="body-line"]')
    expect(beside.get_by_role("button", name="Confirm")).to_be_visible()
    expect(page.locator("#overlay .handle")).to_have_count(3)
    beside.get_by_role("button", name="Skip").click()
    expect(page.locator("#measure")).to_contain_text("frame 8")
    page.wait_for_function("() => norvik.stage.shown === 68")
    expect(handles).to_have_count(3)
    page.keyboard.press("Enter")
    expect(told).to_contain_text("No more measures proposed")
    with connected(settings.database) as connection:
        kept = drawings.of_clip(connection, clip)
        # The one in the middle was passed over.
        assert [(d.name, d.frame) for d in kept] == [("body-line", 8), ("body-line", 68)]
        assert kept[0].points[2].y > kept[1].points[2].y + 3
    # What is passed over is remembered, and proposed again when somebody asks for it.
    page.reload()
    page.wait_for_selector('#bench[data-ready="true"]')
    expect(card).to_contain_text("1 measure skipped")
    expect(card).not_to_contain_text("measure proposed")
    card.get_by_role("button", name="Propose again").click()
    expect(card).to_contain_text("1 measure proposed")
    card.get_by_role("button", name="Check measures").click()
    expect(told).to_contain_text("Body line from the horizontal: 14.0 ± 2.7°")


def test_enter_goes_from_the_last_mark_to_the_measures(
    page: Page, server: Server, settings: Settings, database: sqlite3.Connection, squad: list[int],
    small_clip: Path,
) -> None:  # fmt: skip
    open_read_clip(page, server, settings, database, squad[0], small_clip, 8)
    page.keyboard.press("Control+Shift+Enter")
    told = page.locator("#told")
    expect(told).to_contain_text("of this clip confirmed")
    expect(page.locator("#reading")).to_contain_text("1 measure proposed")
    page.keyboard.press("Enter")
    expect(told).to_contain_text("Body line from the horizontal")
    # Closing the panel leaves it: nothing of it stays on the picture.
    page.keyboard.press("Shift+M")
    expect(page.locator('#overlay [data-drawing="0"]')).to_have_count(0)
    page.keyboard.press("Enter")
    expect(page.locator('#overlay .handle[data-drawing="0"]')).to_have_count(3)
