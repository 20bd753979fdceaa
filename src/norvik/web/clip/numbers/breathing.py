"""How often, to which side and how long the swimmer breathes."""

from __future__ import annotations

from norvik.core.time.breathing import head_leads, returns
from norvik.web.clip.numbers.parts import Number, Writer
from norvik.web.shared.filters import number


def breathing(w: Writer) -> list[Number]:
    found, breaths = w.timing.breathing, w.resolved.breaths
    if not breaths:
        return [Number("Breathing", "–", reason=w.timing.reasons["breathing.pattern"])]
    airs = w.of_marks(b.air for b in breaths)
    sides = ", ".join(f"{n} {side}" for side, n in (found.sides or {}).items() if n)
    downs = w.of_marks(b.air for b in breaths if b.down)
    numbers = [
        _how_often(w, airs),
        w.one("Air to face in", "breathing.duration_s", found.duration_s, "s", 2, note=sides,
              frames=airs),
        w.one("of the cycle", "breathing.share_of_cycle_pct", found.share_of_cycle_pct, "%", 1,
              note=f"n {len(downs)}", frames=downs),
    ]  # fmt: skip
    if w.timing.stroke == "freestyle":
        back, leads = returns(w.resolved), head_leads(w.resolved)
        numbers += [
            w.one("Face in before the hand", "breathing.return_s", found.return_s, "s", 2,
                  note=f"n {len(back)}", frames=w.of_marks(a for a, _ in back)),
            w.one("Head ahead of the arm", "breathing.head_lead_s", found.head_lead_s, "s", 2,
                  note=f"n {len(leads)}", frames=w.of_marks(a for a, _ in leads)),
        ]  # fmt: skip
    if w.timing.stroke == "butterfly":
        numbers.append(
            w.one("Breaths in the push", "breathing.in_push_share_pct", found.in_push_share_pct,
                  "%", 0, frames=airs, counted=True)
        )  # fmt: skip
    exhales = w.resolved.exhales
    numbers.append(
        w.one("Breathing out under water", "breathing.exhale_share_pct", found.exhale_share_pct,
              "%", 0, note=f"n {len(exhales)}", frames=w.frames(e.from_s for e in exhales))
    )  # fmt: skip
    return numbers


def _how_often(w: Writer, airs: tuple[int, ...]) -> Number:
    found = w.timing.breathing
    pattern = found.pattern or []
    if pattern:
        value = str(pattern[0]) if len(set(pattern)) == 1 else ", ".join(map(str, pattern))
        note = {True: "regular", False: "changes", None: ""}[found.regular]
        return Number("Every", value, "strokes", "", note, airs)
    if w.resolved.stroke.alternating:
        reason = w.timing.reasons.get("breathing.pattern", "")
        return Number("Every", "–", "strokes", reason=reason)
    if found.breaths_per_cycle is None:
        return w.one("Breaths", "breathing.breaths_per_cycle", None, "a cycle")
    return Number("Breaths", number(found.breaths_per_cycle, 2), "a cycle", "", "", airs)
