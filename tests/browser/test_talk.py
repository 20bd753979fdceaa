"""A talk recorded over two films, mended, filmed, sent; read on a phone and answered."""

from __future__ import annotations

import os
import re
import signal
import sqlite3
from collections.abc import Iterator
from datetime import date
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import pytest
from playwright.sync_api import Browser, Page, expect

from norvik.core.prescription.plan import FocusRequest, PlanRequest, Pool
from norvik.settings import Settings
from norvik.store import (
    clips,
    marks,
    observations,
    plans,
    reviews,
    swimmers,
    talks,
)
from norvik.store.connection import connected
from norvik.store.observations import Sighting
from norvik.store.swimmers import Swimmer
from norvik.workflow.plans import make_plan, worked_out
from norvik.workflow.review_judgement import judge_review, review_of
from norvik.workflow.talk.assemble import assemble
from tests.browser.conftest import until
from tests.browser.serving import READ_NUMBER, Server
from tests.clips import numbered_clip, read_number
from tests.conftest import BroughtIn

WIDTH = 640
_BODY = READ_NUMBER.split("{", 1)[1].replace("const { picture } = window.norvik.stage;", "")
#: The same of the n-th film of a talk that is played back.
READ_PLAYED = "async ([width, n]) => { const { player } = window.norvik; await player.draw();" \
    " const boxes = [...document.querySelectorAll('.talk-box:not([hidden])')];" \
    " const still = boxes[n].querySelector('canvas');" \
    " const picture = still.hidden ? boxes[n].querySelector('video') : still;" \
    + _BODY  # fmt: skip


@pytest.fixture(scope="session")
def two_days(tmp_path_factory: pytest.TempPathFactory) -> list[Path]:
    folder = tmp_path_factory.mktemp("days")
    return [
        numbered_clip(folder / "before.mp4", [k / 30 for k in range(160)]),
        numbered_clip(folder / "after.mp4", [k / 30 for k in range(170)]),
    ]


@pytest.fixture
def database(
    settings: Settings, brought_in: BroughtIn, two_days: list[Path]
) -> Iterator[sqlite3.Connection]:
    before, after = two_days
    swimmer = Swimmer("Tilde Vassholm", kit=("fins", "buoy", "paddles"))
    days = {"filmed_on": "2026-11-20"}, {"filmed_on": "2026-11-27"}
    brought_in(settings, [swimmer], (before, days[0]), (after, days[1]))
    with connected(settings.database) as connection:
        for clip in (1, 2):
            for begin in (5, 45, 85):
                for event, at in (("entry", 0), ("catch", 10), ("press", 16), ("exit", 28)):
                    marks.place(connection, clip, None, begin + at, "arm", "right", event)
        yield connection


@pytest.fixture
def review_id(database: sqlite3.Connection) -> int:
    """Two good things, and a point whose drills load the shoulder."""
    for what in ("quiet-head", "long-line", "wrist-dropped"):
        observations.put(database, 2, Sighting(what, "", "clear", 66))
    review = review_of(database, clips.by_id(database, 2))
    reviews.choose(database, review.id, [("freestyle", "wrist-dropped")])
    kept = ["mid-scull", "paddle-balance"]
    reviews.set_drills(database, review.id, "freestyle", "wrist-dropped", kept)
    return review.id


def record(page: Page) -> None:
    page.keyboard.press("Shift+T")
    expect(page.locator("#talk-bar.on-air")).to_be_visible()


def finish(page: Page) -> int:
    """To the page where it is mended; the number of the talk."""
    page.locator('[data-talk="finish"]').click()
    page.wait_for_selector('#mend[data-ready="true"]')
    return int(re.search(r"/talks/(\d+)/", page.url)[1])  # type: ignore[index]


def deeds_of(database: sqlite3.Connection, talk_id: int) -> list[list[Any]]:
    talk = assemble(database, talks.by_id(database, talk_id))
    return [list(d) for score in talk.scores.values() for d in score.deeds]


def drills_of(database: sqlite3.Connection, plan_id: int) -> set[str]:
    """The drills of all sessions of a plan that have not been noted."""
    plan = worked_out(database, plans.by_id(database, plan_id))
    open_ones = [s for s in plan.plan.sessions if s.key not in plan.trained]
    return {d.id for s in open_ones for d in plan.drills_of(s)}


