"""Intake in a real browser: many files, a lost connection, a server that starts anew."""

from __future__ import annotations

import hashlib
import sqlite3
from pathlib import Path

from playwright.sync_api import Page, Request, expect

from norvik.settings import Settings
from norvik.store import clips
from tests.browser.conftest import until
from tests.browser.serving import Server
from tests.clips import numbered_clip


def heavy_clip(path: Path, megabytes: int) -> Path:
    """A short film with a box of nothing behind it, so that it takes several pieces to send."""
    numbered_clip(path, [n / 30 for n in range(40)])
    size = megabytes << 20
    with path.open("ab") as file:
        file.write(size.to_bytes(4, "big") + b"free" + bytes(size - 8))
    return path


def test_uploads_survive_a_lost_connection_and_a_new_server(
    page: Page, server: Server, worker: None, squad: list[int], database: sqlite3.Connection,
    settings: Settings, tmp_path: Path,
) -> None:  # fmt: skip
    heavy = heavy_clip(tmp_path / "heavy.mp4", 40)
    small = numbered_clip(tmp_path / "eirik fly.mp4", [n / 30 for n in range(30)])
    page.goto(f"{server.address}/clips/new")
    came: list[int] = []
    troubles = [server.stop, lambda: page.context.set_offline(True)]

    def trouble(request: Request) -> None:
        if request.method == "PATCH" and troubles:
            came.append(int(request.headers["upload-offset"]))
            troubles.pop()()

    page.on("requestfinished", trouble)
    page.locator("#files").set_input_files([heavy, small])
    rows = page.locator("#uploads li")
    expect(rows).to_have_count(2)
    # No connection. The other upload may finish its piece in the same moment: then the server is
    # gone, too, before anybody looks.
    until(page, lambda: len(troubles) <= 1)
    page.context.set_offline(False)
    until(page, lambda: not troubles)  # no server
    server.start()
    # Each upload gives way to the row of its clip.
    expect(page.locator("#clip-rows .clip-row")).to_have_count(2, timeout=60_000)
    expect(rows).to_have_count(0)
    assert troubles == []
    found = {c.recording.original_name: c for c in clips.newest_first(database)}
    assert set(found) == {"heavy.mp4", "eirik fly.mp4"}
    assert found["heavy.mp4"].recording.sha256 == hashlib.sha256(heavy.read_bytes()).hexdigest()
    # The name said who and what; what was brought in stands below to be looked over.
    assert (found["eirik fly.mp4"].swimmer_id, found["eirik fly.mp4"].stroke) == (2, "butterfly")
    assert list(settings.incoming.iterdir()) == []


def test_an_upload_is_cancelled_and_leaves_nothing(
    page: Page, server: Server, squad: list[int], settings: Settings, tmp_path: Path
) -> None:
    heavy = heavy_clip(tmp_path / "heavy.mp4", 40)
    page.goto(f"{server.address}/clips/new")
    cut: list[str] = []

    def cut_off(request: Request) -> None:
        if not cut:
            cut.append(request.method)
            page.context.set_offline(True)

    page.on("requestfinished", cut_off)
    page.locator("#files").set_input_files(heavy)
    row = page.locator("#uploads li")
    until(page, lambda: bool(cut))
    page.context.set_offline(False)
    row.get_by_role("button", name="Cancel").click()
    expect(row).to_contain_text("cancelled")
    until(page, lambda: list(settings.incoming.iterdir()) == [])
    assert list(settings.originals.iterdir()) == []
