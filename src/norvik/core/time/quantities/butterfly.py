"""Breath, head and kicks against the arms in butterfly."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from norvik.core.strokes.names import StrokeName
from norvik.core.time.butterfly_gaps import fly_gap_pairs
from norvik.core.time.quantities.quantity import (
    Interval,
    Occurrence,
    Quantity,
    Reading,
    counted_each,
    counts_of_rhythm,
    from_timing,
    mean_interval,
    near_arm_event,
    share_of_counts,
    starts_of_cycles,
)
from norvik.core.time.timing import Timing

_FLY: tuple[StrokeName, ...] = ("butterfly",)
#: Gap: its name and what it is. Names T1 to T4 as in the literature on the stroke.
_GAPS = {
    "t1": ("First kick starts after hand entry (T1)",
           "Feet at the top minus hand entry; above 0 where the kick is later."),
    "t2": ("First kick ends after the pull starts (T2)", "End of the down-kick minus the pull."),
    "t3": ("Second kick starts after the hands pass the shoulders (T3)",
           "Feet at the top minus the hands under the shoulders."),
    "t4": ("Second kick ends after hand exit (T4)", "End of the down-kick minus hand exit."),
}  # fmt: skip


def _pairs(name: str) -> Callable[[Timing], list[Interval]]:
    return lambda timing: fly_gap_pairs(timing.resolved, name)


def _of_cycle(path: str) -> Callable[[Timing], str]:
    def note(timing: Timing) -> str:
        pct = from_timing(timing, path)
        return "" if pct is None else f"{pct:.0f} % of the cycle".replace("-", "−")

    return note


def _landings(timing: Timing) -> list[Interval]:
    """Face back in and the hands landing after that breath, less than half a cycle apart."""
    resolved, cycle_s = timing.resolved, timing.resolved.mean_cycle_s
    found = []
    for b in resolved.breaths:
        landing = next(
            (p for p in resolved.openings() if p.order > b.air.order and p.length == b.air.length),
            None,
        )
        if b.down is None or landing is None or not cycle_s:
            continue
        if abs(landing.time_s - b.down.time_s) < cycle_s / 2:
            found.append((b.down, landing))
    return found


def _breaths(timing: Timing) -> Reading | None:
    per_cycle = timing.breathing.breaths_per_cycle
    if timing.stroke != "butterfly" or per_cycle is None or timing.cycles.count < 3:
        return None
    airs = [Occurrence(b.air.time_s, per_cycle) for b in timing.resolved.breaths]
    cycles = timing.cycles.count
    hits = round(per_cycle * cycles)
    if hits > cycles:
        return Reading(per_cycle, 0.0, tuple(airs))
    return replace(share_of_counts(hits, cycles, airs, 1), value=per_cycle)


def _kicks(timing: Timing) -> Reading | None:
    per_cycle = timing.kick.beats_per_cycle if timing.kick else None
    if timing.stroke != "butterfly" or per_cycle is None:
        return None
    starts = [Occurrence(p.time_s, per_cycle) for p in starts_of_cycles(timing)]
    return counted_each(per_cycle, starts, counts_of_rhythm(timing))


#: Own choice: a kick that far from the hands leaving, in shares of the cycle, is not theirs.
_WITH_THE_EXIT = 0.15


def _out_kick(timing: Timing) -> Reading | None:
    """Share of cycles with a kick as the hands finish, among those that the marked kicks cover."""
    resolved, cycle_s = timing.resolved, timing.resolved.mean_cycle_s
    if timing.stroke != "butterfly" or not cycle_s or len(resolved.beats) < 3:
        return None
    beats = resolved.beats
    found = []
    for cycle in resolved.cycles:
        leaves = cycle.inner.get("exit")
        if leaves is None or not cycle.start or not cycle.end:
            continue
        here = [b for b in beats if b.length == leaves.length]
        if not here or here[0].time_s > cycle.end.time_s or here[-1].time_s < cycle.start.time_s:
            continue
        near = min(abs(b.time_s - leaves.time_s) for b in here)
        found.append(Occurrence(leaves.time_s, float(near <= _WITH_THE_EXIT * cycle_s)))
    if len(found) < 3:
        return None
    return share_of_counts(sum(o.value > 0 for o in found), len(found), found, 1)


BUTTERFLY = (
    *(
        mean_interval(
            f"fly-{gap}-seconds", name, _pairs(gap), topic="coordination", strokes=_FLY,
            definition=definition, path=f"fly_gaps.{gap}_s", note=_of_cycle(f"fly_gaps.{gap}_pct"),
            compared=False,
        )
        for gap, (name, definition) in _GAPS.items()
    ),
    *(
        mean_interval(
            f"fly-{gap}", f"{name}, share of the cycle", _pairs(gap), of_cycle=True, digits=1,
            strokes=_FLY, definition=definition, path=f"fly_gaps.{gap}_pct", with_speed=True,
        )
        for gap, (name, definition) in _GAPS.items()
    ),
    mean_interval(
        "fly-breath", "Mouth out after hand exit, share of the cycle", near_arm_event("exit"),
        of_cycle=True, strokes=_FLY,
        definition="Mouth out of the water minus hand exit; above 0 the hands have left already.",
    ),
    mean_interval(
        "fly-head-return", "Face back in before hand entry, share of the cycle", _landings,
        of_cycle=True, look_at="start", strokes=_FLY,
        definition="Hand entry minus face back in; below 0 where the head is later.",
    ),
    Quantity(
        "fly-breaths", "Breaths per stroke", "", 1, _breaths,
        "Breaths over whole cycles.", strokes=_FLY, counted=True,
    ),
    Quantity(
        "fly-out-kick", "Strokes with a kick at the finish", "", 2, _out_kick,
        "Share of cycles with a kick as the hands leave the water.", strokes=_FLY, counted=True,
    ),
    Quantity(
        "fly-beats", "Kicks per stroke", "", 1, _kicks,
        "Down-kicks in one cycle of the arms.", strokes=_FLY, counted=True,
    ),
)  # fmt: skip
