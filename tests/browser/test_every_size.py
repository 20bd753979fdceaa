"""Every page on a phone, a tablet, a laptop, a large screen and at 200 % zoom; axe-core on each."""

from __future__ import annotations

import hashlib
import sqlite3
from collections.abc import Iterator
from datetime import date, timedelta
from fractions import Fraction
from pathlib import Path

import axe_playwright_python
import pytest
from playwright.sync_api import Browser, Page, expect

from norvik.core.followup.length_log import Length
from norvik.core.prescription.plan import FocusRequest, PlanRequest, Pool
from norvik.core.talk.chapters import tied
from norvik.settings import Settings
from norvik.store import (
    consents,
    marks,
    observations,
    plans,
    pool_tests,
    review_links,
    reviews,
    squads,
    swims,
    talks,
)
from norvik.store.connection import connected
from norvik.store.consents import Consent
from norvik.store.observations import Sighting
from norvik.store.plans import StoredPlan
from norvik.store.pool_tests import SwumTest
from norvik.store.squads import Squad
from norvik.store.swimmers import Swimmer
from norvik.workflow.talk.assemble import row_of
from tests.browser.conftest import opened
from tests.browser.serving import Server
from tests.clips import numbered_clip
from tests.conftest import BroughtIn
from tests.talks import clip_film, record, stage, whole

AXE = (Path(axe_playwright_python.__file__).parent / "axe.min.js").read_text("utf-8")
#: Width and height in CSS pixels; the second is a page of 1280x800 at twice its size.
SIZES = ((390, 844), (640, 400), (1024, 768), (1280, 800), (1920, 1080))
#: Share of the height that the film never goes under on bench and cutting page.
LEAST_FILM = 0.45
TOKEN = "a-link-of-a-test"
PAGES = (
    "/", "/swimmers/", "/swimmers/new", "/swimmers/1", "/swimmers/1/swims", "/swims/1",
    "/swimmers/1/wall", "/swimmers/1/tests", "/swimmers/1/rhythm", "/swimmers/1/steps",
    "/club/", "/library/", "/trash/", "/storage/", "/clips/new", "/recordings/1/cut/",
    "/clips/1/", "/clips/1/facts", "/clips/1/judge/", "/clips/1/causes/", "/reviews/1/",
    "/reviews/1/clips/", "/clips/1/short/", "/clips/1/beside/", "/clips/1/beside/?with=figure",
    "/clips/1/beside/?with=1&third=model", "/swimmers/1/over/months",
    "/recordings/1/squad/", "/recordings/1/squad/reviews",
    "/clips/1/change", "/clips/1/dial", "/reviews/1/plan", "/plans/1/", "/plans/1/event",
    "/clips/1/again/", "/clips/1/again/?first=me", "/clips/1/again/ticks",
    "/clips/1/again/agreement", "/drills/", "/drills/fist", "/drills/new", "/drills/cues",
    "/strokes/", "/strokes/wall/",
    "/reviews/1/talk/", "/talks/1/", "/reviews/1/send/", "/send/", f"/r/{TOKEN}/",
    "/password", "/account/", "/account/second-factor/", "/people/", "/people/invite", "/people/1",
    "/squads/", "/squads/new", "/squads/1", "/trail/", "/keeping/", "/swimmers/1/consent/",
    "/swimmers/1/erase",
)  # fmt: skip

SMALL_TEXT = """() => {
  const found = new Set();
  const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  while (walk.nextNode()) {
    const e = walk.currentNode.parentElement;
    if (!walk.currentNode.textContent.trim() || !e.getClientRects().length) continue;
    if (e.closest('svg, script, style, noscript, [hidden], dialog:not([open])')) continue;
    const size = parseFloat(getComputedStyle(e).fontSize);
    if (size < 14) found.add(`${size} px: ${e.tagName} ${walk.currentNode.textContent.trim()}`);
  }
  return [...found];
}"""
#: Links inside a sentence or a table's cell are exempt (WCAG 2.2, 2.5.8, inline).
SMALL_TARGETS = """() => [...document.querySelectorAll('button, select, summary, nav a, a.button')]
  .filter((e) => e.getClientRects().length && !e.closest('[hidden], dialog:not([open]), svg'))
  .filter((e) => !e.matches('p button, li button.underline, .topic, #judge-body button.underline'))
  .map((e) => [e, e.getBoundingClientRect()])
  .filter(([, box]) => box.height < 43.5)
  .map(([e, box]) => `${Math.round(box.height)} px: ${e.outerHTML.slice(0, 90)}`)
"""
FILM = """() => {
  const box = document.querySelector('#picture')?.getBoundingClientRect();
  if (!box) return 1;
  return (Math.min(innerHeight, box.bottom) - Math.max(0, box.top)) / innerHeight;
}"""


