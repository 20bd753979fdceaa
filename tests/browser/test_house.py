"""The house by hand: inviting, a second factor, squads, and a swimmer's own pages on a phone."""

from __future__ import annotations

import re
from pathlib import Path

import pyotp
from playwright.sync_api import Browser, Page, expect

from norvik.settings import Settings
from norvik.store import clips, reviews
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer
from norvik.workflow.review_judgement import review_of
from tests.browser.conftest import opened
from tests.browser.serving import Server
from tests.browser.test_every_size import wrong_by_axe
from tests.conftest import BroughtIn

WORDS = "blue lane rope morning"


def choose(page: Page, link: str) -> None:
    page.goto(link)
    page.get_by_label("Password, at least").fill(WORDS)
    page.get_by_label("Show what is typed").check()
    expect(page.get_by_label("Password, at least")).to_have_attribute("type", "text")
    page.get_by_label("Password again").fill(WORDS)
    page.get_by_role("button", name="Save and sign in").click()


def test_from_an_invitation_to_work_and_out(
    browser: Browser, settings: Settings, brought_in: BroughtIn, small_clip: Path
) -> None:
    brought_in(settings, [Swimmer("Tilde Vassholm"), Swimmer("Eirik Lundstrand")],
               (small_clip, {"pool_m": 25.0}))  # fmt: skip
    with connected(settings.database) as connection:
        review = review_of(connection, clips.by_id(connection, 1))
        reviews.set_words(connection, review.id, "Long and calm.", None, 1)
        reviews.set_done(connection, review.id, True)
    server = Server(settings)
    try:
        with opened(browser, server) as coach:
            # A squad, and an assistant for it.
            coach.goto(f"{server.address}/squads/new")
            coach.get_by_label("Name").fill("Relay")
            coach.get_by_label("Tilde Vassholm").check()
            coach.get_by_role("button", name="Save").click()
            coach.goto(f"{server.address}/people/invite")
            coach.get_by_label("Name").fill("Maren Liavik")
            coach.get_by_label("E-mail").fill("deck@kvarnholm.example")
            coach.get_by_label("Assistant").check()
            coach.get_by_label("Relay").check()
            coach.get_by_role("button", name="Invite").click()
            link = str(coach.locator("#link").text_content()).strip()
            with browser.new_context(viewport={"width": 1024, "height": 768}) as context:
                assistant = context.new_page()
                choose(assistant, link)
                expect(assistant.get_by_role("heading", name="Today")).to_be_visible()
                assistant.goto(f"{server.address}/swimmers/")
                expect(assistant.get_by_text("Tilde Vassholm")).to_be_visible()
                expect(assistant.get_by_text("Eirik Lundstrand")).to_have_count(0)
                expect(assistant.get_by_role("link", name="Add swimmer")).to_have_count(0)
                second_factor(assistant, server)
                # The head coach signs them out; nothing opens any more.
                coach.goto(f"{server.address}/people/")
                coach.get_by_role("link", name="Maren Liavik").click()
                coach.get_by_role("button", name="Sign out everywhere").click()
                assistant.goto(f"{server.address}/swimmers/")
                expect(assistant.get_by_role("heading", name="Sign in")).to_be_visible()
            swimmer_on_a_phone(browser, server, coach)
    finally:
        server.stop()


def second_factor(page: Page, server: Server) -> None:
    """Turned on from the account page; asked for at the next sign-in."""
    page.get_by_title("Your account").click()
    page.get_by_role("link", name="Turn a second factor on").click()
    secret = str(page.locator("b.break-all").text_content())
    page.get_by_label("Code that the app shows").fill(pyotp.TOTP(secret).now())
    page.get_by_label("Current password").fill(WORDS)
    page.get_by_role("button", name="Turn it on").click()
    expect(page.get_by_role("link", name="Turn the second factor off")).to_be_visible()


def swimmer_on_a_phone(browser: Browser, server: Server, coach: Page) -> None:
    coach.goto(f"{server.address}/people/invite")
    coach.get_by_label("Name").fill("Tilde Vassholm")
    coach.get_by_label("E-mail").fill("tilde@kvarnholm.example")
    coach.get_by_label("Swimmer own reviews").check()
    coach.get_by_text("Whose pages a swimmer").click()
    coach.get_by_label("Tilde Vassholm").check()
    coach.get_by_role("button", name="Invite").click()
    link = str(coach.locator("#link").text_content()).strip()
    phone = {"width": 390, "height": 844}
    with browser.new_context(viewport=phone, bypass_csp=True) as context:  # type: ignore[arg-type]
        page = context.new_page()
        choose(page, link)
        expect(page).to_have_url(re.compile("/mine/$"))
        assert page.evaluate("document.documentElement.scrollWidth") == 390
        assert wrong_by_axe(page) == []
        page.get_by_role("link", name="Filmed").click()
        expect(page.get_by_text("Long and calm.")).to_be_visible()
        page.get_by_label("One sentence to your coach").fill("Felt easy today")
        page.get_by_role("button", name="Send").click()
        expect(page.get_by_text("Sent to your coach.")).to_be_visible()
    coach.goto(server.address)
    expect(coach.get_by_text("Felt easy today")).to_be_visible()
