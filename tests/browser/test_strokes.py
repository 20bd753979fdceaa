"""The model swimmer in the hand: turned by dragging and by keys, and played at a rate."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.conftest import until
from tests.browser.serving import Server


def eye(page: Page) -> tuple[int, int]:
    figure = page.locator("#figure")
    return int(figure.get_attribute("data-round") or 0), int(figure.get_attribute("data-over") or 0)


def test_the_figure_is_turned_by_dragging_and_by_keys(page: Page, server: Server) -> None:
    page.goto(f"{server.address}/strokes/freestyle/")
    assert eye(page) == (0, 0)
    box = page.locator("#figure svg").bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 75, y + 50, steps=5)
    page.mouse.up()
    until(page, lambda: eye(page) == (45, 30))
    expect(page.get_by_role("radio", name="side")).not_to_be_checked()
    page.locator("#turn").focus()
    page.keyboard.press("ArrowLeft")
    until(page, lambda: eye(page) == (60, 30))
    # A named view is one again.
    page.get_by_role("radio", name="below").check()
    until(page, lambda: eye(page) == (0, -90))
    page.get_by_role("radio", name="front").check()
    until(page, lambda: eye(page) == (90, 0))


def test_it_is_played_at_the_rate_that_is_typed(page: Page, server: Server) -> None:
    page.goto(f"{server.address}/strokes/backstroke/")
    page.get_by_label("Playback rate").fill("60")
    page.get_by_role("button", name="Play").click()
    seen: set[str] = set()

    def watched() -> bool:
        seen.add(page.locator("#step").input_value())
        return len(seen) > 10

    until(page, watched)
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_role("button", name="Play")).to_be_visible()
    held = page.locator("#step").input_value()
    page.wait_for_timeout(300)
    assert page.locator("#step").input_value() == held


def test_a_fault_lies_over_how_it_should_look(page: Page, server: Server) -> None:
    page.goto(f"{server.address}/strokes/freestyle/")
    page.get_by_label("Compare with a fault").select_option("legs-low")
    expect(page.locator("#figure svg")).to_have_count(2)
    page.get_by_label("Overlay the two").check()
    expect(page.locator("#figure svg")).to_have_count(1)
    expect(page.locator("#figure")).to_contain_text("with how it should look as an outline")
