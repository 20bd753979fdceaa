"""Steps, jumps and marks in headless Chromium, and what the bench weighs."""

from __future__ import annotations

import random
from datetime import date
from pathlib import Path

from playwright.sync_api import Page, Request
from tests.browser.serving import READ_NUMBER, chromium, running, sign_in

from bench.figures import line, percentiles
from norvik.intake.receive import Facts, receive
from norvik.jobs.runner import run_job
from norvik.model.schedule import Swim, schedule
from norvik.settings import Settings
from norvik.store import clips, marks, swimmers, users
from norvik.store.connection import connected, migrate
from norvik.store.swimmers import Swimmer
from norvik.web.auth import hash_password

EMAIL, PASSWORD = "coach@kvarnholm.example", "made-up-password"

#: Milliseconds from the wish to the painting that follows the frame's arrival.
TIMED = """async (frames) => {
  const { stage } = window.norvik;
  const began = performance.now();
  await (frames.step ? stage.step(frames.step) : stage.goto(frames.to));
  await new Promise(requestAnimationFrame);
  return performance.now() - began;
}"""

#: Milliseconds from the key to the painting of the rope with one more mark and the new numbers.
MARKED = """async (event) => {
  const began = performance.now();
  const replaced = new Promise((resolve) => {
    const parent = document.getElementById("rope").parentElement;
    new MutationObserver((_, self) => { self.disconnect(); resolve(); })
      .observe(parent, { childList: true, subtree: true });
  });
  document.body.dispatchEvent(new KeyboardEvent("keydown", { key: event, bubbles: true }));
  await replaced;
  await new Promise(requestAnimationFrame);
  // A message sent in the last callback before a painting arrives after it.
  await new Promise((resolve) => {
    const channel = new MessageChannel();
    channel.port1.onmessage = resolve;
    channel.port2.postMessage(0);
  });
  return performance.now() - began;
}"""


def run(room: Path, source: Path) -> None:
    settings = Settings(room / "data")
    clip_id = _fill(settings, source)
    with running(settings) as address, chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        sign_in(page, address, EMAIL, PASSWORD)
        weight = _open(page, f"{address}/clips/{clip_id}/")
        _steps_and_jumps(page)
        _marks(page)
    line("weight of the bench page without the clip", f"{weight / 1000:.0f} kB", "under 400 kB")


def _fill(settings: Settings, source: Path) -> int:
    settings.prepare()
    migrate(settings.database)
    with connected(settings.database) as connection:
        coach = users.add(connection, EMAIL, "Coach", "coach", hash_password(PASSWORD))
        swimmer = swimmers.add(connection, Swimmer("Tilde Vassholm"))
        facts = Facts(swimmer, filmed_on=date.today().isoformat())
        with source.open("rb") as stream:
            clip_id, job_id = receive(settings, connection, stream, source.name, facts)
        run_job(settings, job_id)
        base = clips.time_base(connection, clips.by_id(connection, clip_id))
        for m in schedule(Swim(cycle_s=1.4, seed=2), 10).marks(0, base.duration_s):
            frame = base.frame_nearest(m.time_s)
            marks.place(connection, clip_id, coach, frame, m.lane, m.side, m.event)
        count = len(marks.of_clip(connection, clip_id))
    line("  clip in the browser", f"2,400 frames of 1280x720, {count} marks", "")
    return clip_id


def _open(page: Page, address: str) -> int:
    """Open the bench; gives the bytes of everything but the film."""
    weights: list[int] = []

    def weigh(request: Request) -> None:
        if not request.url.endswith("film.mp4"):
            weights.append(request.sizes()["responseBodySize"])

    page.on("requestfinished", weigh)
    page.goto(address)
    page.wait_for_selector('#bench[data-ready="true"]')
    page.remove_listener("requestfinished", weigh)
    return sum(weights)


def _steps_and_jumps(page: Page) -> None:
    rng = random.Random(5)
    last = page.evaluate("() => window.norvik.stage.last")
    page.wait_for_timeout(1500)
    steps, jumps, wrong = [], [], 0

    def check() -> int:
        shown = page.evaluate(READ_NUMBER, 1280)
        return int(shown != page.evaluate("() => window.norvik.stage.shown"))

    page.evaluate(TIMED, {"to": 600})
    for n in range(200):
        # A finger makes up to a dozen steps a second; it turns round every twentieth step.
        page.wait_for_timeout(80)
        steps.append(page.evaluate(TIMED, {"step": -1 if n // 20 % 2 else 1}))
        wrong += check()
    for _ in range(200):
        jumps.append(page.evaluate(TIMED, {"to": rng.randint(0, last)}))
        wrong += check()
    line("step to painted frame", percentiles(steps), "p95 under 50")
    line("random jump to painted frame", percentiles(jumps), "p95 under 90")
    line("frames that were not the one counted", f"{wrong} of {len(steps) + len(jumps)}", "0")


def _marks(page: Page) -> None:
    times = []
    for n in range(60):
        page.evaluate(TIMED, {"to": 40 + 37 * n})
        times.append(page.evaluate(MARKED, "kae"[n % 3]))
    line("mark saved, rope and numbers redrawn", percentiles(times), "p95 under 80")
