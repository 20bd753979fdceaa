"""Two films of 240 frames a second held in step in headless Chromium: steps, jumps, wrong pairs."""

from __future__ import annotations

import random
from pathlib import Path

from playwright.sync_api import Page
from tests.browser.serving import READ_NUMBER, chromium, running, sign_in
from tests.clips import numbered_clip

from bench.figures import line, percentiles
from bench.people import EMAIL, PASSWORD, add_coach
from norvik.intake.receive import receive
from norvik.jobs.runner import run_through
from norvik.model.dials import usual_swim
from norvik.model.schedule import schedule
from norvik.settings import Settings
from norvik.store import marks, swimmers
from norvik.store.clips import Facts
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer

SECONDS, RATE, SIZE = 8, 240, (1280, 720)
STEPS, JUMPS = 200, 500
#: Milliseconds from the wish to the painting after both frames have arrived.
TIMED = """async (wish) => {
  const { stage, other } = window.norvik;
  const began = performance.now();
  await (wish.step ? stage.step(wish.step) : stage.goto(wish.to));
  await other.settled();
  await new Promise(requestAnimationFrame);
  return performance.now() - began;
}"""
#: The largest distance from step, in frames of the second film, and how often it was looked at.
PLAYED = """async (seconds) => {
  const { stage, other, pairOf, player } = window.norvik;
  stage.setSpeed(0.25);
  const apart = [];
  const began = performance.now();
  player.toggle();
  while (performance.now() - began < 1000 * seconds) {
    await new Promise(requestAnimationFrame);
    apart.push(Math.abs(other.shown - pairOf(stage.shown)));
  }
  player.toggle();
  return apart;
}"""
_SECOND = READ_NUMBER.replace("window.norvik.stage", "window.norvik.other")


def run(room: Path) -> None:
    settings = Settings(room / "beside")
    coach = add_coach(settings)
    with connected(settings.database) as connection:
        swimmer = swimmers.add(connection, Swimmer("Swimmer 1"))
        for n, (per_min, day) in enumerate(((32, "2026-10-20"), (41, "2026-11-20"))):
            film = numbered_clip(
                room / f"beside-{n}.mp4", [k / RATE for k in range(SECONDS * RATE + n)], SIZE
            )
            with film.open("rb") as stream:
                clip, job = receive(settings, connection, stream, film.name,
                                    Facts(swimmer, filmed_on=day), stretch=1)  # fmt: skip
            run_through(settings, job)
            for m in schedule(usual_swim("freestyle", per_min, n), SECONDS).marks(0, SECONDS - 0.1):
                marks.place(
                    connection, clip, coach, round(m.time_s * RATE), m.lane, m.side, m.event
                )
    with running(settings) as address, chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        sign_in(page, address, EMAIL, PASSWORD)
        page.goto(f"{address}/clips/2/beside/")
        page.wait_for_selector('#beside[data-ready="true"]')
        _measure(page)


def _measure(page: Page) -> None:
    last = SECONDS * RATE
    times = [page.evaluate(TIMED, {"step": 1}) for _ in range(STEPS)]
    line("side by side: a step to both painted", percentiles(times), "p95 under 34")
    chance = random.Random(3)
    times, wrong = [], 0
    for _ in range(JUMPS):
        frame = chance.randint(0, last)
        times.append(page.evaluate(TIMED, {"to": frame}))
        wanted = page.evaluate("(n) => window.norvik.pairOf(n)", frame)
        seen = page.evaluate(READ_NUMBER, SIZE[0]), page.evaluate(_SECOND, SIZE[0])
        wrong += seen != (frame, wanted)
    line("  a random jump to both", percentiles(times), "p95 under 90")
    line("  wrong pairs", f"{wrong} of {JUMPS}", "0")
    page.evaluate("() => window.norvik.stage.goto(0)")
    apart = page.evaluate(PLAYED, 25)
    late = sum(a > 1 for a in apart)
    line("  playing at a quarter: more than a frame off", f"{late} of {len(apart)}", "0")
