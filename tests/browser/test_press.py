"""A press that began on a button which an answer replaced meanwhile still counts, once."""

from __future__ import annotations

from playwright.sync_api import Locator, Page, expect

from tests.browser.serving import Server


def press_while_replaced(page: Page, target: Locator, answer: str) -> None:
    """The mouse goes down on the target and up when the answer has put another in its place."""
    box = target.bounding_box()
    assert box
    before = target.element_handle()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    with page.expect_response(lambda r: answer in r.url):
        page.mouse.down()
    page.wait_for_function("before => !before.isConnected", arg=before)
    page.mouse.up()


def test_a_tab_of_the_library_is_not_lost_to_the_search(page: Page, server: Server) -> None:
    page.goto(f"{server.address}/library/")
    tab = page.locator('.state-tab[data-state="waiting"]')
    # The search goes off when the field is left: that is, with the press on the tab.
    page.locator("#words").evaluate("field => { field.focus(); field.value = 'tilde'; }")
    page.keyboard.type("x")
    asked: list[str] = []
    page.on("request", lambda r: asked.append(r.url) if "state=waiting" in r.url else None)
    press_while_replaced(page, tab, "words=tildex")
    expect(tab).to_have_attribute("aria-pressed", "true")
    expect(page.locator("#words")).to_have_value("tildex")
    assert len(asked) == 1


def test_a_press_that_moves_on_to_another_button_counts_for_neither(
    page: Page, server: Server
) -> None:
    page.goto(f"{server.address}/library/")
    waiting = page.locator('.state-tab[data-state="waiting"]').bounding_box()
    every = page.locator('.state-tab[data-state=""]')
    reviewed = page.locator('.state-tab[data-state="reviewed"]')
    assert waiting
    page.mouse.move(waiting["x"] + 20, waiting["y"] + 10)
    page.mouse.down()
    # The list is asked for again under the finger.
    old = reviewed.element_handle()
    page.evaluate("htmx.trigger(document.getElementById('wish'), 'wish')")
    page.wait_for_function("old => !old.isConnected", arg=old)
    expect(reviewed).to_be_visible()
    place = reviewed.bounding_box()
    assert place
    page.mouse.move(place["x"] + 20, place["y"] + 10)
    page.mouse.up()
    expect(every).to_have_attribute("aria-pressed", "true")
    expect(reviewed).to_have_attribute("aria-pressed", "false")
