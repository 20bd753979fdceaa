"""Steps, jumps and marks in headless Chromium, and what the bench weighs."""

from __future__ import annotations

import random
from datetime import date
from pathlib import Path

from playwright.sync_api import Page, Request
from tests.browser.serving import READ_NUMBER, chromium, running, sign_in
from tests.clips import numbered_clip
from tests.footage.odd_files import irregular

from bench.figures import line, percentiles
from bench.people import EMAIL, PASSWORD, add_coach
from norvik.intake.receive import receive
from norvik.jobs.runner import run_through
from norvik.model.schedule import Swim, schedule
from norvik.settings import Settings
from norvik.store import clips, marks, swimmers
from norvik.store.clips import Facts
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer

JUMPS = 1000
MARKS = 500

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


#: As on plain http at an address in the local network: no decoding by the page itself.
PLAIN = "delete window.VideoDecoder"


def run(room: Path, source: Path) -> None:
    settings = Settings(room / "data")
    clip_id = _fill(settings, source)
    variable = _add_variable(settings, room)
    marked = _add_marked(settings, room)
    with running(settings) as address, chromium() as browser:
        for name, goals, script in (
            ("decoding in the page", ("p95 under 17", "p95 under 60"), None),
            ("film elements", ("p95 under 50", "p95 under 90"), PLAIN),
        ):
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            if script:
                page.add_init_script(script)
            sign_in(page, address, EMAIL, PASSWORD)
            weight = _open(page, f"{address}/clips/{clip_id}/")
            decoding = page.evaluate("() => window.norvik.stage.decoder !== null")
            assert decoding == (script is None), "the page does not show frames as it should"
            _steps_and_jumps(page, name, goals)
            if script is None:
                _open(page, f"{address}/clips/{marked}/")
                _marks(page)
            _open(page, f"{address}/clips/{variable}/")
            _jumps_in_variable(page, name)
            if script is None:
                _beats(page, address)
            page.close()
    line("weight of the bench page without the clip", f"{weight / 1000:.0f} kB", "under 400 kB")


def _add_variable(settings: Settings, room: Path) -> int:
    """A phone's clip with uneven frame times, whose frames carry their numbers."""
    path = numbered_clip(room / "variable.mp4", irregular(900), options={"g": "250", "bf": "3"})
    with connected(settings.database) as connection, path.open("rb") as stream:
        clip_id, job_id = receive(settings, connection, stream, path.name, Facts(1))
    run_through(settings, job_id)
    return clip_id


def _fill(settings: Settings, source: Path) -> int:
    add_coach(settings)
    with connected(settings.database) as connection:
        swimmer = swimmers.add(connection, Swimmer("Tilde Vassholm"))
        facts = Facts(swimmer, filmed_on=date.today().isoformat())
        with source.open("rb") as stream:
            clip_id, job_id = receive(settings, connection, stream, source.name, facts)
        run_through(settings, job_id)
    line("  clip in the browser", "2,400 frames of 1280x720", "")
    return clip_id


def _add_marked(settings: Settings, room: Path) -> int:
    """A length of 40 s with all marks of a fast swimmer: MARKS of them."""
    path = numbered_clip(room / "marked.mp4", [n / 60 for n in range(2400)])
    with connected(settings.database) as connection:
        with path.open("rb") as stream:
            clip_id, job_id = receive(settings, connection, stream, path.name, Facts(1))
        run_through(settings, job_id)
        base = clips.time_base(connection, clips.by_id(connection, clip_id))
        found = schedule(Swim(cycle_s=0.95, seed=2), 40).marks(0, base.duration_s)[:MARKS]
        for m in found:
            frame = base.frame_nearest(m.time_s)
            marks.place(connection, clip_id, None, frame, m.lane, m.side, m.event)
        assert len(marks.of_clip(connection, clip_id)) == MARKS, "too few marks for the figure"
    return clip_id


def _open(page: Page, address: str) -> int:
    """Open the bench; gives the bytes of all but what belongs to the clip: film, strip, packets."""
    weights: list[int] = []

    def weigh(request: Request) -> None:
        if "/recordings/" not in request.url:
            weights.append(request.sizes()["responseBodySize"])

    page.on("requestfinished", weigh)
    page.goto(address)
    page.wait_for_selector('#bench[data-ready="true"]')
    page.remove_listener("requestfinished", weigh)
    return sum(weights)


def _beats(page: Page, address: str) -> None:
    """Beats of the rhythm aid that came too late to be heard."""
    page.goto(f"{address}/swimmers/1/rhythm")
    page.wait_for_selector('#rhythm[data-ready="true"]')
    page.get_by_role("button", name="Start").click()
    page.wait_for_timeout(10_000)
    late, all_of_them = page.evaluate("() => [norvik.beats.late, norvik.beats.next]")
    line("  beats too late to be heard, in 10 s", f"{late} of {all_of_them}", "0")


def _wrong(page: Page, width: int) -> int:
    """1 when the number in the picture is not the frame that is counted."""
    shown = page.evaluate(READ_NUMBER, width)
    return int(shown != page.evaluate("() => window.norvik.stage.shown"))


def _jumps_in_variable(page: Page, name: str) -> None:
    rng = random.Random(6)
    last = page.evaluate("() => window.norvik.stage.last")
    wrong = 0
    for _ in range(JUMPS):
        page.evaluate(TIMED, {"to": rng.randint(0, last)})
        wrong += _wrong(page, 640)
    line(f"  wrong frames, variable rate, {name}", f"{wrong} of {JUMPS} jumps", "0")


def _steps_and_jumps(page: Page, name: str, goals: tuple[str, str]) -> None:
    rng = random.Random(5)
    last = page.evaluate("() => window.norvik.stage.last")
    page.wait_for_timeout(1500)
    steps, jumps, wrong = [], [], 0

    def check() -> int:
        return _wrong(page, 1280)

    page.evaluate(TIMED, {"to": 600})
    for n in range(200):
        # A finger makes up to a dozen steps a second; it turns round every twentieth step.
        page.wait_for_timeout(80)
        steps.append(page.evaluate(TIMED, {"step": -1 if n // 20 % 2 else 1}))
        wrong += check()
    for _ in range(JUMPS):
        jumps.append(page.evaluate(TIMED, {"to": rng.randint(0, last)}))
        wrong += check()
    line(f"step to painted frame, {name}", percentiles(steps), goals[0])
    line(f"random jump to painted frame, {name}", percentiles(jumps), goals[1])
    line(f"  wrong frames, constant rate, {name}", f"{wrong} of {len(steps) + len(jumps)}", "0")


def _marks(page: Page) -> None:
    times = []
    for n in range(60):
        page.evaluate(TIMED, {"to": 41 + 37 * n})
        # Nobody sees a frame and presses a key within this time; the page uses it for itself.
        page.wait_for_timeout(250)
        times.append(page.evaluate(MARKED, "kae"[n % 3]))
    line(f"mark saved and redrawn, {MARKS} marks", percentiles(times), "p95 under 60")
