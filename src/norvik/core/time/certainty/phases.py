"""Phases of the arm cycle and of the breaststroke kick, and how alike left and right are."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from norvik.core.strokes import Phase
from norvik.core.strokes.names import Side
from norvik.core.time.certainty.gradients import Gradients, Term, ends_of, mean_s, seconds_of
from norvik.core.time.legs import leg_pairs
from norvik.core.time.own_spread import of_arms, of_values
from norvik.core.time.phases import phase_ends
from norvik.core.time.plus_minus import Own, joint


def terms(g: Gradients) -> dict[str, Term]:
    found: dict[str, Term] = {}
    rules, timing = g.resolved.stroke, g.timing
    tables = [("phases", rules.phases, timing.phases)]
    if timing.phases4 is not None:
        tables.append(("phases4", rules.phases4, timing.phases4))
    for name, phases, table in tables:
        for phase in phases:
            means: dict[str, Term] = {}
            for side, (mean, share) in _phase(g, phase).items():
                if table[side][phase.name] is not None:
                    found[f"{name}.{side}.{phase.name}.mean_s"] = means[side] = mean
                    found[f"{name}.{side}.{phase.name}.share_pct"] = share
            if name == "phases" and timing.symmetry_pct is not None:
                uneven = _symmetry(g, phase.name, means)
                if uneven is not None:
                    found[f"symmetry_pct.{phase.name}"] = uneven
    return found


def legs(g: Gradients) -> dict[str, Term]:
    """The leg phases of breaststroke."""
    found: dict[str, Term] = {}
    if g.timing.legs is None:
        return found
    for phase in g.resolved.stroke.leg_phases:
        pairs, row = leg_pairs(g.resolved, phase), g.timing.legs[phase.name]
        mean = g.mean(pairs)
        if mean is None:
            continue
        own = of_values([seconds_of(p) for p in pairs])
        found[f"legs.{phase.name}.mean_s"] = Term(mean, own)
        share = row.share_pct if row else None
        if share is None or not g.cycle_s:
            continue
        of_cycle = g.of_cycle_pct(mean, 100 * mean_s(pairs) / g.cycle_s)
        if of_cycle is not None:
            own_pct = own.times(100 / g.cycle_s) if own else None
            found[f"legs.{phase.name}.share_pct"] = Term(of_cycle, own_pct)
    return found


def _phase(g: Gradients, phase: Phase) -> dict[str, tuple[Term, Term]]:
    """By side: of the mean seconds, and of the mean of each cycle's own share in percent."""
    opens = g.resolved.stroke.opens
    sides, orders, parts, wholes, when = [], [], [], [], []
    for cycle in g.resolved.cycles:
        ends = phase_ends(cycle, phase, opens)
        if ends is not None:
            start, end = ends_of(cycle)
            sides.append(cycle.side)
            orders.append((ends[0].order, ends[1].order, start.order, end.order))
            parts.append(ends[1].time_s - ends[0].time_s)
            wholes.append(cycle.seconds)
            when.append(cycle.middle_s)
    found: dict[str, tuple[Term, Term]] = {}
    if not sides:
        return found
    side, where = np.array(sides), np.array(orders, dtype=np.intp)
    part, whole = np.array(parts), np.array(wholes)
    # A share is part / whole: its ends move the part, the cycle's ends move the whole.
    pull = part / whole**2
    moves = np.column_stack((-1 / whole, 1 / whole, pull, -pull))
    ones = np.broadcast_to([-1.0, 1.0], (len(sides), 2))
    shares = 100 * part / whole
    middle = np.array(when)
    for name in ("left", "right", "both"):
        of_it = np.ones(len(sides), bool) if name == "both" else side == name
        n = int(of_it.sum())
        if n:
            arms = {arm: np.flatnonzero(of_it & (side == arm)) for arm in dict.fromkeys(sides)}
            found[name] = (
                Term(g.at(where[of_it, :2], ones[of_it]) / n, _own(arms, middle, part)),
                Term(100 * g.at(where[of_it], moves[of_it]) / n, _own(arms, middle, shares)),
            )
    return found


def _own(
    arms: dict[Side, NDArray[np.intp]], when: NDArray[np.float64], values: NDArray[np.float64]
) -> Own | None:
    """arms: where the values of each arm stand."""
    there = [at for at in arms.values() if at.size]
    if len(there) == 1:
        return of_values(values[there[0]].tolist())
    return of_arms(
        {arm: list(zip(when[at].tolist(), values[at].tolist(), strict=True))
         for arm, at in arms.items()}
    )  # fmt: skip


def _symmetry(g: Gradients, name: str, means: dict[str, Term]) -> Term | None:
    left, right = (g.timing.phases[side][name] for side in ("left", "right"))
    l_term, r_term = means.get("left"), means.get("right")
    if left is None or right is None or l_term is None or r_term is None:
        return None
    both = left.mean_s + right.mean_s
    if not both:
        return None
    by_left, by_right = -400 * right.mean_s / both**2, 400 * left.mean_s / both**2
    own = None
    if l_term.own is not None and r_term.own is not None:
        own = joint([l_term.own.times(by_left), r_term.own.times(by_right)])
    return Term(by_left * l_term.gradient + by_right * r_term.gradient, own)
