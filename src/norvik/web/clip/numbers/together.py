"""How the arms, and in breaststroke arms and legs, work together."""

from __future__ import annotations

from norvik.core.time.butterfly_gaps import fly_gap_pairs
from norvik.core.time.coordination import (
    front_quadrant_leads,
    hand_over_end,
    hand_overs,
    hand_steps,
)
from norvik.core.time.legs import GAP_EVENTS, gap_pairs
from norvik.web.clip.numbers.parts import Number, Writer

_FLY = {"t1": "First kick starts, after entry (T1)",
        "t2": "First kick ends, after pull starts (T2)",
        "t3": "Second kick starts, after shoulders (T3)",
        "t4": "Second kick ends, after exit (T4)"}  # fmt: skip
_GAPS = {"t1": "Glide: out after close (T1b)", "t2": "Heels after shoot (T2)",
         "t3": "Kick after long (T3)"}  # fmt: skip


def together(w: Writer) -> list[Number]:
    if w.timing.gaps is not None:
        return _gaps(w)
    if w.timing.fly_gaps is not None:
        return _fly_gaps(w)
    coordination = w.timing.coordination
    if coordination is None:
        return []
    overs = {
        (a, b): hand_overs(w.resolved, a, b) for a, b in (("left", "right"), ("right", "left"))
    }
    everywhere = w.of_marks(h.release for found in overs.values() for h in found)
    found = [
        w.one("Hand-over", "coordination.index_pct", coordination.index_pct, "%", 1,
              note=_model(w, coordination.model or ""), frames=everywhere)
    ]  # fmt: skip
    for (a, b), value in zip(
        overs, (coordination.left_to_right_s, coordination.right_to_left_s), strict=True
    ):
        kind = "" if value is None else ("gap" if value < 0 else "overlap")
        at = w.of_marks(h.release for h in overs[a, b])
        found.append(
            w.one(f"{a} to {b}", f"coordination.{a}_to_{b}_s", value, "s", 2, note=kind, frames=at,
                  signed=False)
        )  # fmt: skip
    steps = hand_steps(w.resolved)
    found.append(
        w.one("Off even", "rhythm_pct", w.timing.rhythm_pct, "%", 1,
              note=_late(w.timing.rhythm_pct),
              frames=w.of_marks(b for pairs in steps.values() for _, b in pairs), signed=False)
    )  # fmt: skip
    front = w.timing.front_quadrant
    if front is not None and front.lead_pct is not None:
        at = w.of_marks(entry for entry, _ in front_quadrant_leads(w.resolved))
        found += [
            w.one("Front quadrant", "front_quadrant.share_pct", front.share_pct, "% of entries", 0,
                  frames=at, counted=True),
            w.one("ahead by", "front_quadrant.lead_pct", front.lead_pct, "%", 1, frames=at),
        ]  # fmt: skip
    return found


def _model(w: Writer, model: str) -> str:
    """The name of the hand-over; in backstroke also the event that it is counted to.

    Published values of backstroke end at the end of the push: the exit comes later, after the hand
    has cleared, and makes the index 5 to 15 points higher.
    """
    if w.resolved.stroke.name != "backstroke" or not model:
        return model
    pushed = hand_over_end(w.resolved) == "push-end"
    return model if pushed else f"{model}, to the exit"


def _late(rhythm_pct: float | None) -> str:
    """Which hand comes late: a positive rhythm means long from left to right."""
    if not rhythm_pct:
        return ""
    return "right late" if rhythm_pct > 0 else "left late"


def _fly_gaps(w: Writer) -> list[Number]:
    found = []
    for key, name in _FLY.items():
        value = getattr(w.timing.fly_gaps, f"{key}_s")
        pct = getattr(w.timing.fly_gaps, f"{key}_pct")
        note = "" if pct is None else f"{pct:.0f} % of the cycle".replace("-", "−")
        at = w.of_marks(leg for _, leg in fly_gap_pairs(w.resolved, key))
        found.append(w.one(name, f"fly_gaps.{key}_s", value, "s", 2, note=note, frames=at))
    return found


def _gaps(w: Writer) -> list[Number]:
    found = []
    for key in GAP_EVENTS:
        value = getattr(w.timing.gaps, f"{key}_s")
        pct = getattr(w.timing.gaps, f"{key}_pct")
        note = "" if pct is None else f"{pct:.0f} % of the cycle".replace("-", "−")
        at = w.of_marks(b for _, b in gap_pairs(w.resolved, key))
        found.append(w.one(_GAPS[key], f"gaps.{key}_s", value, "s", 2, note=note, frames=at))
    return found