def test_what_is_played_back_is_what_was_seen(
    page: Page, server: Server, database: sqlite3.Connection, review_id: int
) -> None:
    page.goto(f"{server.address}/clips/2/")
    page.wait_for_selector('#bench[data-ready="true"]')
    page.evaluate("() => norvik.stage.goto(10)")
    record(page)
    for key in ("ArrowRight", "ArrowRight", "ArrowLeft", "Shift+ArrowRight"):
        page.keyboard.press(key)
        page.wait_for_timeout(150)
    # A line is drawn while it records, and the pointer held down.
    page.keyboard.press("Shift+D")
    page.locator('[data-do="draw"][data-way="distance"]').click()
    box = page.locator("#overlay").bounding_box()
    assert box is not None
    for share in (0.4, 0.6):
        page.mouse.click(box["x"] + share * box["width"], box["y"] + 0.5 * box["height"])
    expect(page.locator("#overlay g.drawing")).to_have_count(1)
    page.keyboard.press("Shift+D")
    page.mouse.move(box["x"] + 0.5 * box["width"], box["y"] + 0.3 * box["height"])
    page.mouse.down()
    expect(page.locator("#main > .talk-spot")).to_be_visible()
    page.wait_for_timeout(200)
    page.mouse.up()
    # Played at a quarter of real time, mirrored, paused.
    page.keyboard.press("m")
    page.keyboard.press(" ")
    page.wait_for_timeout(900)
    page.keyboard.press(" ")
    page.wait_for_timeout(300)
    talk_id = finish(page)
    deeds = deeds_of(database, talk_id)
    shown = [(d[0], d[3]) for d in deeds if d[1] == "frame"]
    assert [n for _, n in shown[:5]] == [10, 11, 12, 11, 21]
    played = [n for _, n in shown[5:]]
    assert len(played) > 4
    assert played == sorted(played)
    kinds = {d[1] for d in deeds}
    assert kinds >= {"stage", "place", "frame", "ink", "spot", "speed", "about", "end"} - {"about"}
    # Each frame is the one that was seen: read from the picture.
    ends = [at for at, _ in shown[1:]] + [deeds[-1][0]]
    for (at, frame), end in zip(shown, ends, strict=True):
        page.evaluate("(ms) => norvik.player.seek(ms)", (at + end) / 2)
        assert page.evaluate(READ_PLAYED, [WIDTH, 0]) == frame, at
    # While its points are set a line is a draft; then it is the drawing itself.
    inks = assemble(database, talks.by_id(database, talk_id)).inks
    finished = {key for key, svg in inks.items() if svg.startswith("<g")}
    drawn = next(d[0] for d in deeds if d[1] == "ink" and finished & set(d[3]))
    page.evaluate("(ms) => norvik.player.seek(ms)", drawn + 5)
    expect(page.locator(".talk-ink g.drawing")).to_have_count(1)
    # The pointer lies on the same place of the water, however large the picture is here.
    at, _, _, x, y = next(d for d in deeds if d[1] == "spot" and d[2] == 0)
    box_w, box_h, a, _, _, d, e, f = next(
        p[3] for p in reversed(deeds) if p[1] == "place" and p[0] <= at
    )
    page.evaluate("(ms) => norvik.player.seek(ms)", at + 5)
    expect(page.locator(".talk-box:not([hidden]) .talk-spot")).to_be_visible()
    there = page.evaluate(
        """() => {
          const box = document.querySelector(".talk-box:not([hidden])");
          const spot = box.querySelector(".talk-spot").getBoundingClientRect();
          const middle = new DOMPoint(spot.left + spot.width / 2, spot.top + spot.height / 2);
          const at = middle.matrixTransform(box.querySelector("svg").getScreenCTM().inverse());
          return [at.x, at.y];
        }"""
    )
    assert there == pytest.approx([(x * box_w - e) / a, (y * box_h - f) / d], abs=2)
    # Its bytes are few: ten minutes of this stay under a megabyte.
    length = deeds[-1][0] / 1000
    assert talks.size_without_sound(database, talk_id) / length < 1_000_000 / 600


