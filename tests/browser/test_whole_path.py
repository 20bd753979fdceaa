"""The coach's whole job in a real browser, on a phone-like clip whose frames carry their number."""

from __future__ import annotations

import random
import re
from pathlib import Path

from playwright.sync_api import Page, expect

from norvik.settings import Settings
from tests.browser.serving import READ_NUMBER
from tests.clips import numbered_clip

WIDTH = 640


def phone_times(count: int) -> list[float]:
    """Variable frame rate around 60 frames/s."""
    rng = random.Random(12)
    times, t = [], 0.0
    for _ in range(count):
        times.append(t)
        t += rng.choice([1 / 60, 1 / 60, 1 / 60, 1 / 30, 1 / 120])
    return times


TIMES = phone_times(300)


def nearest(seconds: float) -> int:
    return min(range(len(TIMES)), key=lambda n: abs(TIMES[n] - seconds))


def shown_and_counted(page: Page) -> tuple[int, int]:
    shown = page.evaluate(READ_NUMBER, WIDTH)
    return shown, int(page.locator("#frame-number").inner_text())


def goto(page: Page, frame: int) -> None:
    page.evaluate("frame => window.norvik.stage.goto(frame)", frame)


def mark_at(page: Page, seconds: float, key: str) -> None:
    """Go to an instant, press a key, and wait until the mark is saved."""
    goto(page, nearest(seconds))
    page.keyboard.press(key)
    expect(page.locator("#told")).to_contain_text(f"frame {nearest(seconds)}")


