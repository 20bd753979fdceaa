"""Following a point, dragging a handle, and stepping over many drawings."""

from __future__ import annotations

import json
import random
import time
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
from playwright.sync_api import Page
from tests.browser.serving import chromium, running, sign_in

from bench import bare_points
from bench.browser import TIMED
from bench.figures import line, percentiles
from bench.people import EMAIL, PASSWORD, add_coach
from norvik.core.frame.geometry import Point
from norvik.footage.follow import follow, grey_frames
from norvik.intake.receive import receive
from norvik.jobs.runner import run_through
from norvik.model.dials import usual_swim
from norvik.model.film import Take, film
from norvik.settings import Settings
from norvik.store import drawings, swimmers
from norvik.store.clips import Facts
from norvik.store.connection import connected
from norvik.store.drawings import StoredDrawing
from norvik.store.swimmers import Swimmer

FPS = 60
FOLLOWED = 300
DRAWINGS = 300
DRAGS = 55

#: A drag through all places; milliseconds of each from the pointer's move to the painting with the
#: value of the new place.
DRAGGED = """async (drags) => {
  const middle = (n) => {
    const handle = overlay.querySelector(`circle.handle[data-point="${n}"]`);
    const { x, y, width, height } = handle.getBoundingClientRect();
    return [x + width / 2, y + height / 2];
  };
  const overlay = document.getElementById("overlay");
  overlay.setPointerCapture = () => {};
  const tell = (target, type, clientX, clientY) =>
    target.dispatchEvent(new PointerEvent(type, { bubbles: true, clientX, clientY, pointerId: 1 }));
  const handle = overlay.querySelector('circle.handle[data-point="2"]');
  const box = handle.getBoundingClientRect();
  tell(handle, "pointerdown", box.x + box.width / 2, box.y + box.height / 2);
  const took = [];
  const [[ax, ay], [cx, cy]] = [middle(0), middle(1)];
  const leg = Math.atan2(ay - cy, ax - cx);
  let last;
  for (let n = 0; n < drags; n += 1) {
    // Three degrees further every time, from 10 on: each value is another one.
    const turn = leg + ((10 + 3 * n) * Math.PI) / 180;
    const [x, y] = (last = [cx + 110 * Math.cos(turn), cy + 110 * Math.sin(turn)]);
    const before = overlay.querySelector("text").textContent;
    const began = performance.now();
    tell(overlay, "pointermove", x, y);
    while (overlay.querySelector("text")?.textContent === before) {
      await new Promise((resolve) => setTimeout(resolve, 0));
    }
    await new Promise(requestAnimationFrame);
    took.push(performance.now() - began);
  }
  tell(overlay, "pointerup", ...last);
  return took;
}"""


def run(room: Path) -> None:
    path = room / "dots.mp4"
    film(Take(usual_swim("freestyle", 42, 4), seconds=6, fps=FPS, dots=True), path)
    _following(path)
    bare_points.run(room)
    _in_the_browser(room, path)


def _following(path: Path) -> None:
    """Decoding and following together, the best of three, as the plain loop has it."""
    truth = json.loads(path.with_suffix(".truth.json").read_text())["joints_px"]["right_elbow"]
    begin = 20
    x, y = truth[begin]
    ours, bare = [], []
    for _ in range(3):
        at = time.perf_counter()
        frames = grey_frames(path, Fraction(FPS), begin, begin + FOLLOWED)
        steps = list(follow(frames, x, y, 1 / FPS))
        ours.append(len(steps) / (time.perf_counter() - at))
        at = time.perf_counter()
        count = _bare(path, begin, x, y)
        bare.append(count / (time.perf_counter() - at))
    line("following one point at 1280x720", f"{max(ours):.0f} frames/s", "at least 120")
    line("  against a plain loop of OpenCV", f"{max(ours) / max(bare):.2f}", "at least 0.8")


def _bare(path: Path, begin: int, x: float, y: float) -> int:
    """Decode to grey, follow by Lucas-Kanade on whole frames there and back; nothing else."""
    at = np.array([[[x, y]]], np.float32)
    before = None
    count = 0
    with av.open(str(path)) as container:
        container.streams.video[0].thread_type = "AUTO"
        for n, frame in enumerate(container.decode(video=0)):
            if n < begin or n > begin + FOLLOWED:
                continue
            grey = frame.to_ndarray(format="gray")
            if before is not None:
                there, _, _ = cv2.calcOpticalFlowPyrLK(
                    before, grey, at, np.zeros_like(at), winSize=(21, 21), maxLevel=3
                )
                cv2.calcOpticalFlowPyrLK(
                    grey, before, there, np.zeros_like(at), winSize=(21, 21), maxLevel=3
                )
                at = np.asarray(there, np.float32)
                count += 1
            before = grey
    return count


def _in_the_browser(room: Path, path: Path) -> None:
    settings = Settings(room / "drawing")
    add_coach(settings)
    with connected(settings.database) as connection:
        swimmer = swimmers.add(connection, Swimmer("Tilde Vassholm"))
        with path.open("rb") as stream:
            clip, job = receive(settings, connection, stream, path.name, Facts(swimmer))
    run_through(settings, job)
    with running(settings) as address, chromium() as browser:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        sign_in(page, address, EMAIL, PASSWORD)
        _open(page, f"{address}/clips/{clip}/?frame=20")
        plain = _steps(page)
        _fill(settings, clip)
        _open(page, f"{address}/clips/{clip}/?frame=20")
        page.keyboard.press("Shift+M")
        full = _steps(page)
        line(
            f"step with {DRAWINGS} drawings in the clip",
            f"{percentiles(full)}; without {percentiles(plain)}", "no slower",
        )  # fmt: skip
        _open(page, f"{address}/clips/{clip}/?frame=20")
        page.keyboard.press("Shift+M")
        page.wait_for_selector('circle.handle[data-point="2"]')
        took = page.evaluate(DRAGGED, DRAGS)
        line("handle dragged to its value redrawn", percentiles(took), "p95 under 50")


def _open(page: Page, address: str) -> None:
    page.goto(address)
    page.wait_for_selector('#bench[data-ready="true"]')


def _steps(page: Page) -> list[float]:
    return [page.evaluate(TIMED, {"step": 1}) for _ in range(150)]


def _fill(settings: Settings, clip: int) -> None:
    """An elbow angle on the first frame, and drawings on every second one."""
    rng = random.Random(1)
    with connected(settings.database) as connection:
        for n in range(DRAWINGS):
            points = tuple(Point(rng.uniform(400, 900), rng.uniform(200, 500)) for _ in range(3))
            kind, name = ("measure", "elbow-angle") if n % 2 == 0 else ("curve", "")
            frame = 20 + n
            drawings.add(
                connection, clip, None,
                StoredDrawing(0, kind, name, "", frame, frame, frame, points),
            )  # fmt: skip
