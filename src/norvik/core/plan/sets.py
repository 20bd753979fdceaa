"""A session's technique block: sets in whole lengths that add up exactly."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from norvik.core.breath_holding import asks_for_breath_holding
from norvik.core.errors import PlanError
from norvik.core.pool import Pool
from norvik.core.tables import Drill, Fault

#: Own choice: the block's share of a session, and its metres.
LEAST_SHARE, USUAL_SHARE, MOST_SHARE = 0.10, 0.15, 0.20
LEAST_METRES, MOST_METRES = 200, 800
#: Own choice: how the block is shared between the drills and the swim-off.
_WEIGHTS = {"prepare": 2, "main": 3, "whole": 2}
_SWIM_OFF = 3
#: Own choice: seconds of rest after each repeat, by effort.
REST_S = {1: 15, 2: 15, 3: 20, 4: 40, 5: 60, 6: 90}
#: Places of sets that the coach added are counted from here.
ADDED = 100
#: Under-water work has full rest (common practice; seconds own).
FULL_REST_S = 60


@dataclass(frozen=True, slots=True)
class Set:
    """repeats x lengths, with seconds of rest after each. drill: None for a swim-off.

    place: of its drill in the block, by which the coach fixes its repeats; None for a swim-off.
    fault: the focus it works on. keeps: an earlier focus that is kept alive. fixed: by the coach.
    added: by the coach, beside what is prescribed; its place is counted from ADDED.
    """

    fault: str
    name: str
    repeats: int
    lengths: int
    rest_s: int
    effort: int
    cue: str
    kit: tuple[str, ...] = ()
    note: str = ""
    drill: str | None = None
    place: int | None = None
    keeps: bool = False
    fixed: bool = False
    added: bool = False

    @property
    def total(self) -> int:
        """Lengths of the whole set."""
        return self.repeats * self.lengths


@dataclass(frozen=True, slots=True)
class Work:
    """A focus with its drills in the order of a session, and efforts by the swimmer's school."""

    fault: Fault
    drills: tuple[Drill, ...]
    effort: Callable[[Drill], int]

    @property
    def in_water(self) -> list[Drill]:
        return [d for d in self.drills if d.in_lengths]

    @property
    def on_the_spot(self) -> list[Drill]:
        """Drills without lengths: on land, or standing in the water."""
        return [d for d in self.drills if not d.in_lengths]


def block_lengths(session_lengths: int, pool: Pool) -> int:
    """Lengths of the technique block: 10 to 20 % of the session, at least 200 and at most 800 m.

    The 200 m win over the 20 % in a short session. An even number, so that it ends where it
    began, wherever the limits allow.
    """
    least = _least(session_lengths, pool)
    most = min(math.floor(MOST_METRES / pool.metres), math.floor(MOST_SHARE * session_lengths))
    most = max(most, least)
    wanted = min(most, max(least, round(USUAL_SHARE * session_lengths)))
    if wanted % 2:
        wanted += 1 if wanted < most else -1 if wanted > least else 0
    return wanted


@lru_cache(maxsize=256)
def _least(session_lengths: int, pool: Pool) -> int:
    of_it = math.ceil(LEAST_SHARE * session_lengths - 1e-9)
    return max(math.ceil(LEAST_METRES / pool.metres), of_it)


def fitting(lengths: int, session_lengths: int, pool: Pool, work: Work) -> int:
    """A block no longer than its drills can fill together with as much swimming after them."""
    most = sum(
        d.repeats[1] * (2 if d.per_side else 1) * pool.lengths_near(d.metres or 25)
        for d in work.in_water
    )
    return max(_least(session_lengths, pool), min(lengths, 2 * most)) if most else lengths