def test_from_upload_to_review(page: Page, worker: None, tmp_path: Path) -> None:
    clip = numbered_clip(tmp_path / "IMG 0042.mp4", TIMES, options={"g": "250", "bf": "3"})

    # A swimmer, then the clip.
    page.get_by_role("link", name="Add a swimmer").click()
    page.get_by_label("Name").fill("Tilde Vassholm")
    page.get_by_text("More: aim").click()
    page.get_by_label("fins").check()
    page.get_by_role("button", name="Save").click()
    page.get_by_role("link", name="Add clips of Tilde").click()
    page.locator("#files").set_input_files(clip)
    page.wait_for_url(re.compile(r"/clips/\d+/$"), timeout=90_000)
    page.wait_for_selector('#bench[data-ready="true"]', timeout=60_000)
    bench = page.url

    # The frame shown is the frame counted: 60 random jumps and steps.
    rng = random.Random(7)
    wrong = []
    for _ in range(60):
        if rng.random() < 0.5:
            goto(page, rng.randrange(len(TIMES)))
        else:
            keys = rng.choice(["ArrowRight", "ArrowLeft", "Shift+ArrowRight", "Shift+ArrowLeft"])
            for _ in range(rng.randint(1, 4)):
                page.keyboard.press(keys)
            page.evaluate("() => window.norvik.stage.settled()")
        shown, counted = shown_and_counted(page)
        if shown != counted:
            wrong.append((shown, counted))
    assert wrong == []

    # Playing and stopping stops on the frame that is counted, too.
    goto(page, 20)
    page.keyboard.press("3")
    page.keyboard.press(" ")
    page.wait_for_function("() => window.norvik.stage.shown > 40")
    page.keyboard.press(" ")
    page.wait_for_function("() => !window.norvik.stage.playing && !window.norvik.stage.seeking")
    shown, counted = shown_and_counted(page)
    assert shown == counted
    assert counted > 40

    # A loop stays within its ends.
    goto(page, 100)
    page.keyboard.press("q")
    goto(page, 112)
    page.keyboard.press("w")
    page.keyboard.press("5")
    page.evaluate(
        """() => {
          const { stage } = window.norvik;
          window.played = [];
          stage.addEventListener("frame", () => window.played.push(stage.shown));
        }"""
    )
    page.keyboard.press(" ")
    # How far it runs over its end hangs on the machine; that it comes back to its start does not.
    back = "played.filter((frame, n) => n && frame < played[n - 1])"
    page.wait_for_function(f"() => {back}.length >= 2")
    page.keyboard.press(" ")
    page.evaluate("() => window.norvik.stage.settled()")
    assert min(page.evaluate("() => played")) >= 99
    assert all(99 <= frame <= 112 for frame in page.evaluate(f"() => {back}"))
    page.keyboard.press("Escape")

    # Two cycles of each arm with one key, 1.5 s a cycle; the left arm lands 0.85 s after.
    page.keyboard.press("r")
    for n in range(2):
        for share in (0.0, 0.42, 0.52, 0.80):
            mark_at(page, 0.2 + 1.5 * (n + share), "f")
    mark_at(page, 3.2, "f")
    page.keyboard.press("l")
    for n in range(2):
        for share in (0.0, 0.42, 0.52, 0.80):
            mark_at(page, 1.05 + 1.5 * (n + share), "f")
    mark_at(page, 4.05, "f")
    for start in (0.9, 2.4):
        for seconds in (0, 0.3, 0.85):
            mark_at(page, start + seconds, "v")
    rate = page.locator('[data-name="Stroke rate"] b')
    expect(rate).to_have_text(re.compile(r"^(79|80)\.\d$"))
    expect(page.locator("#numbers")).to_contain_text("catch-up")
    expect(page.locator(".rope .tick")).to_have_count(24)

    # A number shows the frames that it rests on.
    page.locator('[data-name="Stroke rate"]').click()
    assert page.evaluate("() => window.norvik.stage.settled()") in {
        nearest(t) for t in (0.2, 1.05, 1.7, 2.55)
    }

    # Move, undo, delete, undo; all of it survives a reload.
    page.keyboard.press("[")
    page.keyboard.press("Control+ArrowRight")
    expect(page.locator("#told")).to_contain_text("moved to frame")
    page.keyboard.press("z")
    expect(page.locator("#told")).to_contain_text("back on frame")
    page.keyboard.press("Delete")
    expect(page.locator(".rope .tick")).to_have_count(23)
    page.keyboard.press("z")
    expect(page.locator(".rope .tick")).to_have_count(24)
    page.reload()
    page.wait_for_selector('#bench[data-ready="true"]')
    expect(page.locator(".rope .tick")).to_have_count(24)

    # A mark made without a connection is not lost.
    page.context.set_offline(True)
    goto(page, 200)
    page.keyboard.press("k")
    expect(page.locator("#told")).to_contain_text("No connection")
    page.context.set_offline(False)
    expect(page.locator(".rope .tick")).to_have_count(25)

    # A mark is dragged along the rope.
    tick = page.locator(".rope .tick.beat")
    box = tick.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 15)
    page.mouse.down()
    page.mouse.move(box["x"] + 80, box["y"] + 15, steps=4)
    page.mouse.up()
    expect(page.locator("#told")).to_contain_text("Right kick moved to frame")

    # Judge: good things first, then the point.
    page.get_by_role("link", name="Judge").click()
    page.wait_for_selector('#judge-stage[data-ready="true"]')
    verdict = page.locator("#verdict")
    expect(verdict).to_contain_text("Overgliding")
    for name in ("Long, level body line: not seen", "High elbow in the catch left: not seen",
                 "Reaches down right: not seen"):  # fmt: skip
        page.get_by_role("button", name=name, exact=True).click()
        now = "slight" if name.startswith("Reaches") else "seen"
        now = name.replace("not seen", now)
        expect(page.get_by_role("button", name=now, exact=True)).to_be_visible()
    expect(verdict).to_contain_text("Reaches down")
    work = page.locator("#verdict li", has_text=re.compile("Overgliding")).get_by_role(
        "button", name="Work on this"
    )
    work.click()
    expect(verdict).to_contain_text("As one hand lets go, the other is already holding.")
    expect(verdict).to_contain_text("Thigh touch")

    # Review: words, date, done; one file that stands by itself.
    page.get_by_role("link", name="Go to the review").click()
    page.get_by_label("In your words").fill("A lovely long line.")
    expect(page.locator("#words-kept")).to_have_text("Saved.")
    # What was typed is there again, without any button.
    page.reload()
    expect(page.get_by_label("In your words")).to_have_value("A lovely long line.")
    page.get_by_label("Film again on").fill("2027-01-15")
    page.get_by_role("button", name="Finish review").click()
    expect(page.locator(".review-sheet")).to_contain_text("A lovely long line.")
    expect(page.locator(".review-sheet")).to_contain_text("15 January 2027")
    with page.expect_download() as download:
        page.get_by_role("link", name="Download as file").click()
    file = tmp_path / "review.html"
    download.value.save_as(file)
    page.context.set_offline(True)
    page.goto(file.as_uri())
    expect(page.locator("h1")).to_have_text("Tilde Vassholm")
    sizes = page.evaluate(
        "() => [...document.querySelectorAll('img:not(.drill-loop img)')]"
        ".map((i) => i.naturalWidth)"
    )
    # Of the good things, and of the one to work on.
    assert len(sizes) == 4
    # Its drills move without anything from outside.
    drills = page.evaluate(
        "() => [...document.querySelectorAll('.drill-loop img')].map((i) => i.naturalWidth)"
    )
    assert drills
    assert all(drills)
    assert all(size == WIDTH for size in sizes)
    page.context.set_offline(False)
    page.goto(bench.split("/clips")[0])
    expect(page.locator("#today")).to_contain_text("Reviewed")


def test_bad_uploads_say_what_to_do_and_leave_nothing(
    page: Page, worker: None, settings: Settings, tmp_path: Path
) -> None:
    page.get_by_role("link", name="Add a swimmer").click()
    page.get_by_label("Name").fill("Tilde Vassholm")
    page.get_by_role("button", name="Save").click()
    text = tmp_path / "swim.mp4"
    text.write_text("This is a shopping list.")
    whole = numbered_clip(tmp_path / "whole.mp4", TIMES[:40])
    cut = tmp_path / "cut.mp4"
    cut.write_bytes(whole.read_bytes()[:4000])
    address = page.url.split("/swimmers")[0]
    page.goto(f"{address}/clips/new")
    page.locator("#files").set_input_files([text, cut])
    rows = page.locator("#uploads li")
    expect(rows).to_have_count(2)
    for n in range(2):
        expect(rows.nth(n)).to_contain_text("Send the clip itself")
    assert list(settings.data.rglob("*.mp4")) == []
