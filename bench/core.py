"""How long the core takes for all quantities of a clip."""

from __future__ import annotations

import time

from bench.figures import line, percentiles
from norvik.core.time.compute import compute_timing
from norvik.model.schedule import Swim, schedule


def run() -> None:
    marks = schedule(Swim(seed=2), 95).marks(0, 95)[:1000]
    times = []
    for _ in range(60):
        began = time.perf_counter()
        compute_timing(marks, "freestyle", 1 / 60)
        times.append(1000 * (time.perf_counter() - began))
    line(f"all quantities of {len(marks):,} events", percentiles(times), "")
