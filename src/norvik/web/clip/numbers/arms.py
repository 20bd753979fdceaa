"""The phases of each arm as a bar."""

from __future__ import annotations

from norvik.web.clip.numbers.parts import ArmShares, Share, Writer
from norvik.web.clip.rope import LETTERS
from norvik.web.shared.filters import plus_minus


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
