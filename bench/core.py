"""How long the core takes for all quantities of a clip."""

from __future__ import annotations

import time

from bench.figures import line, percentiles
from norvik.catalogue import load
from norvik.core.followup.change import compare
from norvik.core.followup.comparable import values_in_time
from norvik.core.judging.findings import find
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
    tables, times = load("freestyle").for_level("improver"), []
    for _ in range(60):
        began = time.perf_counter()
        timing = compute_timing(marks, "freestyle", 1 / 60)
        dict(timing.certainty)
        find(timing, (), tables, "improver", {})
        times.append(1000 * (time.perf_counter() - began))
    line(
        f"both plus-minus and judging of {len(marks):,} events", percentiles(times), "p95 under 25"
    )
    known = values_in_time(timing, tables, {})
    times = []
    for _ in range(60):
        began = time.perf_counter()
        compare(known, known)
        times.append(1000 * (time.perf_counter() - began))
    line("what changed, once both clips are known", percentiles(times), "")
