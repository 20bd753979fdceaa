"""Cycle time, rate, and how much cycles differ."""

from __future__ import annotations

import math

import numpy as np

from norvik.core.time.certainty.gradients import Gradients, Term, ends_of
from norvik.core.time.cycles import marking_noise
from norvik.core.time.plus_minus import Own


def terms(g: Gradients, u_mark_s: float) -> dict[str, Term]:
    """u_mark_s: standard uncertainty of a mark that opens a cycle."""
    if g.cycle is None or not g.cycle_s:
        return {}
    rate, own = g.timing.rate, g.own_cycle
    found = {"cycles.time_s.mean": Term(g.cycle, own)}
    for name, per_min in (
        ("cycles_per_min", rate.cycles_per_min),
        ("strokes_per_min", rate.strokes_per_min),
    ):
        slope = -(per_min or 0.0) / g.cycle_s
        found[f"rate.{name}"] = Term(slope * g.cycle, own.times(slope) if own else None)
    return {**found, **_spread(g, u_mark_s)}


def _spread(g: Gradients, u_mark_s: float) -> dict[str, Term]:
    """Of the spread as it is marked, which marking makes larger, and of the swimmer's own."""
    time_s, cycles, own = g.timing.cycles.time_s, g.resolved.cycles, None
    if time_s.sd is None or time_s.own_sd is None or not g.cycle_s:
        return {}
    if g.cycles_of_rhythm > 1:
        # Of a standard deviation: s / sqrt(2 dof), for normal values.
        dof = g.cycles_of_rhythm - 1
        own = Own(time_s.own_sd / math.sqrt(2 * dof), dof)
    found: dict[str, Term] = {}
    pct = 100 / g.cycle_s
    if time_s.sd > 0 and time_s.cv_pct is not None:
        away = np.array([c.seconds - g.cycle_s for c in cycles]) / ((len(cycles) - 1) * time_s.sd)
        orders = np.array([(a.order, b.order) for a, b in map(ends_of, cycles)])
        sd = g.at(orders, np.column_stack((-away, away)))
        cv = g.of_cycle_pct(sd, time_s.cv_pct)
        bias = time_s.sd - time_s.own_sd
        assert cv is not None
        found["cycles.time_s.sd"] = Term(sd, own, bias)
        found["cycles.time_s.cv_pct"] = Term(cv, own.times(pct) if own else None, pct * bias)
    # How far the square may be off says how far its root may.
    square = time_s.own_sd**2
    far = 2 * marking_noise(g.resolved, u_mark_s).unsure(square)
    up = math.sqrt(square + far) - time_s.own_sd
    down = time_s.own_sd - math.sqrt(max(0.0, square - far))
    alone = max(up, down) / 2
    still = np.zeros(g.n)
    found["cycles.time_s.own_sd"] = Term(still, own, alone)
    found["cycles.time_s.own_cv_pct"] = Term(still, own.times(pct) if own else None, pct * alone)
    return found
