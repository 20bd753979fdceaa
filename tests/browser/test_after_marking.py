"""From a marked clip to the review, the plan and the pool deck, in a real browser."""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Iterator
from datetime import date, timedelta
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from norvik.core.prescription.plan import Plan
from norvik.settings import Settings
from norvik.store import marks, observations, plans, reviews
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.workflow.plans import worked_out
from tests.browser.serving import Server
from tests.clips import numbered_clip
from tests.conftest import BroughtIn

#: Counts what a person does: every key and every click that the person makes.
COUNT = """
window.deeds = Number(sessionStorage.deeds ?? 0);
for (const kind of ['pointerdown', 'keydown'])
  addEventListener(kind, (e) => {
    if (e.isTrusted) sessionStorage.deeds = ++window.deeds;
  }, true);
"""


@pytest.fixture(scope="session")
def film(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("after")
    return numbered_clip(folder / "f.mp4", [k / 30 for k in range(200)])


@pytest.fixture
def database(settings: Settings, brought_in: BroughtIn, film: Path) -> Iterator[sqlite3.Connection]:
    brought_in(settings, [Swimmer("Tilde Vassholm", kit=("fins", "buoy"))],
               (film, {"filmed_on": "2026-11-20", "pool_m": 25.0}))  # fmt: skip
    with connected(settings.database) as connection:
        # Even cycles of both arms; the left hand lands a fifth late: uneven arm timing.
        for side, begins in (("right", 0), ("left", 25)):
            for n in range(4):
                begin = begins + 40 * n
                for event, at in (("entry", 0), ("catch", 9), ("press", 15), ("exit", 28)):
                    marks.place(connection, 1, None, begin + at, "arm", side, event)
        yield connection


def open_judge(page: Page, server: Server) -> None:
    page.goto(f"{server.address}/clips/1/judge/")
    page.wait_for_selector('#judge-stage[data-ready="true"]')


def test_from_a_marked_clip_to_a_sent_review_in_few_deeds(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    page.add_init_script(COUNT)
    page.goto(f"{server.address}/clips/1/")
    page.wait_for_selector('#bench[data-ready="true"]')
    page.evaluate("sessionStorage.deeds = window.deeds = 0")
    page.get_by_role("link", name="Judge", exact=True).click()
    page.wait_for_selector('#judge-stage[data-ready="true"]')
    # Two good things, the proposed point, on to the review, done, sent as one file.
    for what in ("Long, level body line", "Quiet head"):
        page.get_by_role("button", name=f"{what}: not seen").click()
        expect(page.get_by_role("button", name=f"{what}: seen", exact=True)).to_be_visible()
    page.get_by_role("button", name="Work on this").first.click()
    page.get_by_role("link", name="Go to the review").click()
    page.get_by_role("button", name="Finish review").click()
    with page.expect_download() as sent:
        page.get_by_role("link", name="Download as file").click()
    deeds = int(page.evaluate("sessionStorage.deeds"))
    assert deeds <= 12, deeds
    text = Path(sent.value.path()).read_text(encoding="utf-8")
    assert "the one thing: uneven arm timing" in " ".join(text.lower().split())
    assert reviews.by_id(database, 1).done_at is not None


def test_the_sheet_is_worked_through_by_keys(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    open_judge(page, server)
    lines = page.locator(".sheet-line:visible")
    names = [n.splitlines()[0].strip() for n in lines.all_inner_texts()]
    assert len(names) >= 25
    # One key a line to tick, one to go on.
    page.keyboard.press("c")
    expect(page.locator(".tick-button[data-degree='clear']")).to_have_count(1)
    page.keyboard.press("ArrowDown")
    page.keyboard.press("s")
    # Good things are seen or not; only faults have degrees.
    expect(page.locator(".tick-button[data-degree='clear']")).to_have_count(2)
    sided = next(
        n for n in range(len(names)) if lines.nth(n).locator("[data-side='right']").count()
    )
    for _ in range(sided - 1):
        page.keyboard.press("ArrowDown")
    page.keyboard.press("r")
    page.keyboard.press("c")
    expect(page.locator(".tick-button[data-side='right'][data-degree='clear']")).to_have_count(1)
    found = {(s.what, s.side, s.degree) for s in observations.of_clip(database, 1)}
    assert len(found) == 3
    assert any(side == "right" for _, side, _ in found)
    # The line stays where it was, and its tick goes with one key.
    expect(lines.nth(sided)).to_have_class(re.compile("at-line"))
    page.keyboard.press("x")
    expect(page.locator(".tick-button[data-side='right'][data-degree='clear']")).to_have_count(0)
    # The last line that can be seen is the last that the keys reach: folded parts are passed over.
    for _ in range(len(names) + 5):
        page.keyboard.press("ArrowDown")
    expect(page.locator(".at-line")).to_be_visible()
    assert page.locator(".at-line").inner_text().splitlines()[0].strip() == names[-1]
    page.get_by_role("button", name="Work on this").first.click()
    before = page.locator("[data-another]").first.get_attribute("aria-label")
    # What has just come in does nothing until it is settled, 20 ms later.
    expect(page.locator(".htmx-added, .htmx-settling")).to_have_count(0)
    page.keyboard.press("a")
    expect(page.locator("[data-another]").first).not_to_have_attribute("aria-label", before or "")


def test_a_plan_is_made_dragged_and_taken_to_the_deck(
    page: Page, server: Server, database: sqlite3.Connection
) -> None:
    open_judge(page, server)
    page.get_by_role("button", name="Head up (looking forward): not seen").click()
    expect(page.get_by_role("button", name="Head up (looking forward): slight")).to_be_visible()
    for n in (1, 2):
        page.get_by_role("button", name="Work on this").first.click()
        expect(page.get_by_role("button", name="Remove", exact=True)).to_have_count(n)
    page.goto(f"{server.address}/clips/1/review/")
    page.get_by_role("link", name="Plan the weeks").click()
    monday = date.today() + timedelta(days=7 - date.today().weekday())
    page.get_by_label("From", exact=True).fill(monday.isoformat())
    page.get_by_role("button", name="Make the plan").click()
    page.wait_for_selector("#plan")

    def made() -> Plan:
        return worked_out(database, plans.by_id(database, 1)).plan

    first = made().sessions[0]
    friday = (monday + timedelta(days=4)).isoformat()
    page.locator(f'.chip[data-session="{first.key}"]').drag_to(
        page.locator(f'td[data-day="{friday}"]')
    )
    expect(page.locator(f'td[data-day="{friday}"] .chip')).to_have_count(1)
    assert made().session(first.key).on.isoformat() == friday
    order = [f for f, _, _ in made().spans()]
    page.locator(f'[data-fault="{order[1]}"]').drag_to(page.locator(f'[data-fault="{order[0]}"]'))
    expect(page.locator("#focuses [data-fault]").first).to_have_attribute("data-fault", order[1])
    assert [f for f, _, _ in made().spans()] == order[::-1]
    # A set gets one repeat more, the swim-off gives it back, the sum stays.
    session = made().sessions[0]
    page.locator(f'.chip[data-session="{session.key}"]').click()
    expect(page.locator(f'.chip-open[data-session="{session.key}"]')).to_have_count(1)
    page.get_by_role("button", name="one repeat more").first.click()
    expect(page.locator("#session")).to_contain_text("fixed")
    again = made().session(session.key)
    assert again.sets[0].repeats == session.sets[0].repeats + 1
    assert again.lengths == session.lengths
    page.get_by_role("button", name="Done", exact=True).click()
    expect(page.locator(".chip-done")).to_have_count(1)
    page.get_by_role("link", name="Deck card").click()
    expect(page.locator(".deck-set")).to_have_count(len(again.sets) + len(again.land))
    page.wait_for_load_state("load")  # with its styles
    # Readable at arm's length: nothing on the card is smaller than 18 px.
    smallest = page.evaluate(
        "Math.min(...[...document.querySelectorAll('.deck > :not(.no-print), .deck-set *')]"
        ".map((e) => parseFloat(getComputedStyle(e).fontSize)))"
    )
    assert smallest >= 18
