"""Which encoder settings: size and making of the review copy against the time of a jump.

Not part of `make bench`: run it with `python -m bench.encoder` when the settings are in question.
The table in docs/footage.md comes from here.
"""

from __future__ import annotations

import random
import tempfile
import time
from pathlib import Path

import numpy as np
from tests.browser.serving import chromium, running, sign_in
from tests.clips import numbered_clip

from bench.browser import PLAIN, TIMED
from bench.people import EMAIL, PASSWORD, add_coach
from norvik.footage import pieces, review_copy
from norvik.intake.receive import receive
from norvik.jobs.runner import run_through
from norvik.settings import Settings
from norvik.store import swimmers
from norvik.store.clips import Facts
from norvik.store.connection import connected
from norvik.store.swimmers import Swimmer

#: Preset, frames from key frame to key frame, constant rate factor.
TRIED = (
    ("ultrafast", 8, 22), ("superfast", 1, 22), ("superfast", 4, 22), ("superfast", 8, 22),
    ("superfast", 16, 22), ("superfast", 8, 26), ("veryfast", 8, 22),
)  # fmt: skip
_SECONDS, _RATE, _JUMPS = 5, 240, 200


def main() -> None:
    print("preset      keys  crf   making s   MB   jump p95 ms: decoding  elements")
    with tempfile.TemporaryDirectory() as folder:
        source = numbered_clip(
            Path(folder) / "source.mp4",
            [n / _RATE for n in range(_SECONDS * _RATE)],
            size=(1280, 720),
            options={"preset": "veryfast", "g": "250", "bf": "3"},
            busy=True,
        )
        for n, (preset, every, crf) in enumerate(TRIED):
            settings = Settings(Path(folder) / f"data-{n}")
            made_s, size_mb = _make(settings, source, preset, every, crf)
            jumps = _jumps(settings)
            print(
                f"{preset:<11} {every:>4} {crf:>4} {made_s:>10.1f} {size_mb:>5.1f} "
                f"{jumps[0]:>21.0f} {jumps[1]:>9.0f}",
                flush=True,
            )


def _make(
    settings: Settings, source: Path, preset: str, every: int, crf: int
) -> tuple[float, float]:
    pieces.ENCODER.update(preset=preset, crf=str(crf), g=str(every), keyint_min=str(every))
    pieces.KEY_EVERY = review_copy.KEY_EVERY = every
    coach = add_coach(settings)
    with connected(settings.database) as connection, source.open("rb") as stream:
        facts = Facts(swimmers.add(connection, Swimmer("Tilde Vassholm")))
        _, job_id = receive(settings, connection, stream, source.name, facts, created_by=coach)
    began = time.perf_counter()
    run_through(settings, job_id)
    return time.perf_counter() - began, (settings.copies / "1.mp4").stat().st_size / 1e6


def _jumps(settings: Settings) -> list[float]:
    found = []
    with running(settings) as address, chromium() as browser:
        for script in (None, PLAIN):
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            if script:
                page.add_init_script(script)
            sign_in(page, address, EMAIL, PASSWORD)
            page.goto(f"{address}/clips/1/")
            page.wait_for_selector('#bench[data-ready="true"]')
            page.wait_for_timeout(1500)
            rng = random.Random(5)
            last = page.evaluate("() => window.norvik.stage.last")
            times = [page.evaluate(TIMED, {"to": rng.randint(0, last)}) for _ in range(_JUMPS)]
            found.append(float(np.percentile(times, 95)))
            page.close()
    return found


if __name__ == "__main__":
    main()
