"""The rhythm aid: what is heard, sample by sample, and how it runs on a phone."""

from __future__ import annotations

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import opened
from tests.browser.serving import Server

#: Ten minutes of beeps rendered to samples; gives the seconds at which each is heard to begin.
RENDERED = """async ([interval, seconds]) => {
  const { beatAt, beep } = await import("/static/js/beats.js");
  const rate = 4000;
  const context = new OfflineAudioContext(1, seconds * rate, rate);
  for (let n = 0; beatAt(n, interval) < seconds - 0.1; n += 1) {
    beep(context, beatAt(n, interval), n % 2 ? "right" : "left");
  }
  const samples = (await context.startRendering()).getChannelData(0);
  const heard = [];
  let quiet = 0;
  for (let n = 0; n < samples.length; n += 1) {
    if (Math.abs(samples[n]) > 0.05) {
      if (quiet > rate * 0.05 || !heard.length) heard.push(n / rate);
      quiet = 0;
    } else quiet += 1;
  }
  return heard;
}"""


def test_ten_minutes_are_steady_to_five_milliseconds(
    page: Page, server: Server, squad: list[int]
) -> None:
    interval = 60 / 57
    page.goto(f"{server.address}/swimmers/{squad[0]}/rhythm")
    heard = page.evaluate(RENDERED, [interval, 600])
    assert len(heard) == pytest.approx(600 / interval, abs=2)
    worst = max(abs(at - n * interval) for n, at in enumerate(heard))
    assert worst < 0.005


def test_it_beats_on_the_audio_clock_and_follows_the_rate(
    browser: Browser, server: Server, squad: list[int]
) -> None:
    phone = {"viewport": {"width": 390, "height": 844}, "has_touch": True}
    with opened(browser, server, **phone) as page:
        page.goto(f"{server.address}/swimmers/{squad[0]}/rhythm")
        page.wait_for_selector('#rhythm[data-ready="true"]')
        expect(page.locator("#rate")).to_have_text("57.0")
        assert page.evaluate("document.documentElement.scrollWidth") <= 390
        page.get_by_role("button", name="+5").tap()
        expect(page.locator("#rate")).to_have_text("62.0")
        page.get_by_role("button", name="each cycle").tap()
        expect(page.locator("#rate")).to_have_text("31.0")
        expect(page.locator("#unit")).to_have_text("cycles/min")
        page.get_by_role("button", name="each stroke").tap()
        page.get_by_role("button", name="Start").tap()
        page.wait_for_selector(".half.lit")
        page.wait_for_function("() => norvik.beats.next >= 3")
        assert page.evaluate("() => norvik.beats.interval") == pytest.approx(60 / 62)
        # Changed while it runs: the next beat keeps its place.
        moved = page.evaluate(
            """() => {
              const { beats } = norvik;
              const next = () => beats.begin + beats.next * beats.interval;
              const before = next();
              beats.change(0.9);
              return next() - before;
            }"""
        )
        assert moved == pytest.approx(0, abs=1e-9)
        page.get_by_role("button", name="Stop").tap()
        expect(page.locator(".half.lit")).to_have_count(0)