def block(
    lengths: int,
    pool: Pool,
    work: Work,
    week: int,
    keep: Work | None = None,
    fixed: Mapping[int, int] | None = None,
    added: Sequence[tuple[int, Drill, int]] = (),
) -> list[Set]:
    """The sets of a block of so many lengths, which they fill exactly.

    week: of this focus, from 0: doses grow from their low to their high end. keep: an earlier
    focus that gets one set. fixed: place of a set to the repeats that the coach set; the rest is
    shared out anew. added: (place, drill, repeats) of sets beside those that are prescribed. Raises
    PlanError where that leaves nothing for the swim-off.
    """
    fixed = fixed or {}
    places = _places(pool, work, keep)
    _refuse_breath_holding([d for d, *_ in places] + [d for _, d, _ in added])
    extra = [
        replace(_set(drill, work, repeats, pool.lengths_near(drill.metres or 25), pool),
                place=place, fixed=True, added=True)
        for place, drill, repeats in added
    ]  # fmt: skip
    in_all, lengths = lengths, lengths - total(extra)
    shares = [weight for _, _, _, weight in places]
    whole = sum(shares) + _SWIM_OFF
    made: list[Set] = []
    left = lengths
    for n, (drill, owner, each, weight) in enumerate(places):
        if n in fixed:
            repeats = fixed[n]
        else:
            repeats = _repeats(drill, each, lengths * weight / whole, week)
            # Every later set and the swim-off still need something.
            while repeats and left - repeats * each < 1:
                repeats -= 2 if drill.per_side else 1
            repeats = max(0, repeats)
        if repeats < 1:
            continue
        made.append(
            replace(
                _set(drill, owner, repeats, each, pool),
                place=n,
                keeps=owner is not work,
                fixed=n in fixed,
            )
        )
        left -= repeats * each
    if left < 1:
        raise PlanError(
            f"The sets that you fixed fill more than the {pool.says(in_all)} {pool.unit} of "
            "technique. Take some repeats away; the swim-off needs a length, too."
        )
    return [*made, *extra, _swim_off(work, left, pool)]


def _places(pool: Pool, work: Work, keep: Work | None) -> list[tuple[Drill, Work, int, int]]:
    """Drill, its focus, lengths of a repeat and weight, in the order of the block."""
    found = [(d, work, pool.lengths_near(d.metres or 25), _WEIGHTS[d.slot]) for d in work.in_water]
    if keep is not None and keep.in_water:
        main = next((d for d in keep.in_water if d.slot == "main"), keep.in_water[0])
        found.insert(0, (main, keep, pool.lengths_near(main.metres or 25), 2))
    return found


def _refuse_breath_holding(drills: Sequence[Drill]) -> None:
    for drill in drills:
        if words := _asks(*drill.texts):
            raise PlanError(
                f"“{drill.name}” asks for breath-holding ({words}), which can kill. "
                "Change the drill before planning with it."
            )


@lru_cache(maxsize=1024)
def _asks(*texts: str) -> str:
    return asks_for_breath_holding(texts)


def _repeats(drill: Drill, each: int, share: float, week: int) -> int:
    """Repeats within the dose and the share of the block; in pairs where each side has its own."""
    low, high = drill.repeats
    dose = min(high, low + round((high - low) * min(week, 2) / 2))
    if drill.per_side:
        dose *= 2
    fits = int(share / each + 0.5)
    repeats = max(1, min(dose, fits))
    if drill.per_side:
        repeats = max(2, repeats - repeats % 2)
    return repeats


def _set(drill: Drill, owner: Work, repeats: int, each: int, pool: Pool) -> Set:
    effort = owner.effort(drill)
    rest = drill.rest_s or REST_S[effort]
    if "under-water" in drill.tags and drill.effort > 1:
        rest = max(rest, FULL_REST_S)
    wanted = drill.metres or 25
    if each * pool.metres > 1.5 * wanted:
        note = f"{wanted} m of each length as the drill, then swim on to the wall"
    elif drill.per_side:
        note = f"{repeats // 2} each side"
    else:
        note = ""
    return Set(owner.fault.id, drill.name, repeats, each, max(rest, REST_S[effort]), effort,
               drill.cue, drill.kit, note, drill.id)  # fmt: skip


def _swim_off(work: Work, lengths: int, pool: Pool) -> Set:
    """The whole stroke, thinking of the one point; repeats near 50 m where the lengths allow."""
    each = next((n for n in (pool.lengths_near(50), 2, 1) if lengths % n == 0 and n <= lengths), 1)
    return Set(work.fault.id, "Swim, thinking of the one point", lengths // each, each,
               REST_S[2], 2, work.fault.cue)  # fmt: skip


def total(sets: Sequence[Set]) -> int:
    """Lengths of all sets."""
    return sum(s.total for s in sets)
