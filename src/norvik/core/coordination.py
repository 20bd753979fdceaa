"""How the two arms work together: hand-overs, hand-to-hand rhythm, front-quadrant timing.

For freestyle and backstroke; in the other strokes both arms move together.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from norvik.core.reasons import Reasons
from norvik.core.settle import Placed, Settled, Slot
from norvik.core.statistics import mean

#: Own choice: within this band around 0 % the hand-over is called opposition.
OPPOSITION_PCT = 2.0


@dataclass(frozen=True, slots=True)
class Coordination:
    """index_pct: negative is a gap, positive an overlap; in percent of the mean cycle time.

    left_to_right_s: exit of the left minus press of the right, mean seconds.
    model: "catch-up", "opposition" or "superposition".
    Source: Chollet, Chalies and Chatard 2000, Int J Sports Med 21:54-59.
    """

    index_pct: float | None = None
    left_to_right_s: float | None = None
    right_to_left_s: float | None = None
    model: str | None = None


@dataclass(frozen=True, slots=True)
class FrontQuadrant:
    """share_pct: entries at which the other hand has not passed its shoulder. lead_pct: by how

    much it was ahead of that, in percent of the mean cycle time (negative ones included).
    """

    share_pct: float | None = None
    lead_pct: float | None = None


@dataclass(frozen=True, slots=True)
class HandOver:
    """One hand-over: `seconds` is the exit of one arm minus the press of the other."""

    release: Placed
    press: Placed

    @property
    def seconds(self) -> float:
        return self.release.time_s - self.press.time_s


def hand_over_end(settled: Settled) -> str:
    """The event at which an arm is done driving: the exit, or the end of the push.

    In backstroke the hand clears the water after its push; where the end of the push is marked on
    either arm it counts (Chollet, Seifert and Carter 2008, recalled), else the exit.
    """
    pushed = any(settled.marks_of("push-end", arm) for arm in settled.stroke.arms)
    return "push-end" if pushed else settled.stroke.release


def hand_overs(settled: Settled, from_side: str, to_side: str) -> list[HandOver]:
    """Each exit of one arm (see `hand_over_end`) with the nearest press of the other.

    Both lie on the same side of a wall and less than half the mean cycle time apart; a hand-over
    across a missing entry is left out.
    """
    cycle_s = settled.mean_cycle_s
    if cycle_s is None:
        return []
    presses: dict[int, list[Placed]] = {}
    for p in settled.marks_of("press", to_side):
        presses.setdefault(p.length, []).append(p)
    times = {length: [p.time_s for p in here] for length, here in presses.items()}
    found = []
    for release in settled.marks_of(hand_over_end(settled), from_side):
        here, at_s = presses.get(release.length), release.time_s
        if not here:
            continue
        after = bisect_left(times[release.length], at_s)
        press = min(here[max(0, after - 1) : after + 1], key=lambda p: abs(p.time_s - at_s))
        apart = press.time_s - at_s
        if abs(apart) >= cycle_s / 2:
            continue
        if not settled.gap_between(min(at_s, press.time_s), max(at_s, press.time_s)):
            found.append(HandOver(release, press))
    return found


def nearest(placed: Sequence[Placed], time_s: float) -> Placed | None:
    """The mark nearest to an instant; of two equally near ones the earlier. In time order."""
    after = bisect_left(placed, time_s, key=lambda p: p.time_s)
    around = placed[max(0, after - 1) : after + 1]
    return min(around, key=lambda p: abs(p.time_s - time_s)) if around else None


def coordination_of(settled: Settled, reasons: Reasons) -> Coordination:
    """The coordination index: mean over each direction, then mean of the two directions.

    Worked: T 1.60 s; right press 0.50, exit 1.10; left exit 0.30, next press 1.30: -12.5 %.
    """
    directions: dict[str, float | None] = {}
    for source, target in (("left", "right"), ("right", "left")):
        directions[source] = mean([h.seconds for h in hand_overs(settled, source, target)])
        if directions[source] is None:
            why = f"no {source} exit with a {target} press near it"
            reasons.missing(f"coordination.{source}_to_{target}_s", why)
    left, right, cycle_s = directions["left"], directions["right"], settled.mean_cycle_s
    if left is None or right is None or not cycle_s:
        reasons.missing(
            ("coordination.index_pct", "coordination.model"),
            "needs hand-overs in both directions",
        )
        return Coordination(None, left, right, None)
    index = 100 * (left + right) / 2 / cycle_s
    return Coordination(index, left, right, model_of(index))


def model_of(index_pct: float) -> str:
    """The name of a hand-over. Names: Chollet et al. 2000; the band around 0 is our own."""
    if index_pct < -OPPOSITION_PCT:
        return "catch-up"
    return "superposition" if index_pct > OPPOSITION_PCT else "opposition"


def hand_steps(settled: Settled) -> dict[str, list[tuple[Placed, Placed]]]:
    """Pairs of entries of the two arms that directly follow each other, by the side of the first.

    No wall and no missing entry lies between the two.
    """
    steps: dict[str, list[tuple[Placed, Placed]]] = {"left": [], "right": []}
    for a, b in pairwise(settled.openings()):
        straight = a.length == b.length and a.mark.side != b.mark.side
        if straight and not settled.gap_between(a.time_s, b.time_s):
            steps[a.mark.side].append((a, b))
    return steps


def rhythm_pct(settled: Settled, reasons: Reasons) -> float | None:
    """Hand-to-hand rhythm: 100 (a - b) / (a + b), a left to right, b right to left; 0 is even."""
    steps = hand_steps(settled)
    left, right = (mean([b.time_s - a.time_s for a, b in steps[s]]) for s in ("left", "right"))
    if left is None or right is None or left + right == 0:
        reasons.missing("rhythm_pct", "needs entries of both arms in turn")
        return None
    return 100 * (left - right) / (left + right)


def _opened(slot: Slot) -> int:
    return slot.start.order if slot.start else -1


def front_quadrant_leads(settled: Settled) -> list[tuple[Placed, Placed]]:
    """Each entry of one hand with the pass of the other hand under its shoulder in that cycle."""
    leads: list[tuple[Placed, Placed]] = []
    begun: dict[str, list[Slot]] = {side: [] for side in settled.stroke.arms}
    for slot in settled.slots:
        if slot.start is not None:
            begun[slot.side].append(slot)
    for entry in settled.openings():
        other = begun["left" if entry.mark.side == "right" else "right"]
        place = bisect_left(other, entry.order, key=_opened)
        current = other[place - 1] if place else None
        if current is None or current.length != entry.length or current.kind == "gap":
            continue
        shoulder, release = current.inner.get("shoulder"), current.inner.get("exit")
        if shoulder and release:
            leads.append((entry, shoulder))
    return leads


def front_quadrant_of(settled: Settled, reasons: Reasons) -> FrontQuadrant:
    """At each entry of one hand: is the other hand still ahead of its shoulder?"""
    cycle_s = settled.mean_cycle_s
    leads = [shoulder.time_s - entry.time_s for entry, shoulder in front_quadrant_leads(settled)]
    if not leads or not cycle_s:
        why = "needs shoulder and exit of the other arm at an entry"
        reasons.missing(("front_quadrant.share_pct", "front_quadrant.lead_pct"), why)
        return FrontQuadrant()
    ahead = sum(lead > 0 for lead in leads)
    lead_pct = 100 * sum(leads) / len(leads) / cycle_s
    return FrontQuadrant(100 * ahead / len(leads), lead_pct)
