"""How the two arms work together: hand-overs, hand-to-hand rhythm, front-quadrant timing.

For freestyle and backstroke; in the other strokes both arms move together.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from norvik.core.statistics import mean
from norvik.core.strokes.names import DIRECTIONS, Side
from norvik.core.time.reasons import Reasons
from norvik.core.time.resolve import OrderedMark, ResolvedMarks, Slot

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
    """Front-quadrant timing.

    share_pct: entries at which the other hand has not passed its shoulder. lead_pct: by how much it
    was ahead of that, in percent of the mean cycle time (negative ones included).
    """

    share_pct: float | None = None
    lead_pct: float | None = None


@dataclass(frozen=True, slots=True)
class HandOver:
    """One hand-over: `seconds` is the exit of one arm minus the press of the other."""

    release: OrderedMark
    press: OrderedMark

    @property
    def seconds(self) -> float:
        return self.release.time_s - self.press.time_s


def hand_over_end(resolved: ResolvedMarks) -> str:
    """The event at which an arm is done driving: the exit, or the end of the push.

    In backstroke the hand clears the water after its push; where the end of the push is marked on
    either arm it counts (Chollet, Seifert and Carter 2008, recalled), else the exit.
    """
    pushed = any(resolved.marks_of("push-end", arm) for arm in resolved.stroke.arms)
    return "push-end" if pushed else resolved.stroke.release


def hand_overs(resolved: ResolvedMarks, from_side: Side, to_side: Side) -> list[HandOver]:
    """Each exit of one arm (see `hand_over_end`) with the nearest press of the other.

    Both lie on the same side of a wall and less than half the mean cycle time apart; a hand-over
    across a missing entry is left out.
    """
    cycle_s = resolved.mean_cycle_s
    if cycle_s is None:
        return []
    presses: dict[int, list[OrderedMark]] = {}
    for p in resolved.marks_of("press", to_side):
        presses.setdefault(p.length, []).append(p)
    times = {length: [p.time_s for p in here] for length, here in presses.items()}
    found = []
    for release in resolved.marks_of(hand_over_end(resolved), from_side):
        here, at_s = presses.get(release.length), release.time_s
        if not here:
            continue
        after = bisect_left(times[release.length], at_s)
        press = min(here[max(0, after - 1) : after + 1], key=lambda p: abs(p.time_s - at_s))
        apart = press.time_s - at_s
        if abs(apart) >= cycle_s / 2:
            continue
        if not resolved.gap_between(min(at_s, press.time_s), max(at_s, press.time_s)):
            found.append(HandOver(release, press))
    return found


def nearest(placed: Sequence[OrderedMark], time_s: float) -> OrderedMark | None:
    """The mark nearest to an instant; of two equally near ones the earlier. In time order."""
    after = bisect_left(placed, time_s, key=lambda p: p.time_s)
    around = placed[max(0, after - 1) : after + 1]
    return min(around, key=lambda p: abs(p.time_s - time_s)) if around else None


def coordination_of(resolved: ResolvedMarks, reasons: Reasons) -> Coordination:
    """The coordination index: mean over each direction, then mean of the two directions.

    Worked: T 1.60 s; right press 0.50, exit 1.10; left exit 0.30, next press 1.30: -12.5 %.
    """
    directions: dict[str, float | None] = {}
    for source, target in DIRECTIONS:
        directions[source] = mean([h.seconds for h in hand_overs(resolved, source, target)])
        if directions[source] is None:
            why = f"no {source} hand exit with a {target} pull near it"
            reasons.missing(f"coordination.{source}_to_{target}_s", why)
    left, right, cycle_s = directions["left"], directions["right"], resolved.mean_cycle_s
    if left is None or right is None or not cycle_s:
        reasons.missing(
            ("coordination.index_pct", "coordination.model"),
            "needs exit and pull of both arms",
        )
        return Coordination(None, left, right, None)
    index = 100 * (left + right) / 2 / cycle_s
    return Coordination(index, left, right, model_of(index))


def model_of(index_pct: float) -> str:
    """The name of a hand-over. Names: Chollet et al. 2000; the band around 0 is our own."""
    if index_pct < -OPPOSITION_PCT:
        return "catch-up"
    return "superposition" if index_pct > OPPOSITION_PCT else "opposition"


def hand_steps(resolved: ResolvedMarks) -> dict[str, list[tuple[OrderedMark, OrderedMark]]]:
    """Pairs of entries of the two arms that directly follow each other, by the side of the first.

    No wall and no missing entry lies between the two.
    """
    steps: dict[str, list[tuple[OrderedMark, OrderedMark]]] = {"left": [], "right": []}
    for a, b in pairwise(resolved.openings()):
        straight = a.length == b.length and a.mark.side != b.mark.side
        if straight and not resolved.gap_between(a.time_s, b.time_s):
            steps[a.mark.side].append((a, b))
    return steps


def rhythm_pct(resolved: ResolvedMarks, reasons: Reasons) -> float | None:
    """Hand-to-hand rhythm: 100 (a - b) / (a + b), a left to right, b right to left; 0 is even."""
    steps = hand_steps(resolved)
    left, right = (mean([b.time_s - a.time_s for a, b in steps[s]]) for s in ("left", "right"))
    if left is None or right is None or left + right == 0:
        reasons.missing("rhythm_pct", "needs hand entries of both arms in turn")
        return None
    return 100 * (left - right) / (left + right)


def _opened(slot: Slot) -> int:
    return slot.start.order if slot.start else -1


def front_quadrant_leads(resolved: ResolvedMarks) -> list[tuple[OrderedMark, OrderedMark]]:
    """Each entry of one hand with the pass of the other hand under its shoulder in that cycle."""
    leads: list[tuple[OrderedMark, OrderedMark]] = []
    begun: dict[str, list[Slot]] = {side: [] for side in resolved.stroke.arms}
    for slot in resolved.slots:
        if slot.start is not None:
            begun[slot.side].append(slot)
    for entry in resolved.openings():
        other = begun["left" if entry.mark.side == "right" else "right"]
        place = bisect_left(other, entry.order, key=_opened)
        current = other[place - 1] if place else None
        if current is None or current.length != entry.length or current.kind == "gap":
            continue
        shoulder, release = current.inner.get("shoulder"), current.inner.get("exit")
        if shoulder and release:
            leads.append((entry, shoulder))
    return leads


def front_quadrant_of(resolved: ResolvedMarks, reasons: Reasons) -> FrontQuadrant:
    """At each entry of one hand: is the other hand still ahead of its shoulder?"""
    cycle_s = resolved.mean_cycle_s
    leads = [shoulder.time_s - entry.time_s for entry, shoulder in front_quadrant_leads(resolved)]
    if not leads or not cycle_s:
        why = "needs “under the shoulder” and exit of the other arm at a hand entry"
        reasons.missing(("front_quadrant.share_pct", "front_quadrant.lead_pct"), why)
        return FrontQuadrant()
    ahead = sum(lead > 0 for lead in leads)
    lead_pct = 100 * sum(leads) / len(leads) / cycle_s
    return FrontQuadrant(100 * ahead / len(leads), lead_pct)
