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
    "--use-fake-device-for-media-stream",
    "--use-fake-ui-for-media-stream",
]
#: Three parts, and a fourth that is begun.
CUT_KEYS = (
    "i", *("Control+ArrowRight",) * 3, "o", "Escape", "Control+ArrowRight",
    "i", *("Control+ArrowRight",) * 3, "n", *("Control+ArrowRight",) * 2, "o", "Escape",
    "Control+ArrowRight", "i", "Control+ArrowRight",
)  # fmt: skip
WIDE = (1280, 800)


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


def squad_recording(page: Page) -> str:
    """Address of the page on which the recording of the whole squad is cut."""
    page.goto("/library/?words=squad")
    return page.get_by_role("link", name="Cut into parts").first.get_attribute("href") or ""


def main(address: str) -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(base_url=address)
        page.goto("/sign-in")
        page.get_by_label("E-mail").fill(EMAIL)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        take(page, "today", WIDE, "/")
        take(page, "bench", WIDE, "/clips/1/?frame=160", ("]", "]"))
        reading(page)
        take(page, "judge", WIDE, "/clips/2/judge/?frame=160")
        take(page, "causes", WIDE, "/clips/2/causes/")
        take(page, "review", WIDE, "/clips/1/review/")
        take(page, "plan", WIDE, "/plans/1/")
        take(page, "people", WIDE, "/people/")
        take(page, "drills", WIDE, "/drills/")
        page.goto("/library/?words=side-after")
        after = page.locator(".clip-row").first.get_attribute("data-open") or ""
        take(page, "change", WIDE, f"{after}change/")
        take(page, "beside", WIDE, f"{after}beside/", ("]", *("ArrowRight",) * 30))
        take(page, "swimmer", WIDE, "/swimmers/1")
        take(page, "library", WIDE, "/library/", ("ArrowDown", " ", "ArrowDown", "ArrowDown", " "))
        take(page, "cut", WIDE, squad_recording(page), CUT_KEYS)
        squad_sheet(page)
        take(page, "strokes", WIDE, "/strokes/freestyle/?fault=dropped-elbow")
        take(page, "dial", WIDE, "/clips/1/dial/")
        talk(page)
        browser.close()


def talk(page: Page) -> None:
    """A short talk over two films, and the page that the swimmer gets of it."""
    page.set_viewport_size({"width": WIDE[0], "height": WIDE[1]})
    page.goto("/clips/1/talk/")
    page.get_by_role("link", name="Start a new talk").click()
    page.wait_for_selector('#bench[data-ready="true"]')
    for key in ("Shift+T", *("ArrowRight",) * 6, "PageDown", *("ArrowRight",) * 6, "PageDown"):
        page.keyboard.press(key)
        page.wait_for_timeout(400)
    page.wait_for_timeout(1800)
    page.locator('[data-talk="finish"]').click()
    page.wait_for_selector('#mend[data-ready="true"]')
    page.evaluate("() => norvik.player.seek(2500)")
    page.wait_for_timeout(600)
    page.screenshot(path=OUT / "talk.png")
    page.get_by_role("button", name="Make film").first.click()
    page.get_by_role("link", name="Download", exact=True).wait_for(timeout=120_000)
    page.goto(
        page.locator('a[href^="/reviews/"][href$="/talk/"]').first.get_attribute("href") or ""
    )
    page.goto(f"{page.url.split('/talk')[0]}/send/")
    page.get_by_role("button", name="Make link").click()
    link = page.locator("section a[target=_blank]").first.get_attribute("href") or ""
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(link)
    page.wait_for_timeout(1500)
    page.screenshot(path=OUT / "phone.png")
    page.set_viewport_size({"width": WIDE[0], "height": WIDE[1]})


def reading(page: Page) -> None:
    """A film that has read itself: asked for where the machine was not idle yet."""
    page.goto("/library/?words=lundeholm-phone")
    bench = page.locator(".clip-row").first.get_attribute("data-open") or ""
    page.goto(bench)
    page.wait_for_selector('[data-ready="true"]')
    asked = page.get_by_role("button", name="Read film")
    if asked.count():
        asked.click()
    page.get_by_text("From the film, not confirmed").first.wait_for(timeout=120_000)
    take(page, "reading", WIDE, bench)


def squad_sheet(page: Page) -> None:
    """The parts just cut, each with a swimmer, and some ticks on the first."""
    people = page.locator('[data-part-id] [name="swimmer_id"]')
    for n in range(people.count()):
        people.nth(n).select_option(index=n + 1)
        page.wait_for_timeout(600)
    address = page.get_by_role("link", name="Squad sheet").get_attribute("href") or ""
    take(page, "squad", WIDE, address, ("a", "b", "k", "x", "2"))


main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8765")
