"""Beats of the legs at the surface."""

from __future__ import annotations

from norvik.core.time.kick import surface_gaps
from norvik.web.clip.numbers.parts import Number, Writer

_BEATS = {2: "two-beat", 4: "four-beat", 6: "six-beat"}


def kick(w: Writer) -> list[Number]:
    found = w.timing.kick
    if found is None:
        return []
    gaps = surface_gaps(w.resolved)
    if not gaps:
        return [w.one("Kick", "kick.beats_per_min", None, "")]
    beats = w.of_marks([gaps[0][0], *(b for _, b in gaps)])
    longest = max(gaps, key=lambda gap: gap[1].time_s - gap[0].time_s)
    per_cycle = found.beats_per_cycle
    name = _BEATS.get(round(per_cycle), "") if per_cycle and abs(per_cycle % 1 - 0.5) > 0.3 else ""
    numbers = [
        w.one("Beats a cycle", "kick.beats_per_cycle", per_cycle, "", 1, note=name, frames=beats,
              counted=True),
        w.one("a minute", "kick.beats_per_min", found.beats_per_min, "beats/min", 0,
              note=f"n {len(gaps)}", frames=beats),
        w.one("Longest gap", "kick.longest_gap_s", found.longest_gap_s, "s", 2,
              frames=w.of_marks(longest)),
    ]  # fmt: skip
    if w.resolved.stroke.alternating:
        pull = w.one("an arm pull", "kick.beats_per_pull", found.beats_per_pull, "", 1,
                     frames=beats, counted=True)  # fmt: skip
        numbers.insert(1, pull)
    if found.pause_on_breath is None:
        numbers.append(w.one("On the breath", "kick.pause_on_breath", None, ""))
    else:
        airs = w.of_marks(b.air for b in w.resolved.breaths)
        says = "the legs pause" if found.pause_on_breath else "the legs go on"
        numbers.append(Number("On the breath", says, frames=airs))
    return numbers
