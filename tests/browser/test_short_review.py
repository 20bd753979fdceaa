"""The short job on a phone: a clip from the camera roll to a review that can be sent."""

from __future__ import annotations

import sqlite3
from pathlib import Path

from playwright.sync_api import Page, expect

from norvik.store import clips, marks, reviews
from norvik.store.clips import Clip
from tests.browser.conftest import until
from tests.browser.serving import Server
from tests.clips import numbered_clip

PHONE = {"width": 390, "height": 844}


def add_from_the_roll(
    page: Page, server: Server, database: sqlite3.Connection, folder: Path, frames: int
) -> Clip:
    """Add a clip on the phone, as from its camera roll, and wait until it is ready."""
    page.set_viewport_size(PHONE)
    page.goto(f"{server.address}/clips/new")
    roll = numbered_clip(folder / "eirik free.mp4", [k / 30 for k in range(frames)])
    page.locator("#files").set_input_files([roll])
    expect(page.locator("#clip-rows .clip-row")).to_have_count(1, timeout=60_000)
    until(page, lambda: clips.newest_first(database)[0].state == "ready")
    return clips.newest_first(database)[0]


def tap_at(page: Page, frame: int) -> None:
    page.evaluate(f"norvik.stage.goto({frame})")
    until(page, lambda: page.evaluate("norvik.stage.shown") == frame)
    with page.expect_response("**/short/tap"):
        page.get_by_role("button", name="hand entry", exact=True).click()


def test_from_the_camera_roll_to_a_review_by_thumb(
    page: Page, server: Server, worker: None, squad: list[int], database: sqlite3.Connection,
    tmp_path: Path,
) -> None:  # fmt: skip
    clip = add_from_the_roll(page, server, database, tmp_path, 150)
    assert clip.swimmer_id == 2
    page.goto(f"{server.address}/clips/{clip.id}/")
    page.get_by_role("link", name="Short review").click()
    page.wait_for_selector('#short-stage[data-ready="true"]')
    body = page.locator("#short")
    # Five entries, 20 frames apart, at 30 frames/s: 90 strokes a minute, by both arms in turn.
    for n in range(5):
        tap_at(page, 10 + 20 * n)
    expect(body).to_contain_text("90.0 strokes/min")
    sides = [m.side for m in sorted(marks.of_clip(database, clip.id), key=lambda m: m.frame)]
    assert sides == ["right", "left", "right", "left", "right"]
    # A tap too many is taken back.
    tap_at(page, 99)
    page.get_by_role("button", name="Undo the last tap").click()
    expect(body).to_contain_text("90.0 strokes/min")
    assert len(marks.of_clip(database, clip.id)) == 5
    expect(body).to_contain_text("2 to go")
    for what in ("Long, level body line", "Quiet head", "Hips low, legs sink"):
        button = body.get_by_role("button", name=what, exact=True).first
        button.click()
        expect(button).to_have_attribute("aria-pressed", "true")
    expect(body).not_to_contain_text("to go")
    # What was ticked is proposed as the one thing.
    body.get_by_role("button", name="Hips low, legs sink", exact=True).last.click()
    expect(
        body.get_by_role("button", name="Hips low, legs sink", exact=True).last
    ).to_have_attribute("aria-pressed", "true")
    page.get_by_role("link", name="Check and send").click()
    page.get_by_role("button", name="Finish review").click()
    with page.expect_download():
        page.get_by_role("link", name="Download as file").click()
    review = reviews.id_of_clip(database, clip.id)
    assert review is not None
    assert reviews.by_id(database, review).done_at is not None


def test_a_tap_while_it_plays_carries_the_frame_of_the_press(
    page: Page, server: Server, worker: None, squad: list[int], database: sqlite3.Connection,
    tmp_path: Path,
) -> None:  # fmt: skip
    clip = add_from_the_roll(page, server, database, tmp_path, 240)
    page.goto(f"{server.address}/clips/{clip.id}/short/")
    page.wait_for_selector('#short-stage[data-ready="true"]')
    # An answer that takes its time: the film goes on meanwhile, the mark stays where it was tapped.
    page.route("**/short/tap", lambda route: (page.wait_for_timeout(400), route.continue_()))
    page.get_by_role("button", name="Play").click()
    until(page, lambda: page.evaluate("norvik.stage.shown") > 10)
    page.evaluate("addEventListener('pointerdown', () => window.at = norvik.stage.shown, true)")
    with page.expect_response("**/short/tap"):
        page.get_by_role("button", name="hand entry", exact=True).click()
    (placed,) = marks.of_clip(database, clip.id)
    assert abs(placed.frame - page.evaluate("window.at")) <= 1