def test_the_figure_beside_the_film_is_part_of_the_talk(
    page: Page, server: Server, database: sqlite3.Connection, review_id: int
) -> None:
    page.goto(f"{server.address}/clips/2/beside?with=figure&side=right")
    page.wait_for_selector('#beside[data-ready="true"]')
    record(page)
    for _ in range(6):
        page.keyboard.press("ArrowRight")
        page.wait_for_timeout(120)
    stances = page.locator(".beside-stance:not([hidden])")
    last = stances.get_attribute("data-stance")
    talk_id = finish(page)
    deeds = deeds_of(database, talk_id)
    [films] = [d[3] for d in deeds if d[1] == "stage"]
    assert films[1]["figure"] == "figure"
    frames = [d[3] for d in deeds if d[1] == "frame" and d[2] == 1]
    assert frames[-1] == int(last or -1)
    # What is played back is the stance that was seen, in the same place.
    page.evaluate("(ms) => norvik.player.seek(ms)", deeds[-1][0] - 1)
    figure = page.locator(".talk-box:has(g.stance)")
    expect(figure.locator("g.stance polygon").first).to_be_visible()
    expect(figure.locator("canvas, video")).to_have_count(0)
    shown = [key for d in deeds if d[1] == "ink" and d[2] == 1 for key in d[3]]
    inks = assemble(database, talks.by_id(database, talk_id)).inks
    assert len({inks[k] for k in shown}) == len(set(frames))
    water = figure.locator("rect.sea").bounding_box()
    box = figure.bounding_box()
    assert water is not None
    assert box is not None
    assert water["x"] == pytest.approx(box["x"], abs=2)
    assert water["width"] == pytest.approx(box["width"], abs=4)
    assert talks.size_without_sound(database, talk_id) < 300_000
    # Speaking on opens the same two again.
    with page.expect_navigation():
        page.goto(f"{server.address}/talks/{talk_id}/speak?at=100&how=on")
    assert "with=figure" in page.url


def test_nothing_is_lost_when_the_line_drops_or_the_server_dies(
    page: Page, server: Server, database: sqlite3.Connection, review_id: int
) -> None:
    page.goto(f"{server.address}/clips/2/")
    page.wait_for_selector('#bench[data-ready="true"]')
    record(page)
    page.wait_for_timeout(1500)
    os.kill(server.process.pid, signal.SIGKILL)
    server.process.join()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
        page.wait_for_timeout(500)
    expect(page.locator("#told")).to_contain_text("safe in this browser")
    server.start()
    page.wait_for_timeout(300)
    page.context.set_offline(True)
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+T")
    expect(page.locator("#talk-bar.on-air")).to_have_count(0)
    # The tab is closed while bits of the talk wait in the browser.
    context = page.context
    page.close()
    context.set_offline(False)
    later = context.new_page()
    later.goto(f"{server.address}/clips/2/talk/")

    def whole() -> bool:
        found = talks.of_review(database, review_id)
        deeds = deeds_of(database, found[0].id) if found else []
        return bool(deeds) and deeds[-1][1] == "end"

    until(later, whole)
    deeds = deeds_of(database, talks.of_review(database, review_id)[0].id)
    first = deeds[[d[1] for d in deeds].index("frame")][3]
    assert [d[3] for d in deeds if d[1] == "frame"] == [first + n for n in range(5)]