@pytest.fixture(scope="module")
def film(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("sizes")
    return numbered_clip(folder / "f.mp4", [k / 30 for k in range(120)])


@pytest.fixture
def database(settings: Settings, brought_in: BroughtIn, film: Path) -> Iterator[sqlite3.Connection]:
    """One swimmer with all that a page can show."""
    brought_in(settings, [Swimmer("Tilde Vassholm", kit=("fins",), pain=("knee",))],
               (film, {"filmed_on": "2026-11-20", "pool_m": 25.0}))  # fmt: skip
    with connected(settings.database) as connection:
        for side, begins in (("right", 0), ("left", 25)):
            for n in range(2):
                for event, at in (("entry", 0), ("catch", 9), ("press", 15), ("exit", 28)):
                    marks.place(connection, 1, None, begins + 40 * n + at, "arm", side, event)
        observations.put(connection, 1, Sighting("thumb-first", "", "clear", 3))
        reviews.choose(connection, 1, [("freestyle", "thumb-first")])
        asked = PlanRequest(
            date.today(), (1, 3), Pool(Fraction(25)), (FocusRequest("thumb-first"),), metres=2000
        )
        plans.add(connection, StoredPlan(swimmer_id=1, stroke="freestyle", request=asked))
        swims.add(connection, 1, "2026-11-20", "freestyle", 25.0, None, "", [Length(21.4, 18)] * 3)
        swum = SwumTest(
            swimmer_id=1, test="kick-set", done_on="2026-11-20", stroke="freestyle",
            pool=Pool(Fraction(25)), entries={"seconds": (98.0, 99.5, 101.0)},
        )  # fmt: skip
        pool_tests.add(connection, swum)
        squads.put(connection, Squad("Medley relay", "2026/27", swimmers=frozenset((1,))))
        for kind in ("filming", "squad"):
            new = Consent(1, kind, "Tilde Vassholm", False, "2026-09-01", words="signed")
            consents.add(connection, new, 1)
        talk_and_link(connection)
        yield connection


def talk_and_link(connection: sqlite3.Connection) -> None:
    """A talk of a few seconds, and a link that opens the review."""
    talk_id = talks.add(connection, 1, None)
    about = [0, "about", "fault", "thumb-first", "Thumb-first entry"]
    deeds = [stage(clip_film(1, "Tilde Vassholm")), whole(0), about, [4000, "end"]]
    record(connection, talk_id, deeds)
    row = row_of(connection, talks.by_id(connection, talk_id))
    talks.add_captions(connection, talk_id, tied(row, 500, 1500, "Look at the hand"))
    until = (date.today() + timedelta(days=9)).isoformat()
    link = review_links.add(connection, 1, until, None, None)
    digest = hashlib.sha256(TOKEN.encode()).hexdigest()
    connection.execute(
        "UPDATE review_links SET token = ?, digest = ? WHERE id = ?", (TOKEN, digest, link)
    )
    reviews.set_done(connection, 1, True)


def at(page: Page, server: Server, address: str, size: tuple[int, int]) -> None:
    page.set_viewport_size({"width": size[0], "height": size[1]})
    answer = page.goto(f"{server.address}{address}")
    assert answer is not None
    assert answer.status == 200, address
    if page.locator("#bench[data-frames], #judge-stage[data-frames], #mend").count():
        page.wait_for_selector('[data-ready="true"]')


def wrong_in_size(page: Page, address: str, size: tuple[int, int]) -> list[str]:
    """What does not fit, cannot be read, or cannot be hit in a window of this size."""
    found = []
    width = page.evaluate("document.documentElement.scrollWidth")
    if width > size[0]:
        found.append(f"scrolls to {width}")
    if address in ("/clips/1/", "/recordings/1/cut/") and page.evaluate(FILM) < LEAST_FILM:
        found.append(f"film {page.evaluate(FILM):.0%}")
    found += page.evaluate(SMALL_TEXT)
    if size[0] < 700:
        found += page.evaluate(SMALL_TARGETS)
    return found


def wrong_by_axe(page: Page) -> list[str]:
    if page.evaluate("() => window.axe === undefined"):
        page.evaluate(AXE)
    found = page.evaluate(
        "axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa',"
        " 'best-practice'], resultTypes: ['violations'], selectors: false})"
    )
    return [f"{v['id']}: {n['html'][:120]}" for v in found["violations"] for n in v["nodes"]]


#: Pages go in groups, so that several workers share them.
GROUPS = 4


@pytest.mark.parametrize("group", range(GROUPS))
def test_pages_fit_every_size_and_axe_finds_nothing(
    browser: Browser, server: Server, group: int
) -> None:
    wrong = []
    with opened(browser, server, bypass_csp=True) as page:
        for address in PAGES[group::GROUPS]:
            at(page, server, address, SIZES[0])
            # A page with a film lays it out when it opens; the others follow the window.
            films = page.locator("[data-frames]").count() > 0
            for n, size in enumerate(SIZES):
                if n and films:
                    at(page, server, address, size)
                elif n:
                    page.set_viewport_size({"width": size[0], "height": size[1]})
                    page.evaluate("() => new Promise((r) => requestAnimationFrame(() => r(1)))")
                found = wrong_in_size(page, address, size)
                if n in (0, 3):
                    found += wrong_by_axe(page)
                wrong += [f"{address} at {size[0]}x{size[1]}: {text}" for text in found]
    assert not wrong, "\n".join(wrong)


def test_a_swim_is_counted_at_the_wall_and_kept_without_a_connection(
    browser: Browser, server: Server, database: sqlite3.Connection
) -> None:
    phone = {"viewport": {"width": 390, "height": 844}, "has_touch": True}
    with opened(browser, server, **phone) as page:
        page.goto(f"{server.address}/swimmers/1/wall")
        page.clock.install()
        page.get_by_role("button", name="Push-off").tap()
        for strokes in (18, 19):
            for _ in range(strokes):
                page.get_by_role("button", name="Stroke", exact=True).tap()
            page.clock.fast_forward(21_400)
            page.get_by_role("button", name="Wall", exact=True).tap()
        page.keyboard.press("z")
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Finish").tap()
        page.context.set_offline(True)
        page.get_by_role("button", name="Save to the length log").tap()
        page.get_by_text("No connection: the swim is kept on this phone").wait_for()
        page.context.set_offline(False)
        page.clock.run_for(6000)
        page.wait_for_url("**/swims/2")
    stored = swims.by_id(database, 2)
    assert [n.strokes for n in stored.lengths] == [18, 19]
    assert len(swims.of_swimmer(database, 1)) == 2
    assert stored.note == "counted at the wall"


def test_the_rope_is_drawn_for_the_width_that_it_has(page: Page, server: Server) -> None:
    fits = """() => {
      const rope = document.getElementById('rope');
      const drawn = rope.querySelector('svg').viewBox.baseVal.width;
      return Math.abs(rope.clientWidth / drawn - 1) < 0.09;
    }"""
    for size in ((390, 844), (640, 400), (1280, 800), (1920, 1080)):
        at(page, server, "/clips/1/", size)
        page.wait_for_function(fits)
    # The page became narrower: it is drawn again, in short words, and marks land where they lie.
    page.set_viewport_size({"width": 390, "height": 844})
    page.wait_for_function(fits)
    expect(page.locator('[data-lane="left"] .lane-name text')).to_have_text("Left")
    for n in range(2):
        tick = page.locator('[data-lane="left"] .tick').nth(n)
        tick.scroll_into_view_if_needed()
        tick.click(position={"x": 1, "y": 8}, force=True)
        expect(tick).to_have_class("tick chosen")
