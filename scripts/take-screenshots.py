"""Takes the pictures of docs/screenshots from the demo: run beside `make demo`.

.venv/bin/python scripts/take-screenshots.py http://127.0.0.1:8765
"""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

OUT = Path(__file__).parent.parent / "docs" / "screenshots"
EMAIL, PASSWORD = "coach@kvarnholm.example", "early-morning"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
WIDE, TABLET = (1280, 800), (1024, 768)


def take(
    page: Page, name: str, size: tuple[int, int], path: str, keys: tuple[str, ...] = ()
) -> None:
    page.set_viewport_size({"width": size[0], "height": size[1]})
    page.goto(path)
    page.wait_for_load_state("networkidle")
    if page.locator("[data-frames]").count():
        page.wait_for_selector('[data-ready="true"]')
    for key in keys:
        page.keyboard.press(key)
        page.wait_for_timeout(150)
    page.wait_for_timeout(300)
    page.screenshot(path=OUT / f"{name}.png")


def main(address: str) -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(base_url=address)
        take(page, "sign-in", WIDE, "/sign-in")
        page.get_by_label("E-mail").fill(EMAIL)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        take(page, "today", WIDE, "/")
        take(page, "bench", WIDE, "/clips/1/?frame=160", ("]", "]"))
        take(page, "bench-tablet", TABLET, "/clips/1/?frame=160")
        take(page, "judge", WIDE, "/clips/1/judge/?frame=160")
        take(page, "review", WIDE, "/clips/1/review/")
        take(page, "swimmers", WIDE, "/swimmers/")
        take(page, "swimmer", WIDE, "/swimmers/2")
        take(page, "add-clips", WIDE, "/clips/new")
        take(page, "strokes", WIDE, "/strokes/freestyle/?fault=dropped-elbow")
        take(page, "bench-breaststroke", WIDE, "/clips/10/?frame=40")
        browser.close()


main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8765")