def test_from_a_talk_over_two_films_to_an_answer_from_the_pool(
    page: Page, browser: Browser, server: Server, worker: None, settings: Settings,
    database: sqlite3.Connection, review_id: int,
) -> None:  # fmt: skip
    judged = judge_review(database, reviews.by_id(database, review_id))
    days = (0, 1, 2, 3, 4, 5, 6)
    request = PlanRequest(
        date.today(), days, Pool(Fraction(25)), (FocusRequest("wrist-dropped"),), metres=2000
    )
    plan_id = make_plan(database, judged, request)
    # Along the path: the bench with the first point, then films side by side.
    page.goto(f"{server.address}/reviews/{review_id}/talk/")
    points = page.locator("#talk-path h2").all_inner_texts()
    assert points[-1] == "Wrist bends back in the catch"
    assert len(points) > 2
    page.get_by_role("link", name="Start a new talk").click()
    page.wait_for_selector('#bench[data-ready="true"]')
    record(page)
    for point in points:
        expect(page.locator("#talk-bar")).to_contain_text(point)
        page.wait_for_timeout(1800)
        if point != points[-1]:
            page.keyboard.press("PageDown")
    page.get_by_role("link", name="Side by side").click()
    page.wait_for_selector('#beside[data-ready="true"]')
    # It goes on by itself: the page before it recorded, too.
    expect(page.locator("#talk-bar.on-air")).to_be_visible()
    for _ in range(4):
        page.keyboard.press("ArrowRight")
        page.wait_for_timeout(150)
    page.wait_for_timeout(600)
    talk_id = finish(page)
    talk = assemble(database, talks.by_id(database, talk_id))
    assert len(talk.row) == 2
    assert len(talk.seen_at(talk.length_ms).films) == 2
    assert [c.words for c in talk.chapters] == points
    # A stretch is cut out, a chapter renamed, a caption written.
    length = talk.length_ms
    page.evaluate("() => norvik.player.seek(200)")
    page.keyboard.press("i")
    page.evaluate("() => norvik.player.seek(700)")
    page.keyboard.press("o")
    page.keyboard.press("x")
    expect(page.locator("#told")).to_contain_text("0.5 s cut out")
    page.get_by_label("Chapter", exact=True).last.fill("Your elbow")
    page.get_by_label("Chapter", exact=True).last.press("Enter")
    expect(page.locator("#told")).to_contain_text("Chapter renamed")
    page.get_by_label("Caption at this place").fill("Hold the water")
    page.get_by_label("Caption at this place").press("Enter")
    expect(page.locator("#told")).to_contain_text("Caption added")
    # Play is pressed while the mended sound is on its way, and the talk is mended while it plays.
    page.evaluate(
        """async () => {
            const { player } = norvik;
            const told = await (await fetch(document.getElementById("mend").dataset.score)).json();
            const first = player.load(told);
            await player.toggle();
            await first;
            await player.load(told);
        }"""
    )
    until(page, lambda: page.evaluate("norvik.player.ms > 1200"))
    page.locator('[data-do="toggle"]').click()
    assert page.evaluate("norvik.player.playing") is False
    page.get_by_role("button", name="Make film").nth(1).click()
    expect(page.get_by_role("link", name="Download", exact=True)).to_be_visible()
    (film,) = settings.films.glob("*.mp4")
    with av.open(str(film)) as made:
        assert made.duration / 1e6 == pytest.approx(length / 1000 - 0.5, abs=0.1)
        assert [c["metadata"]["title"] for c in made.chapters()][-1] == "Your elbow"
        last = [f.to_ndarray(format="bgr24") for f in made.decode(video=0)][-3]
    # Both films above each other, each at the frame that was seen.
    seen = talk.seen_at(talk.length_ms - 100)
    half = [last[(640 - 405) // 2 + 1 :], last[640 + (640 - 405) // 2 + 1 :]]
    assert [read_number(part, 720 / WIDTH) for part in half] == [f.frame for f in seen.films]

    # It is sent, and opened on a phone without an account.
    page.goto(f"{server.address}/reviews/{review_id}/send/")
    page.get_by_role("button", name="Make link").click()
    link = page.locator("section a[target=_blank]").first.get_attribute("href")
    assert link is not None
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    copy = page.locator("[data-copy]").nth(1)
    copy.click()
    expect(copy).to_have_text("Copied")
    assert page.evaluate("navigator.clipboard.readText()") == link
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
    phone = context.new_page()
    phone.goto(link)
    expect(phone.get_by_role("heading", name="Tilde Vassholm")).to_be_visible()
    phone.get_by_role("button", name="0:0").last.click()
    until(phone, lambda: phone.evaluate("document.getElementById('film').currentTime > 0.3"))
    assert phone.evaluate("document.documentElement.scrollWidth") <= 390
    assert "paddle-balance" in drills_of(database, plan_id)
    form = phone.locator("form.answer").first
    form.get_by_text("Done", exact=True).click()
    form.get_by_label("How hard").fill("6")
    form.get_by_label("Does anything hurt").select_option("shoulder")
    form.get_by_label("One sentence").fill("Sore after the paddles")
    form.get_by_role("button", name="Send").click()
    expect(form.locator(".told")).to_contain_text("Sent to your coach")
    # It opens again without a line: what was seen stays, and an answer waits.
    until(phone, lambda: phone.evaluate("navigator.serviceWorker.controller !== null"))
    phone.reload()
    expect(phone.get_by_role("heading", name="Tilde Vassholm")).to_be_visible()
    phone.wait_for_timeout(500)
    context.set_offline(True)
    phone.reload()
    expect(phone.get_by_role("heading", name="Tilde Vassholm")).to_be_visible()
    form = phone.locator("form.answer").first
    form.get_by_label("One sentence").fill("Better today")
    form.get_by_role("button", name="Send").click()
    expect(form.locator(".told")).to_contain_text("as soon as")
    context.set_offline(False)
    context.close()

    assert swimmers.by_id(database, 1).pain == ("shoulder",)
    assert "paddle-balance" not in drills_of(database, plan_id)
    page.goto(f"{server.address}/")
    expect(page.get_by_text("shoulder hurts")).to_be_visible()
    expect(page.get_by_text("Sore after the paddles")).to_be_visible()
