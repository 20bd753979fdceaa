"""Percentiles and how a figure is printed beside what it should reach."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np


def percentiles(values: Sequence[float]) -> str:
    p50, p95, most = np.percentile(values, [50, 95, 100])
    return f"p50 {p50:6.1f}   p95 {p95:6.1f}   max {most:6.1f}   n {len(values)}"


def line(name: str, value: str, goal: str) -> None:
    print(f"{name:<44} {value:<58} {goal}", flush=True)
