"""Shares and seconds of the phases, by both schemes, and how alike the sides are."""

from __future__ import annotations

from norvik.core.strokes import Phase
from norvik.web.clip.numbers.parts import ArmShares, Number, Share, Writer
from norvik.web.clip.rope import LETTERS
from norvik.web.shared.filters import plus_minus

_NAMES4 = {"entry_catch": "Entry and catch", "pull": "Pull", "push": "Push",
           "recovery": "Recovery"}  # fmt: skip
_LEGS = {"heels": "Heels rise", "kick": "Kick", "glide": "Legs glide"}


def arms(w: Writer) -> list[ArmShares]:
    found = []
    for side in w.resolved.stroke.arms:
        shares = [
            Share(name, LETTERS.get(name, ""), p.share_pct, p.mean_s, plus_minus(p.u_s, 3))
            for name, p in w.timing.phases[side].items()
            if p is not None and p.share_pct is not None
        ]
        starts = [c.start for c in w.resolved.cycles if c.side == side and c.start]
        found.append(ArmShares(side, tuple(shares), len(starts), w.of_marks(starts)))
    return found


def phases(w: Writer) -> list[Number]:
    rules, cycles = w.resolved.stroke, w.resolved.cycles
    rows = [w.phase(p.name.capitalize(), "phases.both", p, cycles) for p in rules.phases]
    four = [p for p in rules.phases4 if w.timing.phases4 is not None]
    if any(w.timing.phases4["both"][p.name] for p in four if w.timing.phases4):
        rows += [w.phase(f"{_NAMES4[p.name]} (of 4)", "phases4.both", p, cycles) for p in four]
    legs = rules.leg_phases if w.timing.legs is not None else ()
    rows += [w.phase(_LEGS[p.name], "legs", p, w.resolved.leg_slots) for p in legs]
    found = [n for n in rows if n is not None]
    if not found:
        return [Number("Phases", "–", reason="no whole cycle has two events of a phase marked")]
    return found + _symmetry(w, rules.phases)


def _symmetry(w: Writer, names: tuple[Phase, ...]) -> list[Number]:
    """Right against left; a plus says that the right one is longer."""
    table = w.timing.symmetry_pct
    if table is None or all(value is None for value in table.values()):
        return []
    return [
        w.one(f"{p.name.capitalize()}, right to left", f"symmetry_pct.{p.name}", table[p.name], "%",
              1, frames=w.cycles())
        for p in names
        if table[p.name] is not None
    ]  # fmt: skip
