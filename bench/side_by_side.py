"""Two films of 240 frames a second held in step in headless Chromium: steps, jumps, wrong pairs."""

from __future__ import annotations

import random
from itertools import pairwise
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
STEPS, JUMPS, PLAY_S = 200, 1000, 60
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
    page.evaluate("() => window.norvik.player.stop()")
    # Every phase of the loop is played again and again: 60 s at a quarter are 15 s of swimming.
    page.keyboard.press("l")
    apart = page.evaluate(PLAYED, PLAY_S)
    late = sum(a > 1 for a in apart)
    line(
        f"  playing {PLAY_S} s at a quarter: more than a frame off", f"{late} of {len(apart)}", "0"
    )
    line("  memory of the page", f"{_memory_mb():.0f} MB", "under 900")
    off = _off_phase(page)
    line("  farthest from the phase asked for, in frame intervals", f"{off:.3f}", "0.5")


def _memory_mb() -> float:
    """Resident memory of the largest page process of Chromium, with what it shares, in MB."""
    found = [0]
    for status in Path("/proc").glob("[0-9]*/status"):
        try:
            if "--type=renderer" in (status.parent / "cmdline").read_text():
                rows = dict(r.split(":", 1) for r in status.read_text().splitlines() if ":" in r)
                found.append(int(rows["VmRSS"].split()[0]))
        except (OSError, KeyError):
            continue
    return max(found) / 1000


def _off_phase(page: Page) -> float:
    """How far each second frame lies from the share of its phase that the first frame has, at most.

    Worked out from the marked frames alone, and not by what paired them.
    """
    state = page.evaluate("() => JSON.parse(document.getElementById('beside-state').textContent)")
    second = state["others"][0]
    worst = 0.0
    for mine, theirs in zip(state["cycles"], second["cycles"], strict=False):
        there = {event: frame for event, _, frame, _ in theirs[:-1]}
        ends = [(frame, there[event]) for event, _, frame, _ in mine[:-1] if event in there]
        ends.append((mine[-1][2], theirs[-1][2]))
        for (a, x), (b, y) in pairwise(ends):
            for frame in range(a, b):
                wanted = x + (y - x) * (frame - a) / (b - a)
                worst = max(worst, abs(second["frames"][frame - state["first"]] - wanted))
    return worst
