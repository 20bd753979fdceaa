"""A recording of a whole squad: cut by keyboard, then sorted in the library by keyboard."""

from __future__ import annotations

import sqlite3
from pathlib import Path

from playwright.sync_api import Page, expect

from norvik.settings import Settings
from norvik.store import clips, cuts
from tests.browser.conftest import bring_in, until
from tests.browser.serving import Server
from tests.clips import numbered_clip


def test_cut_and_sorted_by_keyboard(
    page: Page, server: Server, settings: Settings, database: sqlite3.Connection, squad: list[int],
    tmp_path: Path,
) -> None:  # fmt: skip
    film = numbered_clip(tmp_path / "squad.mp4", [n / 30 for n in range(300)])
    whole = bring_in(settings, database, film, None)
    page.goto(f"{server.address}/recordings/1/cut/")
    page.wait_for_selector('#cut[data-ready="true"]')
    rows = page.locator(".part-row")

    def go(frame: int) -> None:
        page.evaluate("frame => window.norvik.stage.goto(frame)", frame)

    # In, out, and the first letters of a name.
    go(10)
    page.keyboard.press("i")
    page.keyboard.press("Control+ArrowRight")
    page.keyboard.press("Control+ArrowRight")
    page.keyboard.press("o")
    expect(rows).to_have_count(1)
    expect(page.locator('[name="swimmer_id"]:focus')).to_have_count(1)
    page.keyboard.type("Til")
    page.keyboard.press("Enter")
    # Out and the next one in, with one key.
    go(100)
    page.keyboard.press("i")
    go(180)
    page.keyboard.press("n")
    expect(rows).to_have_count(2)
    go(250)
    page.keyboard.press("o")
    expect(rows).to_have_count(3)
    page.keyboard.type("Eir")
    page.keyboard.press("Enter")
    # An edge is set anew and taken back.
    go(120)
    page.keyboard.press("q")
    expect(rows.nth(1)).to_contain_text("frame 120 to 180")
    page.keyboard.press("z")
    expect(rows.nth(1)).to_contain_text("frame 100 to 180")

    def found() -> list[tuple[int, int | None, int | None]]:
        return [(c.first_frame, c.last_frame, c.swimmer_id) for c in cuts.parts(database, 1)]

    page.keyboard.press("z")
    until(page, lambda: [part[2] for part in found()] == [squad[0], None, None])
    page.keyboard.press("y")
    wanted = [(10, 70, squad[0]), (100, 180, None), (181, 250, squad[1])]
    expect(rows).to_have_count(3)
    until(page, lambda: found() == wanted)

    # The library: down, choose, say who it is.
    page.goto(f"{server.address}/library/?state=to-sort")
    library = page.locator(".clip-row")
    expect(library).to_have_count(1)  # the whole recording is cut up; one part has unassigned
    page.keyboard.press("ArrowDown")
    page.keyboard.press(" ")
    page.keyboard.press("e")
    expect(page.locator("#describe select:focus")).to_have_count(1)
    page.locator('#describe [name="swimmer_id"]').select_option(label="Eirik Lundstrand")
    page.locator('#describe [name="role"]').select_option("drill")
    page.keyboard.press("Enter")
    expect(library.first).to_contain_text("Eirik Lundstrand")
    expect(library.first).to_contain_text("drill")
    # Search, and throw away with a count of what goes.
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.keyboard.type("tilde")
    page.locator('.state-tab[data-state=""]').click()
    expect(library).to_have_count(1)
    expect(library.first).to_contain_text("Tilde Vassholm")
    library.first.locator("input").focus()
    page.keyboard.press("Delete")
    expect(page.locator("#throw-away")).to_contain_text(
        "1 clip goes to the trash, with no work in it"
    )
    expect(page.locator("#throw-away .button-caution:focus")).to_have_count(1)
    page.keyboard.press("Enter")
    expect(library).to_have_count(0)
    assert clips.by_id(database, whole + 1).trashed_at is not None
    assert clips.by_id(database, whole).trashed_at is None
