"""What is said in words beside the numbers: the breathing pattern, a pause of the legs."""

from __future__ import annotations

from norvik.web.clip.numbers.parts import Number, Writer
from norvik.web.shared.filters import number


def breathing_pattern(w: Writer) -> list[Number]:
    found, breaths = w.timing.breathing, w.resolved.breaths
    if not breaths:
        return [Number("Breathing", "–", reason=w.timing.reasons["breathing.pattern"])]
    airs = w.of_marks(b.air for b in breaths)
    pattern = found.pattern or []
    if pattern:
        value = str(pattern[0]) if len(set(pattern)) == 1 else ", ".join(map(str, pattern))
        note = {True: "regular", False: "changes", None: ""}[found.regular]
        return [Number("Breath every", value, "strokes", "", note, airs)]
    if w.resolved.stroke.alternating:
        reason = w.timing.reasons.get("breathing.pattern", "")
        return [Number("Breath every", "–", "strokes", reason=reason)]
    if found.breaths_per_cycle is None:
        return [w.one("Breaths per cycle", "breathing.breaths_per_cycle", None, "")]
    return [Number("Breaths per cycle", number(found.breaths_per_cycle, 2), "", "", "", airs)]


def pause_on_breath(w: Writer) -> list[Number]:
    found = w.timing.kick
    if found is None or found.beats_per_min is None:
        return []
    if found.pause_on_breath is None:
        return [w.one("Kick on the breath", "kick.pause_on_breath", None, "")]
    airs = w.of_marks(b.air for b in w.resolved.breaths)
    says = "the legs pause" if found.pause_on_breath else "the legs keep kicking"
    return [Number("Kick on the breath", says, frames=airs)]
