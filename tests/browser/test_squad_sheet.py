"""A squad recording of four swimmers, remarked and made ready by keys alone, which are counted."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from norvik.settings import Settings
from norvik.store import clips, cuts, observations, remarks, reviews, swimmers
from norvik.store.swimmers import Swimmer
from tests.browser.serving import Server
from tests.browser.test_after_marking import COUNT
from tests.clips import numbered_clip
from tests.conftest import BroughtIn

SQUAD = ("Tilde Vassholm", "Eirik Lundstrand", "Wren Alder", "Runa Stavik")
LENGTH = 30


@pytest.fixture(scope="session")
def film(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("squad")
    return numbered_clip(folder / "f.mp4", [k / 30 for k in range(4 * LENGTH)])


@pytest.fixture
def recording(
    settings: Settings, database: sqlite3.Connection, brought_in: BroughtIn, film: Path
) -> int:
    brought_in(settings, [], (film, {"filmed_on": "2026-11-20", "swimmer_id": None}))
    whole = clips.by_id(database, 1)
    for n, name in enumerate(SQUAD):
        who = swimmers.add(database, Swimmer(name, kit=("fins", "buoy", "board")))
        stroke = "butterfly" if n == 3 else "freestyle"
        first = n * LENGTH
        cuts.add(database, whole.recording.id, 1, first, first + LENGTH - 1, who, stroke)
    return whole.recording.id


def letter(page: Page, name: str) -> str:
    """The key that the page shows beside an item."""
    item = page.locator(".squad-item").filter(has_text=name).first
    return item.locator("kbd").inner_text().lower()


def test_four_swimmers_are_remarked_and_made_ready_by_keys_alone(
    page: Page, server: Server, recording: int, database: sqlite3.Connection
) -> None:
    page.add_init_script(COUNT)
    page.goto(f"{server.address}/recordings/{recording}/squad/")
    page.wait_for_selector('#squad[data-ready="true"]')
    page.evaluate("sessionStorage.deeds = window.deeds = 0")

    def press(*keys: str) -> None:
        for key in keys:
            page.keyboard.press(key)

    said = page.locator("#said li")
    parts = [c for c in clips.of_recording(database, recording) if c.is_part]
    seen = {
        0: ["Long, level body line", "Quiet head", "Dropped elbow"],
        1: ["Quiet head", "Full finish", "Hips low, legs sink"],
        2: ["Clean entry", "Narrow, steady kick", "Kicks from the knees"],
    }
    for n, names in seen.items():
        expect(page.locator("#who")).to_have_text(SQUAD[n])
        for name in names:
            key = letter(page, name)
            if key == "·":
                # Without a letter of its own it is found by a few of its name.
                press("/")
                page.keyboard.type(name[:5].lower())
                press("Enter")
            else:
                press(key)
        expect(said).to_have_count(3)
        press("ArrowDown")
    # Back on one key: a side for what was ticked, and own words.
    press("ArrowUp")
    expect(page.locator("#who")).to_have_text(SQUAD[2])
    press("ArrowUp", "ArrowUp")
    expect(page.locator("#who")).to_have_text(SQUAD[0])
    elbow = letter(page, "Dropped elbow")
    press(elbow, elbow, "2")
    expect(said.filter(has_text="Dropped elbow, right")).to_have_count(1)
    press("-")
    page.keyboard.type("hurry less")
    press("Enter")
    expect(said.filter(has_text="hurry less")).to_have_count(1)
    press("ArrowDown", "ArrowDown", "ArrowDown")
    expect(page.locator("#who")).to_have_text(SQUAD[3])
    # Walls are within reach of the same keys.
    press("9")
    tight = letter(page, "Tight line off the wall")
    press(tight)
    expect(said).to_have_count(1)
    press("9")
    keys = int(page.evaluate("sessionStorage.deeds"))
    # Nine ticks at one key each, some found by name, a side, own words, and the ways between.
    assert keys <= 60, keys
    ticked = {(t.what, t.side) for t in observations.of_clip(database, parts[0].id)}
    assert ("dropped-elbow", "right") in ticked
    assert ("dropped-elbow", "") not in ticked
    assert [r.text for r in remarks.of_clip(database, parts[0].id)] == ["hurry less"]

    # One press lists them all, one makes them ready.
    page.get_by_role("link", name="All reviews").press("Enter")
    rows = page.locator("[data-review]")
    expect(rows).to_have_count(4)
    expect(rows.nth(3)).to_contain_text("Name at least two good things first")
    expect(page.get_by_role("button", name="Make all ready")).to_be_focused()
    page.keyboard.press("Enter")
    finished = "3 reviews finished. 1 review still lacks something"
    expect(page.get_by_role("status")).to_contain_text(finished)
    held = [reviews.by_id(database, reviews.id_of_clip(database, part.id) or 0) for part in parts]
    assert [r.done_at is not None for r in held] == [True, True, True, False]
    assert [len(r.focuses) for r in held] == [1, 1, 1, 0]
